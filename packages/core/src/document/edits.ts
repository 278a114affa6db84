import * as z from 'zod';
import { collections } from './level';
import type { Collection, Level, Thing } from './level';

/**
 * An edit is a value: plain data that can be applied, inverted, merged with the next, and sent. It carries what was
 * there before, so that inverting it needs nothing else.
 */
export type Edit =
  | { kind: 'add'; collection: Collection; index: number; thing: Thing }
  | { kind: 'remove'; collection: Collection; index: number; thing: Thing }
  | { kind: 'change'; collection: Collection; id: string; before: Fields; after: Fields }
  | { kind: 'move'; collection: Collection; id: string; from: number; to: number }
  | { kind: 'level'; before: Fields; after: Fields }
  | { kind: 'all'; label: string; edits: Edit[] };

/** Some fields of a thing with their values; the whole value of each, never a part of it. */
export type Fields = Record<string, unknown>;

/** An edit that does not fit the level it is applied to. */
export class EditError extends Error {
  override name = 'EditError';
}

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

/**
 * The level with the edit made; the argument stays as it is, and what the edit does not touch is shared with it.
 * Throws an EditError if the thing is not there (or is there already, for `add`).
 */
export function apply(level: Level, edit: Edit): Level {
  switch (edit.kind) {
    case 'add': {
      const list = level[edit.collection] as Thing[];
      if (list.some((one) => one.id === edit.thing.id)) throw new EditError(`"${edit.thing.id}" is in the level already`);
      return withList(level, edit.collection, list.toSpliced(Math.min(edit.index, list.length), 0, edit.thing));
    }
    case 'remove':
      return withList(
        level,
        edit.collection,
        (level[edit.collection] as Thing[]).toSpliced(find(level, edit.collection, edit.thing.id), 1),
      );
    case 'change': {
      const at = find(level, edit.collection, edit.id);
      const list = level[edit.collection] as Thing[];
      return withList(level, edit.collection, list.with(at, { ...list[at], ...edit.after } as Thing));
    }
    case 'move': {
      const list = level[edit.collection] as Thing[];
      const at = find(level, edit.collection, edit.id);
      return withList(level, edit.collection, list.toSpliced(at, 1).toSpliced(edit.to, 0, list[at]!));
    }
    case 'level':
      return { ...level, ...edit.after };
    case 'all':
      return edit.edits.reduce(apply, level);
  }
}

/** The edit that takes this one back: `apply(apply(l, e), invert(e))` equals `l`. */
export function invert(edit: Edit): Edit {
  switch (edit.kind) {
    case 'add':
      return { ...edit, kind: 'remove' };
    case 'remove':
      return { ...edit, kind: 'add' };
    case 'change':
      return { ...edit, before: edit.after, after: edit.before };
    case 'move':
      return { ...edit, from: edit.to, to: edit.from };
    case 'level':
      return { ...edit, before: edit.after, after: edit.before };
    case 'all':
      return { ...edit, edits: edit.edits.map(invert).reverse() };
  }
}

/**
 * One edit that does what `first` and then `second` do, or null if they are better kept apart. Only changes of the very
 * same fields of the same thing are merged: one drag, one run of typing.
 */
export function merge(first: Edit, second: Edit): Edit | null {
  if (first.kind === 'change' && second.kind === 'change') {
    if (first.collection !== second.collection || first.id !== second.id || !sameKeys(first.after, second.after)) return null;
    return { ...first, after: second.after };
  }
  if (first.kind === 'level' && second.kind === 'level' && sameKeys(first.after, second.after)) {
    return { ...first, after: second.after };
  }
  if (
    first.kind === 'all' &&
    second.kind === 'all' &&
    first.label === second.label &&
    first.edits.length === second.edits.length
  ) {
    const merged = first.edits.map((edit, i) => merge(edit, second.edits[i]!));
    return merged.every((edit) => edit !== null) ? { ...first, edits: merged } : null;
  }
  return null;
}

/** The edit that gives a thing some new fields. */
export function change<T extends Thing>(collection: Collection, thing: T, after: Partial<T>): Edit {
  const before: Fields = {};
  for (const key of Object.keys(after)) before[key] = (thing as Fields)[key];
  return { kind: 'change', collection, id: thing.id, before, after: after as Fields };
}

/** The edit that takes a thing out of the level. What refers to it stays, and shows up as a broken reference. */
export function remove(level: Level, collection: Collection, id: string): Edit {
  const index = find(level, collection, id);
  return { kind: 'remove', collection, index, thing: level[collection][index]! };
}

/** The edit that puts a new thing at the end of its list. */
export function add(level: Level, collection: Collection, thing: Thing): Edit {
  return { kind: 'add', collection, index: level[collection].length, thing };
}

/** The ids of the things that an edit touches. */
export function touched(edit: Edit): string[] {
  switch (edit.kind) {
    case 'add':
    case 'remove':
      return [edit.thing.id];
    case 'change':
    case 'move':
      return [edit.id];
    case 'level':
      return [];
    case 'all':
      return edit.edits.flatMap(touched);
  }
}

function find(level: Level, collection: Collection, id: string): number {
  const at = level[collection].findIndex((one) => one.id === id);
  if (at < 0) throw new EditError(`"${id}" is not among the ${collection} of this level any more`);
  return at;
}

function withList(level: Level, collection: Collection, list: Thing[]): Level {
  return { ...level, [collection]: list };
}

function sameKeys(a: Fields, b: Fields): boolean {
  const keys = Object.keys(a);
  return keys.length === Object.keys(b).length && keys.every((key) => key in b);
}
