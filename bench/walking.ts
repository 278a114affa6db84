import type { Page } from 'playwright-core';
import { onDemo } from '../e2e/on-demo';
import type { Finding } from './finding';
import { brief, median } from './median';

/**
 * From the press of a key to the first frame in which the visitor that is walked by hand stands elsewhere, in frames, on the demo in
 * Chromium. The goal is two at most. The peer is a box on an empty page that is moved by the key itself: it is seen with the next frame.
 */
export async function walking(): Promise<Finding> {
  return onDemo(async (page, address) => {
    await page.goto(address);
    await page.getByRole('link', { name: 'Nettlewick tide mill' }).click();
    await page.locator('[data-thing="miller"]').waitFor();
    await page.keyboard.press('3');
    await page.locator('.entry').first().waitFor();
    await page.getByRole('button', { name: 'Walk it yourself' }).click();
    await page.getByRole('button', { name: 'Stand still' }).waitFor();
    await page.waitForTimeout(1000);
    const ours = await pressed(page, '[data-thing="miller"]');
    const blank = await page.context().newPage();
    await blank.setContent('<div id="box" style="position:absolute;width:9px;height:9px;background:#000"></div>');
    await blank.evaluate(() => {
      let x = 0;
      addEventListener('keydown', () => (document.getElementById('box')!.style.left = `${(x += 1)}px`));
    });
    const peer = await pressed(blank, '#box');
    await blank.close();
    const frames = ours.map((one) => one.frames);
    console.log(
      `frames: median ${median(frames)}, at most ${Math.max(...frames)}; ${brief(median(ours.map((one) => one.took)))} ms in the median`,
    );
    return {
      name: 'walking',
      unit: 'milliseconds from a key to the picture',
      ours: brief(median(ours.map((one) => one.took))),
      peer: brief(median(peer.map((one) => one.took))),
      peerName: 'a box that the key itself moves',
      ratio: brief(median(peer.map((one) => one.took)) / median(ours.map((one) => one.took))),
      frames: median(frames),
      'most frames': Math.max(...frames),
    };
  });
}

/** Presses keys at moments that have nothing to do with the frames, and waits for what they move: in which frame, and after how long. */
async function pressed(page: Page, what: string): Promise<{ frames: number; took: number }[]> {
  const found: { frames: number; took: number }[] = [];
  for (let round = 0; round < 40; round++) {
    found.push(
      await page.evaluate(
        async ({ selector, key, wait }) => {
          const where = (): string => {
            const { x, y } = document.querySelector(selector)!.getBoundingClientRect();
            return `${x} ${y}`;
          };
          await new Promise((resolve) => setTimeout(resolve, wait));
          const before = where();
          const from = performance.now();
          (document.activeElement ?? document.body).dispatchEvent(
            new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }),
          );
          let frames = 0;
          do {
            await new Promise(requestAnimationFrame);
            frames += 1;
            // What other callbacks of this frame change is seen with it, too.
            await Promise.resolve();
          } while (where() === before && frames < 60);
          const took = performance.now() - from;
          (document.activeElement ?? document.body).dispatchEvent(
            new KeyboardEvent('keyup', { key, bubbles: true, cancelable: true }),
          );
          return { frames, took };
        },
        { selector: what, key: round % 2 === 0 ? 'ArrowRight' : 'ArrowLeft', wait: 150 + ((round * 37) % 17) },
      ),
    );
  }
  return found.slice(5);
}
