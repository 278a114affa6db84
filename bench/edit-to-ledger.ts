import type { Page } from 'playwright-core';
import { onDemo } from '../e2e/on-demo';
import { postCrowd } from './drag';
import type { Finding } from './finding';
import { frameTimes } from './frame-times';
import { brief, median } from './median';

/**
 * Milliseconds from an edit (an undo or redo key) to the new ledger on screen, on the demo in Chromium: the edit is
 * applied, the level goes to the worker, is rehearsed, comes back and is painted. The goal is under 100 ms. The peer is
 * reloading the page until it shows the ledger: what one does where nothing follows an edit by itself.
 */
export async function editToLedger(): Promise<Finding> {
  return onDemo(measure);
}

async function measure(page: Page, address: string): Promise<Finding> {
  await page.goto(address);
  await page.getByRole('link').first().click();
  await page.locator('[data-thing="doorstep"]').waitFor();
  await page.getByRole('button', { name: 'Doorstep' }).click();
  await page.locator('nw-board .canvas').focus();
  await page.keyboard.press('ArrowLeft');
  await page.keyboard.press('3');
  await page.locator('.entry').first().waitFor();
  const times = await afterEdits(page, 40);
  await page.waitForTimeout(1000);
  const walks = median((await afterEdits(page, 30, 'walks')).slice(10));
  await page.getByRole('tab', { name: 'Matrix' }).click();
  await page.locator('nw-matrix-panel table').waitFor();
  const matrix = median((await afterEdits(page, 30, 'matrix')).slice(10));
  await page.keyboard.press('Escape');
  const reloads: number[] = [];
  for (let round = 0; round < 7; round++) {
    const from = performance.now();
    await page.reload();
    await page.waitForFunction(() => performance.getEntriesByName('nettlewick:ledger-shown').length > 0);
    reloads.push(performance.now() - from);
  }
  const ours = median(times.slice(10));
  const peer = median(reloads);
  const crowd = await inTheCrowd(page, address);
  console.log(
    `slowest of ${times.length}: ${brief(Math.max(...times))} ms; in a level of 5,000 things, a walk of five minutes: ledger ${brief(crowd.ledger)} ms, what all walks do ${brief(crowd.walks)}, matrix ${brief(crowd.matrix)}; ${brief(crowd.frames)} frames a second in the median`,
  );
  return {
    name: 'edit-to-ledger',
    unit: 'milliseconds',
    ours: brief(ours),
    peer: brief(peer),
    peerName: 'reloading the page',
    ratio: brief(peer / ours),
    crowd: brief(crowd.ledger),
    'crowd, what all walks do': brief(crowd.walks),
    'crowd, matrix': brief(crowd.matrix),
    'crowd, frames a second': brief(crowd.frames),
    'what all walks do': brief(walks),
    matrix: brief(matrix),
  };
}

/** Milliseconds from each of some edits, undone and redone in turn, to something new on screen: the ledger, what all walks do, the matrix. */
async function afterEdits(page: Page, rounds: number, what: 'ledger' | 'walks' | 'matrix' = 'ledger'): Promise<number[]> {
  const times: number[] = [];
  for (let round = 0; round < rounds; round++) {
    times.push(
      await page.evaluate(
        async ({ key, mark }) => {
          performance.clearMarks();
          const from = performance.now();
          dispatchEvent(new KeyboardEvent('keydown', { key, ctrlKey: true, bubbles: true }));
          for (;;) {
            await new Promise(requestAnimationFrame);
            const [shown] = performance.getEntriesByName(mark);
            if (shown !== undefined) return shown.startTime - from;
            if (performance.now() - from > 5000) throw new Error('The ledger did not come');
          }
        },
        { key: round % 2 === 0 ? 'z' : 'y', mark: `nettlewick:${what}-shown` },
      ),
    );
    await page.waitForTimeout(60);
  }
  return times;
}

/** The same in a level of 5,000 things, where a visitor goes to and fro for five minutes. */
async function inTheCrowd(
  page: Page,
  address: string,
): Promise<{ ledger: number; walks: number; matrix: number; frames: number }> {
  const instructions = Array.from({ length: 56 }, (_, i) =>
    i % 2 === 0
      ? { id: `go-${i}`, do: 'go-to', to: { x: i % 4 === 0 ? 0.4 : -0.4, y: 0, z: 0 } }
      : { id: `wait-${i}`, do: 'wait', seconds: 10 },
  );
  const routes = [{ visitor: 'player-1', instructions }];
  const id = await postCrowd(address, [{ id: 'long', name: 'To and fro', atMost: 300, routes }]);
  await page.goto(`${address}/levels/${id}/draw`);
  await page.locator('[data-drawn]').waitFor();
  await page.waitForTimeout(1500);
  await page.locator('nw-board .canvas').focus();
  await page.keyboard.press('.');
  await page.keyboard.press('ArrowLeft');
  await page.keyboard.press('3');
  await page.locator('.entry').first().waitFor();
  await page.waitForTimeout(1500);
  let ledger = NaN;
  const drawn = await frameTimes(page, async () => {
    ledger = median((await afterEdits(page, 20)).slice(4));
  });
  const frames = 1000 / median(drawn);
  const walks = median((await afterEdits(page, 12, 'walks')).slice(4));
  await page.getByRole('tab', { name: 'Matrix' }).click();
  await page.locator('nw-matrix-panel table').waitFor();
  await page.waitForTimeout(1500);
  const matrix = median((await afterEdits(page, 12, 'matrix')).slice(4));
  return { ledger, walks, matrix, frames };
}
