import { readFileSync } from 'node:fs';
import { Ledger, kernel, ledgerText, parseLevelText, rehearse } from '@nettlewick/core';
import { demoFile } from '../scripts/paths';
import type { Finding } from './finding';
import { brief } from './median';

/**
 * Ticks a second of the demo's walks, each tick of them stepped one by one with its ledger kept, against `rehearse` (the peer),
 * which passes over those in which nothing can happen. The ledgers are the same. Says also how many copies and keys of the demo's
 * world, in the middle of its first walk, are made in a second. By turns, and the fastest of each, for what else runs on the machine only
 * ever takes time away.
 */
export function step(): Finding {
  const parsed = parseLevelText(readFileSync(demoFile, 'utf8'));
  if (!parsed.ok) throw new Error('The demo has faults');
  const { level } = parsed;
  const plan = kernel.compileLevel(level);
  const orders = kernel.rulePolicy(level.rules);
  const stepped = (walk: (typeof level.walks)[number]): { ledger: Ledger; ticks: number } => {
    const ledger = new Ledger(level.rate);
    const told = {
      ...kernel.noopListener,
      entry: (_number, at, writing) => void ledger.write(at, writing),
    } satisfies kernel.WorldListener;
    const world = kernel.start(plan, walk);
    while (kernel.tick(plan, world, orders, told) === null && world.tick < walk.atMost * level.rate);
    return { ledger, ticks: world.tick };
  };
  let ticks = 0;
  for (const walk of level.walks) {
    const whole = rehearse(level, walk);
    const one = stepped(walk);
    ticks += one.ticks;
    const entries = whole.entries.filter((entry) => entry.kind !== 'end');
    if (ledgerText(one.ledger) !== ledgerText(entries)) throw new Error(`Stepping "${walk.name}" has changed its ledger`);
  }
  const world = kernel.start(plan, level.walks[0]!);
  for (let i = 0; i < ticks / 4; i++) kernel.tick(plan, world, orders, kernel.noopListener);
  const rates = { ours: [] as number[], peer: [] as number[], copies: [] as number[], keys: [] as number[] };
  for (let round = 0; round < 120; round++) {
    const found = {
      ours: ticks / seconds(() => level.walks.forEach(stepped)),
      peer: ticks / seconds(() => level.walks.forEach((walk) => rehearse(level, walk))),
      copies: 200 / seconds(() => repeat(200, () => kernel.copy(world))),
      keys: 200 / seconds(() => repeat(200, () => kernel.stateKey(plan, world))),
    };
    // The first are compiled on the way.
    if (round >= 20) for (const name of ['ours', 'peer', 'copies', 'keys'] as const) rates[name].push(found[name]);
  }
  const [ours, peer] = [Math.max(...rates.ours), Math.max(...rates.peer)];
  return {
    name: 'step',
    unit: 'ticks a second, one by one',
    ours: brief(ours),
    peer: brief(peer),
    peerName: 'rehearse, which passes over idle ticks',
    ratio: brief(ours / peer),
    'copies a second': brief(Math.max(...rates.copies)),
    'keys a second': brief(Math.max(...rates.keys)),
  };
}

function repeat(times: number, work: () => unknown): void {
  for (let i = 0; i < times; i++) work();
}

function seconds(work: () => void): number {
  const from = performance.now();
  work();
  return (performance.now() - from) / 1000;
}
