import type { Collection, Level, Thing } from './level';

/**
 * An edit is a value: plain data that can be applied, inverted, merged with the next, mapped over other people's edits, and sent. It
 * carries what was there before, so that inverting it needs nothing else.
 */
export type Edit =
  | { kind: 'add'; collection: Collection; index: number; thing: Thing }
  | { kind: 'remove'; collection: Collection; index: number; thing: Thing }
  | { kind: 'change'; collection: Collection; id: string; before: Fields; after: Fields }
  | { kind: 'move'; collection: Collection; id: string; from: number; to: number }
  | { kind: 'level'; before: Fields; after: Fields }
  | { kind: 'all'; label: string; edits: Edit[] };

/**
 * Some fields of a thing with their whole values. A field that only one side of an edit has is absent from the document on the other side;
 * this survives JSON, which drops undefined values.
 */
export type Fields = Record<string, unknown>;

/** The fields that an edit sets or removes. */
export function fieldsOf({ before, after }: { before: Fields; after: Fields }): string[] {
  return Object.keys({ ...before, ...after });
}

/** A thing or level with the fields that an edit sets, and without those that it removes. */
export function withFields<T extends object>(owner: T, edit: { before: Fields; after: Fields }): T {
  const gone = fieldsOf(edit).filter((field) => edit.after[field] === undefined);
  const made = { ...owner, ...edit.after };
  if (gone.length === 0) return made;
  return Object.fromEntries(Object.entries(made).filter(([field]) => !gone.includes(field))) as T;
}

/** An edit of one kind. */
export type EditOf<Kind extends Edit['kind']> = Extract<Edit, { kind: Kind }>;

/** An edit that does not fit the level it is applied to. */
export class EditError extends Error {
  override name = 'EditError';
}

/** Where a thing stands in its list. Throws an EditError if it is not there. */
export function indexOf(level: Level, collection: Collection, id: string): number {
  const at = level[collection].findIndex((one) => one.id === id);
  if (at < 0) throw new EditError(`"${id}" is not among the ${collection} of this level any more`);
  return at;
}

/** A level with another list in place of one of its own. */
export function withList(level: Level, collection: Collection, list: readonly Thing[]): Level {
  return { ...level, [collection]: list };
}
