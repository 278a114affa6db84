import { freeName, nameTakenBy } from './create';
import { editsBetween } from './differences';
import { apply } from './edits';
import type { Edit } from './edits';
import type { Level } from './level';

/** What a thing of ours is called since somebody else has given its name away. */
export interface Renamed {
  id: string;
  from: string;
  to: string;
}

/**
 * Makes the edits that made `ours` of `base` again upon `theirs`. What we have called as they have called something else gets the
 * next name that is free. Throws an EditError if an edit does not fit: what it touches is not there any more.
 */
export function replay(base: Level, ours: Level, theirs: Level): { level: Level; renamed: Renamed[] } {
  const renamed: Renamed[] = [];
  const level = editsBetween(base, ours).reduce<Level>((now, edit) => {
    const given = givenName(edit);
    if (given === null || !isTaken(now, given)) return apply(now, edit);
    const to = freeName(now, given.name);
    renamed.push({ id: given.id, from: given.name, to });
    return apply(now, withName(edit, to));
  }, theirs);
  return { level, renamed };
}

/** The name that an edit gives to a thing; null if it gives none. */
function givenName(edit: Edit): { id: string; name: string } | null {
  if (edit.kind === 'add') return edit.thing;
  if (edit.kind !== 'change' || typeof edit.after['name'] !== 'string') return null;
  return { id: edit.id, name: edit.after['name'] };
}

function withName(edit: Edit, name: string): Edit {
  if (edit.kind === 'add') return { ...edit, thing: { ...edit.thing, name } };
  return edit.kind === 'change' ? { ...edit, after: { ...edit.after, name } } : edit;
}

/** Whether another thing of a level has a name. */
function isTaken(level: Level, { id, name }: { id: string; name: string }): boolean {
  return nameTakenBy(level, name, id) !== null;
}
