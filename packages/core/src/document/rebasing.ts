import { same } from '../vocabulary/same';
import { editsBetween } from './differences';
import { fieldsOf } from './edit';
import type { Edit } from './edit';
import { fitEach, yielded } from './edit-kinds';
import type { Given, Lost, Renamed } from './edit-kinds';
import { collections } from './level';
import type { Collection, Level, Thing } from './level';

export type { Lost, Renamed } from './edit-kinds';

/** A field that two have given different values at the same time. Of the level itself the id is "". */
export interface Overwritten {
  id: string;
  field: string;
}

/** Edits that were made on an earlier level, as they are made on the one that somebody else has edited meanwhile. */
export interface Rebased {
  edits: Edit[];
  /** The level with both. */
  level: Level;
  renamed: Renamed[];
  lost: Lost[];
  /** The fields of theirs that the edits have given other values: the later of two values stays. */
  overwritten: Overwritten[];
}

/**
 * Maps edits over those that somebody else has made on the same level, as collaborative editors do with their steps: what was renamed
 * gives way to a name that is taken, what was deleted stays deleted, and every other change is made anew.
 *
 * `theirs`: the level with the others' edits, and nothing of ours; `over`: those edits.
 */
export function rebase(edits: readonly Edit[], over: readonly Edit[], theirs: Level): Rebased {
  const given = givenBy(over);
  const found = fitEach(theirs, edits.map(inDetail));
  const overwritten = [...givenBy(found.edits)].flatMap(([id, fields]) =>
    [...fields].flatMap((field) =>
      given.get(id)?.has(field) === true && !same(valueOf(theirs, id, field), valueOf(found.level, id, field))
        ? { id, field }
        : [],
    ),
  );
  return { ...found, overwritten };
}

/** An edit as it can be made on a level that others have edited since; null if nothing of it is left. */
export function fit(level: Level, edit: Edit): { edit: Edit | null; level: Level } {
  const { edits, level: made } = fitEach(level, [inDetail(edit)]);
  return { edit: edits[0] ?? null, level: made };
}

/**
 * Edits that can be taken back, after somebody else has made theirs: without the fields that are theirs now, so that undo takes back
 * one's own edits only.
 */
export function yielding(edits: readonly Edit[], over: readonly Edit[]): Edit[] {
  const given = givenBy(over);
  return edits.flatMap((edit) => yielded(edit, given) ?? []);
}

/** Whether edits give a field of a thing, or of the level itself (id ""), a value. */
export function sets(edits: readonly Edit[], { id, field }: Overwritten): boolean {
  return givenBy(edits).get(id)?.has(field) === true;
}

/** The fields that edits give values, by the ids of their things; those of the level itself by "". */
function givenBy(edits: readonly Edit[], given = new Map<string, Set<string>>()): Given {
  for (const edit of edits) {
    if (edit.kind === 'all') givenBy(edit.edits, given);
    if (edit.kind !== 'change' && edit.kind !== 'level') continue;
    const id = edit.kind === 'change' ? edit.id : '';
    const fields = given.get(id) ?? new Set();
    for (const field of fieldsOf(edit)) fields.add(field);
    given.set(id, fields);
  }
  return given;
}

/** The value of a field of a thing, or of the level itself (id ""). */
function valueOf(level: Level, id: string, field: string): unknown {
  const things = collections.map((collection) => (level[collection] as Thing[]).find((thing) => thing.id === id));
  const owner = id === '' ? level : things.find((thing) => thing !== undefined);
  return (owner as Record<string, unknown> | undefined)?.[field];
}

/** An edit that replaces whole lists, as the edits of their things; any other as it is. */
function inDetail(edit: Edit): Edit {
  if (edit.kind === 'all') return { ...edit, edits: edit.edits.map(inDetail) };
  if (edit.kind !== 'level' || !Object.keys(edit.after).some(isCollection)) return edit;
  const empty = Object.fromEntries(collections.map((collection) => [collection, []]));
  const [before, after] = [edit.before, edit.after].map((fields) => ({ ...empty, ...fields }) as unknown as Level);
  return { kind: 'all', label: 'replaced', edits: editsBetween(before!, after!) };
}

function isCollection(field: string): field is Collection {
  return (collections as readonly string[]).includes(field);
}
