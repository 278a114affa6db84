import { editsBetween } from './differences';
import { EditError } from './edit';
import type { Level } from './level';
import { rebase } from './rebasing';
import type { Renamed } from './rebasing';

/**
 * Makes the edits that made `ours` of `base` again upon `theirs`. What we have called as they have called something else gets the
 * next name that is free. Throws an EditError if an edit does not fit: what it touches is not there any more.
 */
export function replay(base: Level, ours: Level, theirs: Level): { level: Level; renamed: Renamed[] } {
  const { level, renamed, lost } = rebase(editsBetween(base, ours), editsBetween(base, theirs), theirs);
  const [first] = lost;
  if (first === undefined) return { level, renamed };
  throw new EditError(
    first.why === 'deleted'
      ? `"${first.id}" is not among the ${first.collection} of this level any more`
      : `"${first.name}" would not be valid with both changes`,
  );
}
