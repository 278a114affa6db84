import { onDemo } from '../e2e/on-demo';
import { launch } from '../e2e/browser';
import { postCrowd } from './drag';
import type { Finding } from './finding';
import { brief, median } from './median';

const ROUNDS = 7;

/**
 * Milliseconds from the address to the first picture of a level of 5,000 things and 1,500 chains, in a browser that has never been
 * here. The peer is the same with the demo, which is small: what is above it is the level itself.
 */
export async function opening(): Promise<Finding> {
  return onDemo(async (_page, address) => {
    const crowd = await postCrowd(address);
    const { levels } = (await (await fetch(`${address}/api/levels`)).json()) as { levels: { id: string; name: string }[] };
    const demo = levels.find(({ id }) => id !== crowd)!.id;
    const ours: number[] = [];
    const peer: number[] = [];
    for (let round = 0; round < ROUNDS; round++) {
      ours.push(await firstPicture(`${address}/levels/${crowd}/draw`));
      peer.push(await firstPicture(`${address}/levels/${demo}/draw`));
    }
    console.log(`slowest of ${ROUNDS}: ${brief(Math.max(...ours))} ms`);
    return {
      name: 'opening',
      unit: 'milliseconds to the first picture',
      ours: brief(median(ours)),
      peer: brief(median(peer)),
      peerName: 'the demo, opened in the same way',
      ratio: brief(median(peer) / median(ours)),
    };
  });
}

/** How long a browser of its own takes to draw what is at an address. */
async function firstPicture(address: string): Promise<number> {
  const browser = await launch();
  try {
    const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
    await page.goto('about:blank');
    await page.waitForTimeout(1000);
    const from = performance.now();
    await page.goto(address, { waitUntil: 'commit' });
    await page.locator('[data-drawn]').waitFor();
    return performance.now() - from;
  } finally {
    await browser.close();
  }
}
