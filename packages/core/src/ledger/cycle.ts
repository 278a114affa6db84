import type { Entry } from './entry';
import type { Ledger } from './ledger';

/**
 * The cycle that a runaway goes round in, as `kind id of chain`: followed back along the causes from the last entry until the same
 * event of the same thing comes again.
 */
export function cycleOf(ledger: Ledger): string[] {
  const round: { key: string; words: string }[] = [];
  let entry = ledger.at(ledger.length);
  while (entry !== undefined && round.length < 1000) {
    const key = `${entry.kind} ${entry.what ?? ''} ${entry.chain ?? ''} ${entry.step ?? ''} ${'to' in entry.details ? String(entry.details.to) : ''}`;
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
