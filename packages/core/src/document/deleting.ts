import { remove } from './edits';
import type { Edit } from './edits';
import { expressions } from './expressions';
import type { Level, Thing } from './level';
import { lookup, nameOf } from './lookup';
import { references } from './references';

/** The edit that deletes some things, and what still refers to them, in a sentence; or why they are not deleted. */
export type Deletion = { ok: true; edit: Edit | null; said: string | null } | { ok: false; error: string };

/** Deletes things of a level, by their ids; unknown ones are passed over. The last room stays. */
export function deletionOf(level: Level, ids: readonly string[]): Deletion {
  if (level.rooms.every((room) => ids.includes(room.id))) {
    const name = level.rooms.at(-1)?.name ?? '';
    return { ok: false, error: `Could not delete ${name}: a level needs at least one room. Add another room first.` };
  }
  let after = level;
  const edits: Edit[] = [];
  const deleted = ids.filter((id) => lookup(level).has(id));
  for (const id of deleted) {
    const found = lookup(after).get(id)!;
    edits.push(remove(after, found.collection, id));
    after = { ...after, [found.collection]: (after[found.collection] as Thing[]).filter((thing) => thing.id !== id) };
  }
  if (edits.length === 0) return { ok: true, edit: null, said: null };
  return {
    ok: true,
    edit: edits.length === 1 ? edits[0]! : { kind: 'all', label: 'delete', edits },
    said: stillReferring(level, after, deleted),
  };
}

/** What of a level refers to things that were deleted from it, in a sentence; null if nothing does. */
function stillReferring(before: Level, after: Level, ids: readonly string[]): string | null {
  const gone = new Set(ids);
  const reading = expressions(after).filter(({ text }) => ids.some((id) => text.includes(`"${id}"`) || text.includes(`'${id}'`)));
  const from = [...references(after).filter(({ to }) => gone.has(to)), ...reading].map((one) => one.from);
  const names = [...new Set(from)].map((id) => `“${nameOf(after, id).trim()}”`);
  if (names.length === 0) return null;
  const what = ids.length === 1 ? `“${nameOf(before, ids[0]!).trim()}”` : `${ids.length} things`;
  const listed = names.length > 4 ? `${names.slice(0, 4).join(', ')} and ${names.length - 4} more` : names.join(', ');
  return `Deleted ${what}. Still referenced by ${listed}. Undo, or fix the errors in Check.`;
}
