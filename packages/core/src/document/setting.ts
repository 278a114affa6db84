import { nameTakenBy } from './create';
import { change } from './edits';
import type { Edit } from './edits';
import { levelShape } from './level';
import type { Level, Thing } from './level';
import { lookup } from './lookup';
import type { Found } from './lookup';
import { parseThing } from './parse';
import { keysOf, pointer, valueAt, withValue } from '../vocabulary/paths';
import { same } from '../vocabulary/same';

/** A value of a thing or of the level, by its JSON pointer (RFC 6901) within it. */
export interface Value {
  path: string;
  value: unknown;
}

/** The edit that gives some values, null if they are so already; or why the document does not allow them, in a sentence. */
export type Setting = { ok: true; edit: Edit | null } | { ok: false; error: string };

type Fields = Record<string, unknown>;
const notAllowed = 'This value is not allowed here.';

/** Gives values to one thing, after another edit if there is one: both are one step of undo. */
export function settingOf(level: Level, id: string, values: readonly Value[], before?: Edit): Setting {
  const found = lookup(level).get(id);
  if (found === undefined) return { ok: false, error: 'This thing is no longer in the level.' };
  const name = values.find(({ path }) => path === '/name')?.value;
  const taken = name === undefined ? null : nameTakenBy(level, String(name), id);
  if (taken !== null)
    return { ok: false, error: `“${taken.trim()}” is already in use. Names must be unique in a level (case is ignored).` };
  if (before === undefined && values.every(({ path, value }) => Object.is(valueAt(found.thing, path), value)))
    return { ok: true, edit: null };
  const set = withValues(found, values);
  if (!set.ok) return { ok: false, error: set.error };
  const own = change(found.collection, found.thing, set.after);
  return { ok: true, edit: before === undefined ? own : { kind: 'all', label: 'make', edits: [before, own] } };
}

/** Gives all of some things the same values: all of them, or none. */
export function settingOfAll(things: readonly Found[], values: readonly Value[], before?: Edit): Setting {
  const edits: Edit[] = before === undefined ? [] : [before];
  for (const found of things) {
    const set = withValues(found, values);
    if (!set.ok) return { ok: false, error: `${found.thing.name.trim()}: ${set.error}` };
    const isOther = Object.entries(set.after).some(([field, value]) => !same((found.thing as unknown as Fields)[field], value));
    if (isOther) edits.push(change(found.collection, found.thing, set.after));
  }
  return { ok: true, edit: edits.length === 0 ? null : { kind: 'all', label: `change ${edits.length} things`, edits } };
}

/** Gives values to the level as a whole. */
export function settingOfLevel(level: Level, values: readonly Value[]): Setting {
  const before: Fields = {};
  const after: Fields = {};
  for (const field of fieldsOf(values) as (keyof typeof levelShape.shape)[]) {
    const own = values.filter(({ path }) => keysOf(path)[0] === field);
    const wanted = own.reduce<unknown>((now, one) => withValue(now, pointer(keysOf(one.path).slice(1)), one.value), level[field]);
    const read = levelShape.shape[field].safeParse(wanted);
    if (!read.success) return { ok: false, error: read.error.issues[0]?.message ?? notAllowed };
    if (same(read.data, level[field])) continue;
    before[field] = level[field];
    after[field] = read.data;
  }
  return { ok: true, edit: Object.keys(after).length === 0 ? null : { kind: 'level', before, after } };
}

/** The fields of a thing that some values change, as the document reads them. */
function withValues(
  { collection, thing }: Found,
  values: readonly Value[],
): { ok: true; after: Partial<Thing> } | { ok: false; error: string } {
  const parsed = parseThing(
    collection,
    values.reduce((now, { path, value }) => withValue(now, path, value), thing),
  );
  if (!parsed.ok) return { ok: false, error: parsed.faults[0]?.message ?? notAllowed };
  const after = fieldsOf(values).map((field) => [field, (parsed.thing as unknown as Fields)[field]]);
  return { ok: true, after: Object.fromEntries(after) as Partial<Thing> };
}

function fieldsOf(values: readonly Value[]): string[] {
  return [...new Set(values.map(({ path }) => keysOf(path)[0] ?? ''))];
}
