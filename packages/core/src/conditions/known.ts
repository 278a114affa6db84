import type { ThingWord } from '../kinds/words';

/** What is known of each thing of a level, by id, in listing order: what it is called, what it is, and its tags, if it can have any. */
export type Known = ReadonlyMap<string, { word: ThingWord; thing: { name: string; tags?: readonly string[] } }>;

const found = new WeakMap<Known, ReadonlyMap<string, readonly string[]>>();

/** The ids of the things that have a tag, in listing order, by tag; found once for each level value. */
export function idsByTag(things: Known): ReadonlyMap<string, readonly string[]> {
  let ids = found.get(things);
  if (ids === undefined) found.set(things, (ids = find(things)));
  return ids;
}

function find(things: Known): Map<string, string[]> {
  const ids = new Map<string, string[]>();
  for (const [id, { thing }] of things)
    for (const tag of new Set(thing.tags)) {
      const own = ids.get(tag);
      if (own === undefined) ids.set(tag, [id]);
      else own.push(id);
    }
  return ids;
}
