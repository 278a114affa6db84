import type { Page } from 'playwright-core';
import { onDemo } from '../e2e/on-demo';
import { openCrowd, postCrowd } from './drag';
import type { Finding } from './finding';
import { frameTimes } from './frame-times';
import { brief, median } from './median';

/**
 * Frames a second while 5,000 things are panned and zoomed, and while a walk among them is played, in Chromium with its software renderer. The peer is a bare canvas on which
 * as many boxes are filled and outlined anew in every frame.
 */
export async function board(): Promise<Finding> {
  return onDemo(async (page, address) => {
    await openCrowd(page, address);
    const box = (await page.locator('nw-board .canvas').boundingBox())!;
    const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
    const pan = await frames(page, async () => {
      await page.mouse.move(x + 200, y + 100);
      await page.mouse.down({ button: 'middle' });
      for (let i = 0; i < 90; i++) await page.mouse.move(x + 200 * Math.cos(i / 12), y + 100 * Math.sin(i / 12));
      await page.mouse.up({ button: 'middle' });
    });
    const zoom = await frames(page, async () => {
      for (let i = 0; i < 90; i++) {
        await page.mouse.wheel(0, Math.round(i / 15) % 2 === 0 ? -60 : 60);
        await page.waitForTimeout(10);
      }
    });
    const played = await playback(page, address);
    const blank = await page.context().newPage();
    await blank.setContent('<body style="margin:0"><canvas width="1280" height="800"></canvas></body>');
    const peer = await frames(blank, () => blank.evaluate(drawAll, 5000));
    await blank.close();
    console.log(`pan: median ${brief(median(pan))} frames a second, lowest ${brief(Math.min(...pan))}`);
    console.log(`zoom: median ${brief(median(zoom))} frames a second, lowest ${brief(Math.min(...zoom))}`);
    console.log(`playback: median ${brief(median(played))} frames a second, lowest ${brief(Math.min(...played))}`);
    return {
      name: 'board',
      unit: 'frames a second, panning',
      ours: brief(median(pan)),
      peer: brief(median(peer)),
      peerName: 'a bare canvas that draws every box in every frame',
      ratio: brief(median(pan) / median(peer)),
      playback: brief(median(played)),
      zoom: brief(median(zoom)),
    };
  });
}

/** Frames a second while somebody walks through the crowd, and what is on the way fires. */
async function playback(page: Page, address: string): Promise<number[]> {
  const to = (x: number, y: number, at: number) => ({ id: `go-${at}`, do: 'go-to', to: { x, y, z: 0 } });
  const instructions = [to(40, 0, 0), to(40, 30, 1), to(-40, 30, 2), to(-40, -20, 3)];
  const walk = { id: 'across', name: 'Across the marsh', routes: [{ visitor: 'player-1', instructions }] };
  const id = await postCrowd(address, [walk]);
  await page.goto(`${address}/levels/${id}/rehearse`);
  await page.locator('.entry').nth(3).waitFor();
  await page.waitForTimeout(1500);
  return frames(page, async () => {
    await page.keyboard.press(' ');
    await page.waitForTimeout(6000);
    await page.keyboard.press(' ');
  });
}

/** Frames a second, frame by frame, while something is done. */
async function frames(page: Page, work: () => Promise<unknown>): Promise<number[]> {
  return (await frameTimes(page, work)).map((time) => 1000 / time);
}

/** Fills and outlines so many boxes in each of sixty frames. */
async function drawAll(boxes: number): Promise<void> {
  const pen = document.querySelector('canvas')!.getContext('2d')!;
  for (let frame = 0; frame < 60; frame++) {
    await new Promise(requestAnimationFrame);
    pen.clearRect(0, 0, 1280, 800);
    pen.fillStyle = 'rgb(29 79 124 / 9%)';
    for (let i = 0; i < boxes; i++) {
      const [x, y] = [(i % 90) * 14 + frame, Math.floor(i / 90) * 14];
      pen.fillRect(x, y, 8, 8);
      pen.strokeRect(x, y, 8, 8);
    }
  }
}
