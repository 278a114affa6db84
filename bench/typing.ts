import type { Page } from 'playwright-core';
import { onDemo } from '../e2e/on-demo';
import { openCrowd } from './drag';
import type { Finding } from './finding';
import { frameTimes } from './frame-times';
import { brief, median } from './median';

/**
 * How long a key waits until what it typed is painted, in a value of a level of 5,000 things and 1,500 chains, and how long the page is
 * held up at most while the prompt of its chains is scrolled through, in milliseconds. The peer is a field on an empty page.
 */
export async function typing(): Promise<Finding> {
  return onDemo(async (page, address) => {
    await openCrowd(page, address);
    await page.locator('nw-board .canvas').focus();
    await page.keyboard.press('.');
    const value = page.locator('nw-thing-panel button[data-path$="size/x"]');
    await value.first().click();
    await page.locator('nw-thing-panel input').first().waitFor();
    const ours = await typed(page);
    await page.keyboard.press('Escape');
    await page.keyboard.press('2');
    await page.locator('nw-chain-band').first().waitFor();
    await page.waitForTimeout(2000);
    const frames = await scrolled(page);
    const bands = await page.locator('nw-chain-band').count();
    const blank = await page.context().newPage();
    await blank.setContent('<input autofocus>');
    await blank.locator('input').focus();
    const peer = await typed(blank);
    await blank.close();
    console.log(
      `a key: median ${brief(median(ours))} ms, at most ${brief(Math.max(...ours))}; scrolled through ${bands} chains: a frame ${brief(median(frames))} ms in the median, ${brief(Math.max(...frames))} at most`,
    );
    return {
      name: 'typing',
      unit: 'milliseconds from a key to the picture, at most',
      ours: brief(Math.max(...ours)),
      peer: brief(Math.max(...peer)),
      peerName: 'a field on an empty page',
      ratio: brief(Math.max(...peer) / Math.max(...ours)),
      'a frame of the prompt, median': brief(median(frames)),
      'a frame of the prompt, at most': brief(Math.max(...frames)),
    };
  });
}

/** Milliseconds from each of some keys to the frame in which it is seen. */
async function typed(page: Page): Promise<number[]> {
  await page.evaluate(() => {
    const waits: number[] = [];
    addEventListener(
      'keydown',
      () => {
        const from = performance.now();
        requestAnimationFrame(() => setTimeout(() => waits.push(performance.now() - from)));
      },
      true,
    );
    Object.assign(window, { waits });
  });
  for (const key of '12.5 + 3.25 * 4 - 17 / 2 + 8') {
    await page.keyboard.press(key);
    await page.waitForTimeout(40);
  }
  return page.evaluate(() => (window as unknown as { waits: number[] }).waits);
}

/** How long each frame is while the prompt is scrolled by the wheel, in milliseconds. */
async function scrolled(page: Page): Promise<number[]> {
  const box = (await page.locator('.book').boundingBox())!;
  await page.mouse.move(box.x + 300, box.y + 300);
  return frameTimes(page, async () => {
    for (let i = 0; i < 120; i++) {
      await page.mouse.wheel(0, 400);
      await page.waitForTimeout(25);
    }
  });
}
