import { onDemo } from '../e2e/on-demo';
import { openCrowd } from './drag';
import type { Finding } from './finding';
import { brief, median } from './median';
import { ScriptTime } from './script-time';

/**
 * Milliseconds of script on the interface's thread for one edit of a level of 5,000 things and 1,500 chains: from the key to the
 * picture, the saved draft and the refreshed snags. The peer is what the page does by itself in the same time.
 */
export async function edit(): Promise<Finding> {
  return onDemo(async (page, address) => {
    await openCrowd(page, address);
    await page.locator('nw-board .canvas').focus();
    await page.keyboard.press('.');
    const script = await ScriptTime.of(page);
    const ours: number[] = [];
    const idle: number[] = [];
    for (let round = 0; round < 24; round++) {
      // A selected thing and a key of another gesture in between, so that each is an edit of its own.
      await page.keyboard.press(round % 2 === 0 ? 'r' : 'Shift+R');
      await page.waitForTimeout(1500);
      ours.push(await script.during(() => page.keyboard.press(round % 2 === 0 ? 'ArrowRight' : 'ArrowLeft'), 400));
      await page.waitForTimeout(1500);
      idle.push(await script.during(() => Promise.resolve(), 400));
    }
    console.log(`worst ${brief(Math.max(...ours.slice(4)))} ms`);
    return {
      name: 'edit',
      unit: 'milliseconds of script',
      ours: brief(median(ours.slice(4))),
      peer: brief(median(idle)),
      peerName: 'the same page left alone',
      ratio: brief(median(ours.slice(4)) / median(idle)),
    };
  });
}
