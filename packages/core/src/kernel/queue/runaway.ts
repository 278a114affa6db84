import type { Entry, Ledger } from '../../ledger/ledger';
import type { Rehearsing } from '../rehearsing';

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
 * The cycle that a runaway goes round in, as `kind id of chain`: followed back along the causes from the last entry until the same
 * event of the same thing comes again.
 */
export function cycleOf(ledger: Ledger): string[] {
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
    round.push({ key, words: words(entry) });
    entry = entry.cause === null ? undefined : ledger.at(entry.cause);
  }
  return round.map((one) => one.words).reverse();
}

function words({ kind, what, chain }: Entry): string {
  return `${kind}${what === null ? '' : ` ${what}`}${chain === null ? '' : ` of ${chain}`}`;
}
