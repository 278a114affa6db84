import type { Page } from 'playwright-core';

/** How long each frame of a page took while something was done, in milliseconds. */
export async function frameTimes(page: Page, work: () => Promise<unknown>): Promise<number[]> {
  await page.evaluate(() => {
    const times: number[] = [];
    const step = (now: number): void => {
      times.push(now);
      requestAnimationFrame(step);
    };
    requestAnimationFrame(step);
    Object.assign(window, { times });
  });
  await work();
  const times = await page.evaluate(() => (window as unknown as { times: number[] }).times);
  return times.slice(1).map((time, i) => time - times[i]!);
}
