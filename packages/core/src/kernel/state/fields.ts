import type { CompiledLevel } from './plan';
import type { Reads } from './reads';
import type { World } from './world';

// The parts of a world are declared field by field: how each is copied, how it enters the key, and how it is read back from it.
// A field that is not declared does not compile.

/** What the key of a world is made with. */
export interface Seen {
  plan: CompiledLevel;
  world: World;
  reads: Reads;
  /** The place of a run among those that go on, in the order in which they began; -1 if it is over. */
  placeOf(run: number): number;
}

/** What a world is read back with. */
export interface Restoring {
  plan: CompiledLevel;
  /** The tick as of which the world is restored: -1 before the first. */
  tick: number;
  /** The chain of the run at a place; '' if it is over. */
  chainOf(place: number): string;
}

/** One field of a part of a world. */
export interface Field<Owner, Value> {
  /** A value that shares nothing that is changed in place; missing where nothing is. */
  copy?(value: Value): Value;
  /** What of it decides how a world goes on, as JSON; missing if it does not. */
  key?(value: Value, seen: Seen, owner: Owner): unknown;
  /** Why it is not in the key, or not in every. */
  why?: string;
  /** Set where other parts are compared with it: what it says is in the key as part of them. */
  isCompared?: true;
  /** The declaration of its parts, if it has any. */
  of?: Fields<never>;
  /** The value of a world that goes on alike. `owner` has the fields that are declared before this one. */
  restore(keyed: unknown, from: Restoring, owner: Partial<Owner>): Value;
}

/** The declaration of a part of a world, complete. */
export type Fields<T> = { readonly [K in keyof T]-?: Field<T, T[K]> };

type AnyField = Field<object, unknown>;
type Values = Record<string, unknown>;

/** The fields by name, in their order: they are gone through for each world that is copied. */
const listed = new WeakMap<object, readonly (readonly [string, AnyField])[]>();
const copied = new WeakMap<object, readonly (readonly [string, (value: unknown) => unknown])[]>();

function listOf(fields: object): readonly (readonly [string, AnyField])[] {
  let list = listed.get(fields);
  if (list === undefined) {
    list = Object.entries(fields as Record<string, AnyField>);
    listed.set(fields, list);
  }
  return list;
}

/** A copy that shares nothing that is changed in place. */
export function copyOf<T extends object>(fields: Fields<T>, value: T): T {
  let deep = copied.get(fields);
  if (deep === undefined) {
    deep = listOf(fields).flatMap(([name, { copy }]) => (copy === undefined ? [] : [[name, copy] as const]));
    copied.set(fields, deep);
  }
  const made = { ...value } as Values;
  for (const [name, copy] of deep) made[name] = copy(made[name]);
  return made as T;
}

/** What of a part of a world decides how it goes on: a list with a place for each field that can. */
export function keyedOf<T extends object>(fields: Fields<T>, value: T, seen: Seen): unknown[] {
  const keyed: unknown[] = [];
  for (const [name, { key }] of listOf(fields)) if (key !== undefined) keyed.push(key((value as Values)[name], seen, value));
  return keyed;
}

/** A part of a world from what `keyedOf` gave. */
export function restoredOf<T extends object>(fields: Fields<T>, keyed: unknown, from: Restoring): T {
  const values = keyed as unknown[];
  const owner: Values = {};
  let at = 0;
  for (const [name, { key, restore }] of listOf(fields))
    owner[name] = restore(key === undefined ? undefined : values[at++], from, owner);
  return Object.fromEntries(Object.entries(owner)) as T;
}

/** A value that is in the key as it is, and never changed in place. */
export function same<V>(): Field<object, V> {
  return { key: (value) => value, restore: (keyed) => keyed as V };
}

/** A value that is no part of the key, and what stands in its place in a world that is read back. */
export function leftOut<V>(why: string, restored: (from: Restoring) => V, copy?: (value: V) => V): Field<object, V> {
  return { why, restore: (_keyed, from) => restored(from), ...(copy === undefined ? {} : { copy }) };
}

/** A number that tells what refers to it from what was called off: only the former is in the key. */
export function token(why: string, restored = 0): Field<object, number> {
  return { ...leftOut(why, () => restored), isCompared: true };
}

/** A value that is in the key where it is read only. */
export function ifRead<Owner, V>(
  why: string,
  isRead: (seen: Seen, owner: Owner) => boolean,
  otherwise: (from: Restoring, owner: Partial<Owner>) => V,
): Field<Owner, V> {
  return {
    why,
    key: (value, seen, owner) => (isRead(seen, owner) ? [value] : 0),
    restore: (keyed, from, owner) => (keyed === 0 ? otherwise(from, owner) : (keyed as [V])[0]),
  };
}

/** A tick, in the key as so many from now on. */
export function fromNow(): Field<object, number> {
  return {
    key: (tick, { world }) => tick - world.tick,
    restore: (keyed, { tick }) => tick + (keyed as number),
  };
}

/** The number of the entry that something came from: the key does not say it. */
export function cause<V extends number | null>(restored: V): Field<object, V> {
  return leftOut('It is told in entries only: nothing asks for it.', () => restored);
}

/** A part with fields of its own. */
export function part<T extends object>(fields: Fields<T>): Field<object, T> {
  return {
    of: fields as Fields<never>,
    copy: (value) => copyOf(fields, value),
    key: (value, seen) => keyedOf(fields, value, seen),
    restore: (keyed, from) => restoredOf(fields, keyed, from),
  };
}

/** A field that may be null. */
export function orNull<V>({ copy, key, restore, why, of }: Field<object, V>): Field<object, V | null> {
  return {
    ...(of === undefined ? {} : { of }),
    ...(copy === undefined ? {} : { copy: (value) => (value === null ? null : copy(value)) }),
    ...(key === undefined ? {} : { key: (value, seen, owner) => (value === null ? null : key(value, seen, owner)) }),
    ...(why === undefined ? {} : { why }),
    restore: (keyed, from, owner) => (keyed === null ? null : restore(keyed, from, owner)),
  };
}

/** A list whose order counts. */
export function listOfAll<V>({ copy, key, restore, of }: Field<object, V>): Field<object, V[]> {
  return {
    ...(of === undefined ? {} : { of }),
    copy: (values) => (copy === undefined ? values.slice() : values.map(copy)),
    key: (values, seen, owner) => values.map((value) => key!(value, seen, owner)),
    restore: (keyed, from, owner) => (keyed as unknown[]).map((one) => restore(one, from, owner)),
  };
}

/** A set, in the key in an order of its own. */
export function set<V extends string | number>(): Field<object, Set<V>> {
  return {
    copy: (values) => new Set(values),
    key: (values) => [...values].sort(),
    restore: (keyed) => new Set(keyed as V[]),
  };
}

/** A map, in the key in an order of its own; what counts as nothing is left out. */
export function map<V>(
  { copy, key, restore, of }: Field<object, V>,
  isNothing?: (value: V) => boolean,
): Field<object, Map<string, V>> {
  return {
    ...(isNothing === undefined ? {} : { why: 'What is empty is left out.' }),
    ...(of === undefined ? {} : { of }),
    copy: (values) => new Map(copy === undefined ? values : Array.from(values, ([id, value]) => [id, copy(value)])),
    key: (values, seen, owner) =>
      Array.from(values)
        .filter(([, value]) => isNothing?.(value) !== true)
        .map(([id, value]): [string, unknown] => [id, key!(value, seen, owner)])
        .sort(([a], [b]) => (a < b ? -1 : a > b ? 1 : 0)),
    restore: (keyed, from, owner) =>
      new Map((keyed as [string, unknown][]).map(([id, value]) => [id, restore(value, from, owner)])),
  };
}
