import * as z from 'zod';
import { EditError, indexOf } from './edit';
import type { Edit, Fields } from './edit';
import { applied } from './edit-kinds';
import { collections } from './level';
import type { Collection, Level, Thing } from './level';

export { EditError } from './edit';
export { applied, invert, merge, touched } from './edit-kinds';
export type { Edit, Fields } from './edit';

const collectionName = z.enum(collections);
const fields = z.record(z.string(), z.unknown());
const thing = z.looseObject({ id: z.string(), name: z.string() }) as unknown as z.ZodType<Thing>;
const position = z.number().int().min(0);

/** Edits as they are kept in a browser or sent: the same values, checked. */
export const editSchema: z.ZodType<Edit> = z.lazy(() =>
  z.discriminatedUnion('kind', [
    z.strictObject({ kind: z.literal('add'), collection: collectionName, index: position, thing }),
    z.strictObject({ kind: z.literal('remove'), collection: collectionName, index: position, thing }),
    z.strictObject({ kind: z.literal('change'), collection: collectionName, id: z.string(), before: fields, after: fields }),
    z.strictObject({ kind: z.literal('move'), collection: collectionName, id: z.string(), from: position, to: position }),
    z.strictObject({ kind: z.literal('level'), before: fields, after: fields }),
    z.strictObject({ kind: z.literal('all'), label: z.string(), edits: z.array(editSchema) }),
  ]),
);

/** A level with an edit made, or why it does not fit: in a clause for the user. */
export type Applied = { ok: true; level: Level } | { ok: false; reason: string };

/** Makes an edit; the level given stays as it is, and what the edit does not touch is shared with it. */
export function apply(level: Level, edit: Edit): Applied {
  try {
    return { ok: true, level: applied(level, edit) };
  } catch (error) {
    if (error instanceof EditError) return { ok: false, reason: error.message };
    throw error;
  }
}

/** The edit that gives a thing some new fields. */
export function change<T extends Thing>(collection: Collection, thing: T, after: Partial<T>): Edit {
  const before: Fields = {};
  for (const key of Object.keys(after)) if (key in thing) before[key] = (thing as Fields)[key];
  return { kind: 'change', collection, id: thing.id, before, after: after as Fields };
}

/** The edit that takes a thing out of the level. What refers to it stays, and shows up as a broken reference. */
export function remove(level: Level, collection: Collection, id: string): Edit {
  const index = indexOf(level, collection, id);
  return { kind: 'remove', collection, index, thing: level[collection][index]! };
}

/** The edit that puts a new thing at the end of its list. */
export function add(level: Level, collection: Collection, thing: Thing): Edit {
  return { kind: 'add', collection, index: level[collection].length, thing };
}
