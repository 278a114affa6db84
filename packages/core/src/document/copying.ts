import { withValue } from '../vocabulary/paths';
import { freeName } from './create';
import { freeGroup } from './groups';
import { add } from './edits';
import type { Edit } from './edits';
import { expressionsOf } from './expressions';
import { collections } from './level';
import type { Collection, Level, Thing } from './level';
import { lookup } from './lookup';
import { connections, referencesOf } from './references';

/** Some things of a level, to be put elsewhere: plain data, as it goes through a clipboard. */
export interface Fragment {
  things: { collection: Collection; thing: Thing }[];
}

/** Some things of a level; with their wiring: the chains that they set off, and what is attached to them. */
export function fragmentOf(level: Level, ids: readonly string[], wiring: boolean): Fragment {
  const wanted = new Set(ids);
  if (wiring) {
    for (const one of [...level.zones, ...level.fixtures]) if (wanted.has(one.attachedTo)) wanted.add(one.id);
    for (const id of [...wanted]) for (const chain of connections(level, id).setsOff) wanted.add(chain);
  }
  const things = lookup(level);
  return {
    things: collections.flatMap((collection) =>
      (level[collection] as Thing[]).filter(({ id }) => wanted.has(id) && things.has(id)).map((thing) => ({ collection, thing })),
    ),
  };
}

/**
 * The edit that puts a copy of a fragment into a level: with ids and names of its own, moved by `by`, into `room` if one is given.
 * What its things name among themselves they name in the copy; what lies outside of it they go on to name.
 */
export function pasted(
  level: Level,
  { things }: Fragment,
  newId: (prefix: string) => string,
  { by, room }: { by: { x: number; y: number }; room?: string },
): { edit: Edit; ids: string[] } {
  const renamed = new Map(things.map(({ collection, thing }) => [thing.id, newId(collection.replace(/s$/, ''))]));
  const edits: Edit[] = [];
  const groups = new Map<string, string>();
  let now = level;
  for (const { collection, thing } of things) {
    const copy = { ...copied(collection, thing, renamed, newId, by), name: freeName(now, thing.name.trim()) } as Thing;
    // Copies of a group are a group of their own.
    if ('group' in copy && copy.group !== undefined && copy.group !== '') {
      const own = groups.get(copy.group) ?? freeGroup(now, copy.group.replace(/ \d+$/, ''));
      groups.set(copy.group, own);
      copy.group = own;
    }
    const there = room !== undefined && 'room' in copy ? ({ ...copy, room } as Thing) : copy;
    edits.push(add(now, collection, there));
    now = { ...now, [collection]: [...now[collection], there] };
  }
  return { edit: { kind: 'all', label: 'copy', edits }, ids: things.map(({ thing }) => renamed.get(thing.id)!) };
}

function copied(
  collection: Collection,
  thing: Thing,
  renamed: ReadonlyMap<string, string>,
  newId: (prefix: string) => string,
  by: { x: number; y: number },
): Thing {
  let copy: Thing = structuredClone(thing);
  const asking = new Set(expressionsOf(collection, thing).map(({ path }) => path));
  for (const { path, to } of referencesOf(collection, thing)) {
    const other = renamed.get(to);
    if (other !== undefined && !asking.has(path)) copy = withValue(copy, path, other);
  }
  for (const { path, text } of expressionsOf(collection, thing))
    copy = withValue(
      copy,
      path,
      text.replace(/(["'])([a-z0-9-]+)\1/g, (whole, _quote, id: string) => (renamed.has(id) ? `"${renamed.get(id)!}"` : whole)),
    );
  copy = { ...copy, id: renamed.get(thing.id)! };
  if ('at' in copy) copy = { ...copy, at: { ...copy.at, x: copy.at.x + by.x, y: copy.at.y + by.y } } as Thing;
  if ('extents' in copy) {
    const { west, east, south, north } = copy.extents;
    copy = { ...copy, extents: { west: west + by.x, east: east + by.x, south: south + by.y, north: north + by.y } };
  }
  if ('causes' in copy)
    copy = {
      ...copy,
      causes: copy.causes.map((cause) => ({ ...cause, id: newId('cause') })),
      steps: copy.steps.map((step) => ({ ...step, id: newId('step') })),
    };
  if ('routes' in copy)
    copy = {
      ...copy,
      routes: copy.routes.map((route) => ({
        ...route,
        instructions: route.instructions.map((one) => ({ ...one, id: newId('go') })),
      })),
      expectations: copy.expectations.map((one) => ({ ...one, id: newId('expect') })),
    };
  return copy;
}
