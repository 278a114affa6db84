import { readFileSync } from 'node:fs';
import { Worker } from 'node:worker_threads';
import { Live, everySet, kernel, ledgerText, outcomesOf, parseLevelText, rehearse, spreadRuns } from '@nettlewick/core';
import type { Level, Spreading } from '@nettlewick/core';
import { demoFile } from '../scripts/paths';
import type { Finding } from './finding';
import { brief, median } from './median';

let known: Level | null = null;

function demo(): Level {
  if (known !== null) return known;
  const parsed = parseLevelText(readFileSync(demoFile, 'utf8'));
  if (!parsed.ok) throw new Error('The demo has faults');
  return (known = parsed.level);
}

function seconds(work: () => unknown): number {
  const from = performance.now();
  work();
  return (performance.now() - from) / 1000;
}

/** The demo's walks under every set of house rules, against rehearsing each of them under each set (the peer). The ledgers are the same. */
export function orders(): Finding {
  const level = demo();
  const sets = everySet(level.rules);
  const together = (): unknown[] => level.walks.map((walk) => outcomesOf(level, walk));
  const alone = (): void => level.walks.forEach((walk) => sets.forEach((rules) => rehearse(level, walk, { rules })));
  for (const walk of level.walks)
    for (const { sets: some, ledger } of outcomesOf(level, walk).outcomes)
      if (ledgerText(rehearse(level, walk, { rules: some[0]! }).entries) !== ledgerText(ledger))
        throw new Error('Another ledger');
  const ours: number[] = [];
  const peer: number[] = [];
  for (let round = 0; round < 5; round++) {
    ours.push(seconds(together));
    peer.push(seconds(alone));
  }
  return {
    name: 'orders',
    unit: 'seconds for all walks of the demo, all 384 sets',
    ours: brief(median(ours)),
    peer: brief(median(peer)),
    peerName: 'rehearsing each walk under each set',
    ratio: brief(median(ours) / median(peer)),
  };
}

const by: Spreading = { start: 0.5, speed: 0.2, path: 0.1, rates: [15, 30, 60] };

/** A thousand runs of the demo's first walk on two threads, against one thread (the peer). */
export async function spread(): Promise<Finding> {
  const level = demo();
  const walk = level.walks[0]!;
  const seeds = Array.from({ length: 1000 }, (_, seed) => seed);
  spreadRuns(level, walk, by, seeds);
  const one: number[] = [];
  const two: number[] = [];
  const workers = await Promise.all([started(), started()]);
  const half = [seeds.filter((seed) => seed % 2 === 0), seeds.filter((seed) => seed % 2 === 1)];
  await Promise.all(workers.map((worker, at) => asked(worker, half[at]!)));
  for (let round = 0; round < 5; round++) {
    const from = performance.now();
    await asked(workers[0]!, seeds);
    one.push((performance.now() - from) / 1000);
    const then = performance.now();
    await Promise.all(workers.map((worker, at) => asked(worker, half[at]!)));
    two.push((performance.now() - then) / 1000);
  }
  await Promise.all(workers.map((worker) => worker.terminate()));
  return {
    name: 'spread',
    unit: 'seconds for 1,000 runs of the demo, two threads',
    ours: brief(median(two)),
    peer: brief(median(one)),
    peerName: 'one thread',
    ratio: brief(median(one) / median(two)),
  };
}

/** The work of a thread of the spread: this very file, bundled, asked for some seeds. */
export function spreadOn(seeds: readonly number[]): number {
  const level = demo();
  return spreadRuns(level, level.walks[0]!, by, seeds).length;
}

async function started(): Promise<Worker> {
  const worker = new Worker(new URL(import.meta.url), { argv: ['spread-thread'] });
  await new Promise((resolve) => worker.once('online', resolve));
  return worker;
}

function asked(worker: Worker, seeds: readonly number[]): Promise<unknown> {
  return new Promise((resolve, reject) => {
    worker.once('message', resolve);
    worker.once('error', reject);
    worker.postMessage(seeds);
  });
}

/** Going back to moments of a walk by hand of five minutes, against the kernel run from the beginning to there (the peer), in milliseconds. */
export function live(): Finding {
  const level = demo();
  const walk = { ...level.walks[0]!, atMost: 300 };
  const ticks = 300 * level.rate;
  const walked = (): Live => {
    const one = new Live(level, walk, kernel.nobodyTold);
    for (let tick = 0; tick < ticks; tick += 30) {
      const turn = (tick / 30) % 4;
      one.steer({ visitor: 'miller', heads: { x: [1, 0, -1, 0][turn]!, y: [0, 1, 0, -1][turn]! } });
      one.advance(30);
    }
    return one;
  };
  const moments = Array.from({ length: 40 }, (_, at) => Math.floor(((40 - at) / 41) * ticks));
  const ours: number[] = [];
  const peer: number[] = [];
  const back = walked();
  for (const moment of moments) {
    ours.push(1000 * seconds(() => back.back(moment)));
    const anew = new Live(level, walk, kernel.nobodyTold);
    peer.push(1000 * seconds(() => anew.advance(moment)));
  }
  console.log(`at most ${brief(Math.max(...ours))} ms`);
  return {
    name: 'live',
    unit: 'milliseconds to go back to a moment of five minutes, median',
    ours: brief(median(ours)),
    peer: brief(median(peer)),
    peerName: 'the kernel from the beginning to there, one tick at a time',
    ratio: brief(median(ours) / median(peer)),
  };
}
