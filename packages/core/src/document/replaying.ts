import { editsBetween } from './differences';
import type { Level } from './level';
import { rebase } from './rebasing';
import type { Rebased } from './rebasing';

/**
 * Makes the edits that made `ours` of `base` again upon `theirs`. What we have called as they have called something else gets the
 * next name that is free; what cannot be made there, because its thing is gone, is told.
 */
export function replay(base: Level, ours: Level, theirs: Level): Omit<Rebased, 'edits'> {
  return rebase(editsBetween(base, ours), editsBetween(base, theirs), theirs);
}
