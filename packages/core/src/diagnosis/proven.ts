import type { Level } from '../document/level';
import { nameOf } from '../document/lookup';
import type { Expectation } from '../document/walks';
import { compareLedgers } from '../reading/compare';
import type { Reason } from '../reading/reason';
import type { Rehearsal } from '../rehearsal/rehearse';
import { expectationPhrase } from '../sentences/expectations';
import { spoken } from '../vocabulary/phrase';
import { judgedWalks, tryEdit } from './trial';
import type { Judged } from './trial';

/**
 * The reasons that were found in a run, with those remedies only that were tried and help. Each is made on a copy of the level, and
 * the walk is rehearsed again, with all others of which something is expected. A remedy is left out if nothing more happens with it. If
 * an expectation that was met fails with it, the reason says which, and offers no edit.
 */
export function withProvenRemedies(level: Level, run: Rehearsal, reasons: readonly Reason[]): Reason[] {
  if (reasons.every(({ edit }) => edit === null)) return [...reasons];
  const before = judgedWalks(level, run.walk, run);
  if (before.length === 0) return [...reasons];
  const more = (now: Judged): boolean =>
    compareLedgers(run.ledger, now.run.ledger).added.some(({ kind }) => kind !== 'held' && kind !== 'end');
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
