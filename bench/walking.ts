import type { Page } from 'playwright-core';
import { onDemo } from '../e2e/on-demo';
import type { Finding } from './finding';
import { brief, median } from './median';

/**
 * From the press of a key to the first frame in which the visitor that is walked by hand is drawn elsewhere, in frames, on the demo in
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
    const ours = await pressed(page, '[data-thing="miller"]', 'nw-board canvas');
    const blank = await page.context().newPage();
    await blank.setContent('<div id="box" style="position:absolute;width:9px;height:9px;background:#000"></div>');
    await blank.evaluate(() => {
      let x = 0;
      addEventListener('keydown', () => (document.getElementById('box')!.style.left = `${(x += 1)}px`));
    });
    const peer = await pressed(blank, '#box', '#box');
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

/**
 * Presses keys at moments that have nothing to do with the frames, and waits until what they move has been drawn elsewhere: in which
 * frame, and after how long. What is drawn between two frames is seen with the one that comes.
 */
async function pressed(page: Page, what: string, drawnOn: string): Promise<{ frames: number; took: number }[]> {
  const found: { frames: number; took: number }[] = [];
  for (let round = 0; round < 40; round++) {
    found.push(
      await page.evaluate(
        async ({ selector, canvas, key, wait }) => {
          const where = (): string => {
            const { x, y } = document.querySelector(selector)!.getBoundingClientRect();
            return `${x} ${y}`;
          };
          const press = (type: string): unknown =>
            (document.activeElement ?? document.body).dispatchEvent(
              new KeyboardEvent(type, { key, bubbles: true, cancelable: true }),
            );
          await new Promise((resolve) => setTimeout(resolve, wait));
          const before = where();
          let frames = 0;
          let isInFrame = false;
          let last = document.timeline.currentTime as number;
          const afterFrame = new MessageChannel();
          afterFrame.port1.onmessage = () => (isInFrame = false);
          let loop = 0;
          const count = (): void => {
            frames += 1;
            last = document.timeline.currentTime as number;
            isInFrame = true;
            afterFrame.port2.postMessage(null);
            loop = requestAnimationFrame(count);
          };
          loop = requestAnimationFrame(count);
          const from = performance.now();
          const seen = new Promise<{ frames: number; took: number }>((resolve, reject) => {
            const observer = new MutationObserver(() => {
              if (where() === before) return;
              observer.disconnect();
              const isNow = isInFrame || (document.timeline.currentTime as number) > last;
              const here = frames + (isInFrame ? 0 : 1);
              if (isNow) resolve({ frames: here, took: performance.now() - from });
              else requestAnimationFrame(() => resolve({ frames: here, took: performance.now() - from }));
            });
            observer.observe(document.querySelector(canvas)!, { attributes: true });
            setTimeout(() => reject(new Error('It did not move')), 2000);
          });
          press('keydown');
          const result = await seen;
          cancelAnimationFrame(loop);
          afterFrame.port1.close();
          press('keyup');
          return result;
        },
        {
          selector: what,
          canvas: drawnOn,
          key: round % 2 === 0 ? 'ArrowRight' : 'ArrowLeft',
          wait: 150 + ((round * 37) % 17),
        },
      ),
    );
  }
  return found.slice(5);
}
