import { readFileSync } from 'node:fs';
import { ledgerText, parseLevelText, rehearse } from '@nettlewick/core';
import type { Entry } from '@nettlewick/core';
import { demoFile } from '../scripts/paths';
import type { Finding } from './finding';
import { brief, median } from './median';

/**
 * Ledger entries a second on the demo: both walks from document to ledger, every tick of them. The peer is V8's own
 * JSON, writing and reading back that very ledger; a kernel that has to move and sense for some forty ticks an entry
 * can only be slower, and the ratio says by how much. Both are measured when the engine knows them well, as it does in a spread over many
 * seeds.
 */
export async function entries(): Promise<Finding> {
  const parsed = parseLevelText(readFileSync(demoFile, 'utf8'));
  if (!parsed.ok) throw new Error('The demo has faults');
  const { level } = parsed;
  const run = (): Entry[] => level.walks.flatMap((walk) => rehearse(level, walk).entries);
  const count = run().length;
  const text = ledgerText(run());
  const peer = (): void => {
    const read = text
      .trimEnd()
      .split('\n')
      .map((line) => JSON.parse(line) as Entry);
    ledgerText(read);
  };
  const ours: number[] = [];
  const theirs: number[] = [];
  for (let round = 0; round < WARM + 100; round++) {
    const a = seconds(run);
    const b = seconds(peer);
    if (round < WARM) continue;
    ours.push(count / a);
    theirs.push(count / b);
  }
  const ticks = level.walks.reduce((sum, walk) => sum + rehearse(level, walk).ticks, 0);
  const pace = (median(ours) / count) * (ticks / level.rate);
  console.log(`${count} entries in ${ticks} ticks; ${Math.round(pace)} times faster than the walks themselves`);
  return {
    name: 'entries',
    unit: 'entries a second',
    ours: brief(median(ours)),
    peer: brief(median(theirs)),
    peerName: 'JSON, writing and reading the same ledger',
    ratio: brief(median(ours) / median(theirs)),
  };
}

/** Rounds until the engine compiles no more of it. */
const WARM = 250;

function seconds(work: () => unknown): number {
  const from = performance.now();
  work();
  return (performance.now() - from) / 1000;
}
