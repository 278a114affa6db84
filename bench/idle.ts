import { readFileSync } from 'node:fs';
import { ledgerText, parseLevelText, rehearse } from '@nettlewick/core';
import type { Walk } from '@nettlewick/core';
import { demoFile } from '../scripts/paths';
import type { Finding } from './finding';
import { brief, median } from './median';

/**
 * A walk of ten minutes with thirty seconds of action, against those thirty seconds (the peer), on the demo. Its ledger is
 * the same as when every tick is looked at. Says also how much faster than real time the demo rehearses.
 */
export async function idle(): Promise<Finding> {
  const parsed = parseLevelText(readFileSync(demoFile, 'utf8'));
  if (!parsed.ok) throw new Error('The demo has faults');
  const { level } = parsed;
  const action = level.walks[0]!;
  const long: Walk = {
    ...action,
    atMost: 600,
    routes: action.routes.map((route, i) =>
      i > 0 ? route : { ...route, instructions: [...route.instructions, { id: 'long-wait', do: 'wait', seconds: 570 }] },
    ),
  };
  const all = { ...level, walks: [long] };
  if (ledgerText(rehearse(all, long).ledger) !== ledgerText(rehearse(all, long, { everyTick: true }).ledger))
    throw new Error('Passing over idle ticks has changed the ledger');
  const [ours, peer] = times(
    () => rehearse(all, long),
    () => rehearse(level, action),
  );
  const demo = level.walks.reduce((sum, walk) => sum + rehearse(level, walk).ticks / level.rate, 0);
  const [whole] = times(
    () => level.walks.map((walk) => rehearse(level, walk)),
    () => undefined,
  );
  console.log(`${rehearse(all, long).ticks / level.rate} s against ${rehearse(level, action).ticks / level.rate} s`);
  console.log(
    `The demo's walks of ${demo.toFixed(1)} s take ${whole.toFixed(2)} ms: ${Math.round((demo * 1000) / whole)} times faster than real time`,
  );
  return {
    name: 'idle',
    unit: 'milliseconds',
    ours: brief(ours),
    peer: brief(peer),
    peerName: 'its action alone',
    ratio: brief(ours / peer),
  };
}

/** Medians of two works done in turns, in milliseconds. */
function times(first: () => unknown, second: () => unknown): [number, number] {
  const found: [number[], number[]] = [[], []];
  for (let round = 0; round < 240; round++) {
    [first, second].forEach((work, i) => {
      const from = performance.now();
      work();
      if (round >= 80) found[i]!.push(performance.now() - from);
    });
  }
  return [median(found[0]), median(found[1])];
}
