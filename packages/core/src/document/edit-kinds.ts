import { freeName, nameTakenBy } from './create';
import { EditError, fieldsOf, indexOf, withFields, withList } from './edit';
import type { Edit, EditOf, Fields } from './edit';
import type { Fixture } from '../kinds/fixtures';
import { isAttachedToItself } from './level';
import type { Collection, Level, Thing } from './level';
import { parseThing } from './parse';
import { same } from '../vocabulary/same';

/** What a thing is called now, since somebody else has given its name to another. */
export interface Renamed {
  id: string;
  from: string;
  to: string;
}

/** A change that could not be kept: its thing is gone, or would not be valid together with somebody else's change. */
export interface Lost {
  collection: Collection;
  id: string;
  name: string;
  why: 'deleted' | 'invalid';
}

/** An edit as it fits another level; null if nothing of it is left. And what became of the rest. */
export interface Fitted {
  edit: Edit | null;
  renamed: Renamed[];
  lost: Lost[];
}

/** Which fields somebody has given values, by what has them: a thing by its id, the level itself by "". */
export type Given = ReadonlyMap<string, ReadonlySet<string>>;

/** All there is to know of one kind of edit. A new kind is one such value. */
interface EditKind<Kind extends Edit['kind']> {
  /** The level with the edit made. Throws an EditError if it does not fit. */
  apply(level: Level, edit: EditOf<Kind>): Level;
  /** What takes it back. */
  invert(edit: EditOf<Kind>): Edit;
  /** One edit that does what both do, or null if they are better kept apart. */
  merge(first: EditOf<Kind>, second: EditOf<Kind>): Edit | null;
  /** As it can be made on a level that somebody else has edited since. */
  fit(level: Level, edit: EditOf<Kind>): Fitted;
  /** What of it is left when the fields that somebody has given values since are theirs; null for nothing. */
  yield(edit: EditOf<Kind>, given: Given): Edit | null;
  /** The ids of the things that it touches. */
  touched(edit: EditOf<Kind>): string[];
}

const add: EditKind<'add'> = {
  apply(level, { collection, index, thing }) {
    const list = level[collection] as Thing[];
    if (list.some((one) => one.id === thing.id)) throw new EditError(`"${thing.id}" is in the level already`);
    return withList(level, collection, list.toSpliced(Math.min(index, list.length), 0, thing));
  },
  invert: (edit) => ({ ...edit, kind: 'remove' }),
  merge: () => null,
  fit(level, edit) {
    const { collection, thing } = edit;
    const isThere = level[collection].some(({ id }) => id === thing.id);
    if (isThere) return fits(null);
    if (closesRing(level, collection, thing.id, thing as Partial<Fixture>)) return lost(collection, thing, 'invalid');
    const named = freed(level, thing.id, thing.name);
    return fits({ ...edit, thing: named === null ? thing : { ...thing, name: named.to } }, named);
  },
  yield: (edit) => edit,
  touched: ({ thing }) => [thing.id],
};

const remove: EditKind<'remove'> = {
  apply: (level, { collection, thing }) =>
    withList(level, collection, (level[collection] as Thing[]).toSpliced(indexOf(level, collection, thing.id), 1)),
  invert: (edit) => ({ ...edit, kind: 'add' }),
  merge: () => null,
  fit(level, edit) {
    const index = level[edit.collection].findIndex(({ id }) => id === edit.thing.id);
    return fits(index < 0 ? null : { ...edit, index, thing: level[edit.collection][index]! });
  },
  yield: (edit) => edit,
  touched: ({ thing }) => [thing.id],
};

const change: EditKind<'change'> = {
  apply(level, edit) {
    const { collection, id } = edit;
    const at = indexOf(level, collection, id);
    const list = level[collection] as Thing[];
    return withList(level, collection, list.with(at, withFields(list[at]!, edit)));
  },
  invert: (edit) => ({ ...edit, before: edit.after, after: edit.before }),
  merge: (first, second) =>
    first.collection === second.collection && first.id === second.id && areSameFields(first, second)
      ? { ...first, after: second.after }
      : null,
  fit(level, edit) {
    const { collection, id } = edit;
    const thing = (level[collection] as Thing[]).find((one) => one.id === id);
    if (thing === undefined) {
      const name = edit.before['name'] ?? edit.after['name'] ?? id;
      return lost(collection, { id, name: String(name) }, 'deleted');
    }
    const given = edit.after['name'];
    const named = typeof given === 'string' ? freed(level, id, given) : null;
    const after: Fields = named === null ? edit.after : { ...edit.after, name: named.to };
    const isValid = !closesRing(level, collection, id, after) && parseThing(collection, withFields(thing, { ...edit, after })).ok;
    if (!isValid) return lost(collection, thing, 'invalid');
    return fits({ ...edit, before: pick(thing as Fields, fieldsOf(edit)), after }, named);
  },
  yield(edit, given) {
    const theirs = given.get(edit.id);
    if (theirs === undefined) return edit;
    return left({ ...edit, before: without(edit.before, theirs), after: without(edit.after, theirs) });
  },
  touched: ({ id }) => [id],
};

const move: EditKind<'move'> = {
  apply(level, { collection, id, to }) {
    const list = level[collection] as Thing[];
    const at = indexOf(level, collection, id);
    return withList(level, collection, list.toSpliced(at, 1).toSpliced(to, 0, list[at]!));
  },
  invert: (edit) => ({ ...edit, from: edit.to, to: edit.from }),
  merge: () => null,
  fit(level, edit) {
    const list = level[edit.collection];
    const from = list.findIndex(({ id }) => id === edit.id);
    return fits(from < 0 ? null : { ...edit, from, to: Math.min(edit.to, list.length - 1) });
  },
  yield: (edit) => edit,
  touched: ({ id }) => [id],
};

const level: EditKind<'level'> = {
  apply: withFields,
  invert: (edit) => ({ ...edit, before: edit.after, after: edit.before }),
  merge: (first, second) => (areSameFields(first, second) ? { ...first, after: second.after } : null),
  fit: (now, edit) => fits({ ...edit, before: pick(now, fieldsOf(edit)) }),
  yield(edit, given) {
    const theirs = given.get('') ?? new Set();
    return left({ ...edit, before: without(edit.before, theirs), after: without(edit.after, theirs) });
  },
  touched: () => [],
};

const all: EditKind<'all'> = {
  apply: (before, { edits }) => edits.reduce(applied, before),
  invert: (edit) => ({ ...edit, edits: edit.edits.map(invert).reverse() }),
  merge(first, second) {
    if (first.label !== second.label || first.edits.length !== second.edits.length) return null;
    const merged = first.edits.map((edit, i) => merge(edit, second.edits[i]!));
    return merged.every((edit) => edit !== null) ? { ...first, edits: merged } : null;
  },
  fit(now, edit) {
    const found = fitEach(now, edit.edits);
    return { ...found, edit: found.edits.length === 0 ? null : { ...edit, edits: found.edits } };
  },
  yield(edit, given) {
    const edits = edit.edits.flatMap((one) => yielded(one, given) ?? []);
    return edits.length === 0 ? null : { ...edit, edits };
  },
  touched: ({ edits }) => edits.flatMap(touched),
};

const kinds: { [Kind in Edit['kind']]: EditKind<Kind> } = { add, remove, change, move, level, all };

function kindOf<E extends Edit>(edit: E): EditKind<E['kind']> {
  return kinds[edit.kind] as EditKind<E['kind']>;
}

/**
 * The level with an edit made that was made for it; the level given stays as it is, and what the edit does not touch is shared with it.
 * Throws an EditError if the thing is not there (or is there already, for `add`).
 */
export function applied(before: Level, edit: Edit): Level {
  return kindOf(edit).apply(before, edit as never);
}

/** The edit that takes this one back: `applied(applied(l, e), invert(e))` equals `l`. */
export function invert(edit: Edit): Edit {
  return kindOf(edit).invert(edit as never);
}

/**
 * One edit that does what `first` and then `second` do, or null if they are better kept apart. Only changes of the very
 * same fields of the same thing are merged: one drag, one run of typing.
 */
export function merge(first: Edit, second: Edit): Edit | null {
  return first.kind === second.kind ? kindOf(first).merge(first as never, second as never) : null;
}

/** The ids of the things that an edit touches. */
export function touched(edit: Edit): string[] {
  return kindOf(edit).touched(edit as never);
}

/** What is left of an edit when the fields that somebody has given values since are theirs; null for nothing. */
export function yielded(edit: Edit, given: Given): Edit | null {
  return kindOf(edit).yield(edit as never, given);
}

/** Edits as they fit a level one after the other, and the level that they make of it. */
export function fitEach(now: Level, edits: readonly Edit[]): Omit<Fitted, 'edit'> & { level: Level; edits: Edit[] } {
  const found = { level: now, edits: [] as Edit[], renamed: [] as Renamed[], lost: [] as Lost[] };
  for (const one of edits) {
    const { edit, renamed, lost: without } = kindOf(one).fit(found.level, one as never);
    found.renamed.push(...renamed);
    found.lost.push(...without);
    if (edit === null) continue;
    found.edits.push(edit);
    found.level = applied(found.level, edit);
  }
  return found;
}

function fits(edit: Edit | null, named: Renamed | null = null): Fitted {
  return { edit, renamed: named === null ? [] : [named], lost: [] };
}

function lost(collection: Collection, { id, name }: Pick<Thing, 'id' | 'name'>, why: Lost['why']): Fitted {
  return { edit: null, renamed: [], lost: [{ collection, id, name, why }] };
}

/** The name that is free in place of one that another thing has; null if no other has it. */
function freed(now: Level, id: string, name: string): Renamed | null {
  return nameTakenBy(now, name, id) === null ? null : { id, from: name, to: freeName(now, name) };
}

/** Whether a thing would be attached, over others, to itself. */
function closesRing(now: Level, collection: Collection, id: string, { attachedTo }: Partial<Fixture>): boolean {
  if (collection !== 'fixtures' || typeof attachedTo !== 'string' || attachedTo === '') return false;
  const carriers = new Map(now.fixtures.map((one) => [one.id, one.attachedTo]));
  return isAttachedToItself(id, (one) => (one === id ? attachedTo : carriers.get(one)));
}

/** The fields of a value that are among those named. */
function pick(from: object, fields: readonly string[]): Fields {
  return Object.fromEntries(fields.filter((field) => field in from).map((field) => [field, (from as Fields)[field]]));
}

/** The edit, or null if it has no fields left. */
function left<E extends { before: Fields; after: Fields }>(edit: E): E | null {
  return fieldsOf(edit).length === 0 ? null : edit;
}

function without(fields: Fields, others: ReadonlySet<string>): Fields {
  return Object.fromEntries(Object.entries(fields).filter(([field]) => !others.has(field)));
}

function areSameFields(first: { before: Fields; after: Fields }, second: { before: Fields; after: Fields }): boolean {
  return same(fieldsOf(first).sort(), fieldsOf(second).sort());
}
