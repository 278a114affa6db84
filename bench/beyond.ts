import { once } from 'node:events';
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

/**
 * A thousand runs of the demo's first walk on two threads, against one thread (the peer): by turns, and the fastest of each, for what
 * else runs on the machine only ever adds. Beside it, the same of a bare loop, which says what two threads of this machine can be at the
 * most.
 */
export async function spread(): Promise<Finding> {
  const seeds = Array.from({ length: 1000 }, (_, seed) => seed);
  const half = [seeds.filter((seed) => seed % 2 === 0), seeds.filter((seed) => seed % 2 === 1)];
  const workers = await Promise.all([started(), started()]);
  const [one, two, bareOne, bareTwo]: number[][] = [[], [], [], []];
  const both = (jobs: readonly Job[]): Promise<unknown> => Promise.all(workers.map((worker, at) => asked(worker, jobs[at]!)));
  for (let round = -3; round < 40; round++) {
    const times = [
      await took(() => asked(workers[0]!, seeds)),
      await took(() => both(half)),
      await took(() => asked(workers[0]!, LOOP)),
      await took(() => both([LOOP / 2, LOOP / 2])),
    ];
    if (round >= 0) [one, two, bareOne, bareTwo].forEach((list, at) => list!.push(times[at]!));
  }
  await Promise.all(workers.map((worker) => worker.terminate()));
  const gain = (a: number[], b: number[]): number => brief(Math.min(...a) / Math.min(...b));
  console.log(`a bare loop: ${gain(bareOne!, bareTwo!)} times as fast on two threads`);
  return {
    name: 'spread',
    unit: 'seconds for 1,000 runs of the demo, two threads',
    ours: brief(Math.min(...two!)),
    peer: brief(Math.min(...one!)),
    peerName: 'one thread',
    ratio: gain(one!, two!),
  };
}

/** What a thread is asked for: runs of some seeds, or so many turns of a bare loop. */
type Job = readonly number[] | number;

const LOOP = 2e8;

/** The work of a thread of the spread: this very file, bundled. */
export function spreadOn(job: Job): number {
  const level = demo();
  if (typeof job !== 'number') return spreadRuns(level, level.walks[0]!, by, job).length;
  let sum = 0;
  for (let turn = 0; turn < job; turn++) sum = (sum + (turn ^ (sum << 1))) | 0;
  return sum;
}

async function took(work: () => Promise<unknown>): Promise<number> {
  const from = performance.now();
  await work();
  return (performance.now() - from) / 1000;
}

async function started(): Promise<Worker> {
  const worker = new Worker(new URL(import.meta.url), { argv: ['spread-thread'] });
  await new Promise((resolve) => worker.once('online', resolve));
  return worker;
}

async function asked(worker: Worker, job: Job): Promise<unknown> {
  const answer = once(worker, 'message');
  worker.postMessage(job);
  return answer;
}

/** Going back to moments of a walk by hand of five minutes, against the kernel run from the beginning to there (the peer), in milliseconds. */
export function live(): Finding {
  const level = demo();
  const walk = { ...level.walks[0]!, atMost: 300 };
  const ticks = 300 * level.rate;
  const walked = (): Live => {
    const one = new Live(level, walk, kernel.noopListener);
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
    const anew = new Live(level, walk, kernel.noopListener);
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
