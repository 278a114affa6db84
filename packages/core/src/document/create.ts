import type * as z from 'zod';
import type { Collection, Level, Thing } from './level';
import { collections, levelShape } from './level';
import { NAME_MOST, nameKey } from '../vocabulary/quantities';
import type { Vector } from '../vocabulary/quantities';
import { headingOf } from '../space/headings';
import { cause } from '../kinds/causes/cause';
import type { Cause } from '../kinds/causes/cause';
import type { CauseEvent } from '../vocabulary/events';
import { areAlike } from '../vocabulary/nearest';
import { chain } from './chains';
import { WALL_THICKNESS_M, stencils } from './stencils';
import type { Stencil } from './stencils';
import type { Chain } from './chains';

/** What is made without being put anywhere: facts, messages, and what watches them. */
export type StateKind = 'flag' | 'counter' | 'text' | 'signal' | 'watch';

export const factCollection: Record<StateKind, 'flags' | 'counters' | 'texts' | 'signals' | 'watches'> = {
  flag: 'flags',
  counter: 'counters',
  text: 'texts',
  signal: 'signals',
  watch: 'watches',
};

/** A new flag, counter, text, signal or watch; `name` is taken if it is free. */
export function createFact(level: Level, fact: StateKind, id: string, name?: string): Thing {
  const wanted = name?.trim() ?? '';
  const own = { id, name: freeName(level, wanted === '' ? fact[0]!.toUpperCase() + fact.slice(1) : wanted) };
  return schemaOf(factCollection[fact]).parse(own) as Thing;
}

/** The ways in which something can be drawn, the usual one first; none for what is always drawn alike. */
export function variantsOf(stencil: Stencil): readonly { id: string; says: string }[] {
  return stencils[stencil].variants ?? [];
}

/**
 * A new thing with the usual size, `at` being the middle of its base. `size` is its width, depth and height as far as they are
 * wished; what is round is as wide as the least of those. `variant` is one of the ways in which it can be made; the usual one unless given.
 */
export function createThing(
  level: Level,
  stencil: Stencil,
  id: string,
  room: string,
  at: Vector,
  size: Partial<Vector> = {},
  variant?: string,
): Thing {
  const { collection, firstName, begins } = stencils[stencil];
  const name = freeName(level, firstName);
  return schemaOf(collection).parse(begins({ id, name, room, at, size, variant })) as Thing;
}

/** The schema of the members of a list. */
function schemaOf(collection: Collection): z.ZodType {
  return levelShape.shape[collection].unwrap().element;
}

/**
 * A new wall along a line of the ground: its middle line leads from one point to the other, in metres; its heading is that of the
 * line, to a hundredth of a degree.
 */
export function createWall(
  level: Level,
  id: string,
  room: string,
  from: Vector,
  to: { x: number; y: number },
): Level['solids'][number] {
  const [dx, dy] = [to.x - from.x, to.y - from.y];
  const middle = { x: (from.x + to.x) / 2, y: (from.y + to.y) / 2, z: from.z };
  const length = Math.round(Math.sqrt(dx * dx + dy * dy) * 1000) / 1000;
  const wall = createThing(level, 'wall', id, room, middle, { x: length, y: WALL_THICKNESS_M }) as Level['solids'][number];
  return { ...wall, heading: Math.round((headingOf(dx, dy) ?? 0) * 100) / 100 };
}

/** The name if it is free in the level, or with the first number that makes it so; as much of it as a name may have. */
export function freeName(level: Level, wanted: string): string {
  return freeNames(level)(wanted);
}

/** Gives names that are free in a level, and were not given before. */
export function freeNames(level: Level): (wanted: string) => string {
  const taken = new Set<string>();
  for (const collection of collections) for (const thing of level[collection]) taken.add(nameKey(thing.name));
  /** How far the numbers of a stem are given away. */
  const given = new Map<string, number>();
  return (wanted) => {
    let name = beginning(wanted, NAME_MOST);
    if (taken.has(nameKey(name))) {
      const stem = beginning(name.replace(/ \d+$/, ''), NAME_MOST - 6);
      let number = given.get(nameKey(stem)) ?? 2;
      while (taken.has(nameKey(`${stem} ${number}`))) number++;
      given.set(nameKey(stem), number);
      name = `${stem} ${number}`;
    }
    taken.add(nameKey(name));
    return name;
  };
}

/** Returns at most this many characters of a text, without splitting one. */
function beginning(text: string, most: number): string {
  return text.slice(0, most).replace(/[\ud800-\udbff]$/, '');
}

/** A chain with causes that does nothing yet; `name` is taken if it is free. */
export function createChain(level: Level, id: string, name: string, causes: Cause[]): Chain {
  return chain.parse({ id, name: freeName(level, name), causes });
}

/** A cause for anyone, as often as it comes. */
export function createCause(id: string, on: CauseEvent, of: string): Cause {
  return cause.parse({ id, on, of });
}

/** The name of another thing of the level that a name is easily taken for; null if there is none. */
export function nameLike(level: Level, name: string, exceptId: string): string | null {
  for (const collection of collections)
    for (const other of level[collection])
      if (other.id !== exceptId && areAlike(name, other.name.trim())) return other.name.trim();
  return null;
}

/** The name of another thing that already has this name, or null. */
export function nameTakenBy(level: Level, name: string, exceptId: string): string | null {
  for (const collection of collections) {
    const found = level[collection].find((thing) => thing.id !== exceptId && nameKey(thing.name) === nameKey(name));
    if (found !== undefined) return found.name;
  }
  return null;
}
