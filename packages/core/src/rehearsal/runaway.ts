import { nameOf } from '../level/lookup';
import type { Level } from '../level/level';
import type { Entry, Ledger } from './ledger';
import type { Rehearsing } from './rehearsing';

/** More items than this in one tick is a runaway. */
export const RUNAWAY_ITEMS = 10_000;
/** Events that run inside of each other, more deeply than this, are a runaway too. */
export const RUNAWAY_DEPTH = 200;

/** A tick that does not come to an end. */
export class Runaway extends Error {}

/** Counts an item, an event drained at once among them. Throws a Runaway if there are too many. */
export function count({ state }: Rehearsing): void {
  state.itemsThisTick += 1;
  if (state.itemsThisTick > RUNAWAY_ITEMS || state.depth > RUNAWAY_DEPTH) throw new Runaway();
}

/**
 * The cycle that a runaway goes round in, in names: followed back along the causes from the last entry until the same
 * event of the same thing comes again.
 */
export function cycleOf(level: Level, ledger: Ledger): string[] {
  const round: { key: string; words: string }[] = [];
  let entry = ledger.at(ledger.length);
  while (entry !== undefined && round.length < 1000) {
    const key = `${entry.kind} ${entry.what ?? ''} ${entry.chain ?? ''} ${entry.step ?? ''} ${String(entry.details['to'] ?? '')}`;
    const from = round.findIndex((one) => one.key === key);
    if (from >= 0)
      return round
        .slice(from)
        .map((one) => one.words)
        .reverse();
    round.push({ key, words: words(level, entry) });
    entry = entry.cause === null ? undefined : ledger.at(entry.cause);
  }
  return round.map((one) => one.words).reverse();
}

function words(level: Level, entry: Entry): string {
  const chain = entry.chain === null ? '' : ` of ${nameOf(level, entry.chain)}`;
  const what = entry.what === null ? '' : ` ${nameOf(level, entry.what)}`;
  return `${entry.kind}${what}${chain}`;
}
