import type { Level } from '../document/level';
import { nameOf } from '../document/lookup';
import type { Expectation } from '../document/walks';
import { compareLedgers } from '../reading/compare';
import type { Reason } from '../reading/reason';
import { expectationPhrase } from '../sentences/expectations';
import { spoken } from '../vocabulary/phrase';
import { judgedWalks, tryEdit } from './trial';
import type { Judged } from './trial';

/**
 * Reasons with those remedies only that were tried: each is made on a copy and rehearsed over the walk and all others of which
 * something is expected. One with which nothing more happens is left out; of one with which an expectation fails that was met it is
 * said which, and it cannot be made by a press.
 */
export function withProvenRemedies(level: Level, walk: string, reasons: readonly Reason[]): Reason[] {
  if (reasons.every(({ edit }) => edit === null)) return [...reasons];
  const before = judgedWalks(level, walk);
  const [asked] = before;
  if (asked === undefined) return [...reasons];
  const more = ({ run }: Judged): boolean =>
    compareLedgers(asked.run.ledger, run.ledger).added.some(({ kind }) => kind !== 'held' && kind !== 'end');
  return reasons.map((one) => {
    if (one.edit === null) return one;
    const result = tryEdit(level, one.edit, before, more);
    if ('after' in result) return one;
    const mend =
      result.why === 'fails'
        ? `${one.mend.replace(/\.$/, '')}? Then “${expectationWords(level, result.expectation)}” fails.`
        : '';
    return { ...one, mend, edit: null };
  });
}

function expectationWords(level: Level, expectation: Expectation): string {
  const label = expectation.label.trim();
  return label === '' ? spoken(expectationPhrase(expectation), (id) => nameOf(level, id).trim()) : label;
}
