import type { Finding } from '../checks/findings';
import type { Level } from '../document/level';
import type { Expectation } from '../document/walks';
import { compareLedgers } from '../reading/compare';
import type { Reason } from '../reading/reason';
import type { Rehearsal } from '../rehearsal/rehearse';
import { expectationWords } from '../sentences/expectations';
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
    const mend = result.why === 'fails' ? failing(level, one.mend, result.expectation) : '';
    return { ...one, mend, edit: null };
  });
}

/**
 * Findings without the fixes that would break an expectation. Each fix is made on a copy of the level, and all walks with expectations are
 * rehearsed again. A finding whose fix would break an expectation names it and has no edit. Yields the findings one by one, in order, so
 * that the caller can interrupt.
 */
export function* provenFindings<Found extends Finding>(level: Level, findings: readonly Found[]): Generator<Found> {
  const first = level.walks.find(({ expectations }) => expectations.length > 0);
  const before = first === undefined ? [] : judgedWalks(level, first.id);
  for (const one of findings) yield before.length === 0 ? one : proven(level, one, before);
}

function proven<Found extends Finding>(level: Level, one: Found, before: readonly Judged[]): Found {
  if (one.edit === null) return one;
  const result = tryEdit(level, one.edit, before, () => true);
  if ('after' in result) return one;
  const mend = result.why === 'fails' ? failing(level, one.mend, result.expectation) : one.mend;
  return { ...one, mend, edit: null };
}

function failing(level: Level, mend: string, expectation: Expectation): string {
  return `${mend.replace(/\.$/, '')}? Then “${expectationWords(level, expectation)}” fails.`;
}
