import type { Edit } from '../document/edits';
import type { Level } from '../document/level';
import { compareLedgers } from '../reading/compare';
import type { Reason } from '../reading/reason';
import { judgedWalks, tryEdit } from './trial';

/**
 * Reasons with those remedies only that were tried: each is made on a copy and rehearsed over the walk and all others of which
 * something is expected. A remedy with which nothing more happens, or with which an expectation fails that was met, is not offered.
 */
export function withProvenRemedies(level: Level, walk: string, reasons: readonly Reason[]): Reason[] {
  if (reasons.every(({ edit }) => edit === null)) return [...reasons];
  const before = judgedWalks(level, walk);
  const [asked] = before;
  if (asked === undefined) return [...reasons];
  const known = new Map<Edit, boolean>();
  const helps = (edit: Edit): boolean => {
    let does = known.get(edit);
    if (does === undefined) {
      const more = ({ run }: (typeof before)[number]): boolean =>
        compareLedgers(asked.run.ledger, run.ledger).added.some(({ kind }) => kind !== 'held' && kind !== 'end');
      does = tryEdit(level, edit, before, more) !== null;
      known.set(edit, does);
    }
    return does;
  };
  return reasons.map((one) => (one.edit === null || helps(one.edit) ? one : { ...one, mend: '', edit: null }));
}
