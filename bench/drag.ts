import { build } from 'esbuild';
import type { Page } from 'playwright-core';
import { onDemo } from '../e2e/on-demo';
import { root } from '../scripts/paths';
import { crowdedLevel } from './crowd';
import type { Finding } from './finding';
import { brief, median } from './median';
import { ScriptTime } from './script-time';

const MOVES = 200;

/**
 * Milliseconds of script for one pointer move of a drag, in a level of 5,000 things and 1,500 chains, half of them with guards: of
 * one zone, and of 50 selected things. The peer is a box that is dragged about an empty page of the same framework.
 */
export async function drag(): Promise<Finding> {
  return onDemo(async (page, address) => {
    await openCrowd(page, address);
    const one = await dragged(page, async () => {
      await page.keyboard.press('Escape');
    });
    const many = await dragged(page, async () => {
      await page.keyboard.press('Escape');
      for (let i = 0; i < 50; i++) await page.keyboard.press('Shift+.');
    });
    const peer = await dragPeer(page);
    const tell = (name: string, times: number[]): void =>
      console.log(
        `${name}: median ${brief(median(times))} ms, worst ${brief(Math.max(...times))} ms (move ${times.indexOf(Math.max(...times)) + 1})`,
      );
    tell('one zone', one);
    tell('50 things', many);
    tell('a box on an empty page', peer);
    return {
      name: 'drag',
      unit: 'milliseconds of script a move',
      ours: brief(median(one)),
      peer: brief(median(peer)),
      peerName: 'a box on an empty page of the same framework',
      ratio: brief(median(peer) / median(one)),
    };
  });
}

/** Puts the crowded level on the server, with some walks if it is to have any; gives its id. */
export async function postCrowd(address: string, walks: readonly object[] = []): Promise<string> {
  const reply = await fetch(`${address}/api/levels`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ level: { ...crowdedLevel(5000, 1500), walks } }),
  });
  return ((await reply.json()) as { id: string }).id;
}

/** Puts the crowded level on the server, and opens it. */
export async function openCrowd(page: Page, address: string): Promise<void> {
  const id = await postCrowd(address);
  await page.goto(`${address}/levels/${id}/draw`);
  await page.locator('[data-drawn]').waitFor();
  await page.waitForTimeout(1500);
}

/** Drags the thing nearest to the middle of the board, with all that is selected. */
async function dragged(page: Page, before: () => Promise<void>): Promise<number[]> {
  await page.locator('nw-board .canvas').focus();
  await before();
  const figure = page.locator('nw-board .figure.chosen, nw-board .figure.zone').first();
  const box = (await figure.boundingBox())!;
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  // What selecting has begun is over before the first move.
  await page.waitForTimeout(500);
  const times = await moves(page, x, y);
  await page.keyboard.press('Escape');
  await page.mouse.up();
  await page.waitForTimeout(300);
  return times;
}

async function moves(page: Page, x: number, y: number): Promise<number[]> {
  const script = await ScriptTime.of(page);
  const times: number[] = [];
  for (let move = 1; move <= MOVES; move++) {
    const to = { x: x + 150 * Math.sin(move / 20), y: y + 60 * Math.sin(move / 9) };
    times.push(await script.during(() => page.mouse.move(to.x, to.y)));
  }
  return times;
}

async function dragPeer(page: Page): Promise<number[]> {
  const { outputFiles } = await build({
    absWorkingDir: root,
    entryPoints: ['bench/drag-peer.ts'],
    bundle: true,
    write: false,
    minify: true,
    format: 'iife',
    tsconfigRaw: { compilerOptions: { experimentalDecorators: true } },
    nodePaths: [`${root}/apps/web/node_modules`],
  });
  const blank = await page.context().newPage();
  await blank.setContent('<body></body>');
  await blank.addScriptTag({ content: outputFiles[0]!.text });
  await blank.locator('div').waitFor();
  await blank.mouse.move(100, 100);
  await blank.mouse.down();
  const times = await moves(blank, 300, 300);
  await blank.close();
  return times;
}
