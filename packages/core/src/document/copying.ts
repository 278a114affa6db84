import { withValue } from '../vocabulary/paths';
import { freeNames } from './create';
import { freeGroup } from './groups';
import { add } from './edits';
import type { Edit } from './edits';
import { withIds } from '../conditions/by-names';
import { expressionsOf } from './expressions';
import { collections } from './level';
import type { Collection, Level, Thing } from './level';
import { lookup } from './lookup';
import { referencesOf } from './references';
import { namedTarget } from './targets';

/** A thing, the list of the level that it stands in, and where it stood among all things, so that copies keep their order. */
export interface ClipboardThing {
  collection: Collection;
  thing: Thing;
  place: number;
}

/** Some things of a level, to be put elsewhere: plain data, as it goes through a clipboard. */
export interface Fragment {
  things: ClipboardThing[];
  /** What may come along if it is asked for: chains that act on the things, and what any of these name, whatever that names in turn. */
  beside: ClipboardThing[];
}

/**
 * Some things of a level; with their wiring: the chains that they set off, what is attached to them, and beside it what they are
 * wired to.
 */
export function fragmentOf(level: Level, ids: readonly string[], wiring: boolean): Fragment {
  const wanted = new Set(ids);
  const beside = new Set<string>();
  if (wiring) {
    for (const one of [...level.zones, ...level.fixtures]) if (wanted.has(one.attachedTo)) wanted.add(one.id);
    const setOff = level.chains.filter((chain) =>
      referencesOf('chains', chain).some(({ role, to }) => role === 'cause' && wanted.has(to)),
    );
    for (const { id } of setOff) wanted.add(id);
    for (const { id, steps } of level.chains) if (steps.some((step) => wanted.has(namedTarget(step) ?? ''))) beside.add(id);
    addNamed(level, [...wanted, ...beside], beside);
  }
  const things: ClipboardThing[] = [];
  const others: ClipboardThing[] = [];
  let place = 0;
  for (const collection of collections)
    for (const thing of level[collection] as Thing[]) {
      const into = wanted.has(thing.id) ? things : beside.has(thing.id) ? others : null;
      into?.push({ collection, thing, place });
      place += 1;
    }
  return { things, beside: others };
}

/** Adds what things name, and what that names, down to the last; but for the rooms that they stand in. */
function addNamed(level: Level, ids: readonly string[], to: Set<string>): void {
  const open = [...ids];
  for (let id = open.pop(); id !== undefined; id = open.pop()) {
    const found = lookup(level).get(id);
    if (found === undefined) continue;
    for (const named of referencesOf(found.collection, found.thing)) {
      if (named.role === 'room' || to.has(named.to)) continue;
      to.add(named.to);
      open.push(named.to);
    }
  }
}

/** What is put into a level: copies, those of them that came along by their ids, and what is named instead of what the first ones name. */
export interface Copies {
  things: ClipboardThing[];
  along?: ReadonlySet<string>;
  instead?: ReadonlyMap<string, string>;
}

/**
 * The edit that puts copies into a level, with ids and names of their own, moved by so many metres, into a room if one is given; what
 * came along from another room that the level has stays there. What they name among themselves they name as copies; what lies outside
 * of them they go on to name, if nothing stands `instead`.
 */
export function pasted(
  level: Level,
  { things, along, instead }: Copies,
  newId: (prefix: string) => string,
  { by, room }: { by: { x: number; y: number }; room?: string | undefined },
): { edit: Edit; ids: string[] } {
  const own = new Map(things.map(({ collection, thing }) => [thing.id, newId(collection.replace(/s$/, ''))]));
  const renamed = new Map([...(instead ?? []), ...own]);
  const edits: Edit[] = [];
  const groups = new Map<string, string>();
  const nameFor = freeNames(level);
  let now = level;
  for (const { collection, thing } of things) {
    const copy = { ...copied(collection, thing, renamed, newId, by), name: nameFor(thing.name.trim()) } as Thing;
    // Copies of a group are a group of their own.
    if ('group' in copy && copy.group !== undefined && copy.group !== '') {
      const ownGroup = groups.get(copy.group) ?? freeGroup(now, copy.group.replace(/ \d+$/, ''));
      groups.set(copy.group, ownGroup);
      copy.group = ownGroup;
    }
    const stays = 'room' in thing && (own.has(thing.room) || (along?.has(thing.id) === true && lookup(level).has(thing.room)));
    const there = room !== undefined && 'room' in copy && !stays ? ({ ...copy, room } as Thing) : copy;
    edits.push(add(now, collection, there));
    now = { ...now, [collection]: [...now[collection], there] };
  }
  return { edit: { kind: 'all', label: 'copy', edits }, ids: things.map(({ thing }) => own.get(thing.id)!) };
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
      withIds(text, (id) => renamed.get(id) ?? null),
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
