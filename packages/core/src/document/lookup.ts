import type { ThingWord } from '../kinds/words';
import { collections } from './level';
import type { Collection, Level, Thing } from './level';

export interface Found {
  collection: Collection;
  index: number;
  thing: Thing;
  word: ThingWord;
}

/** Every thing of a level by its id. */
export type Lookup = ReadonlyMap<string, Found>;

const cache = new WeakMap<Level, Lookup>();

/** The things of a level by id; made once for each level value, which is never changed in place. */
export function lookup(level: Level): Lookup {
  let found = cache.get(level);
  if (found === undefined) {
    const map = new Map<string, Found>();
    for (const collection of collections) {
      level[collection].forEach((thing, index) =>
        map.set(thing.id, { collection, index, thing, word: wordOf(collection, thing) }),
      );
    }
    found = map;
    cache.set(level, map);
  }
  return found;
}

/** The things of some kinds, in listing order, as a list offers them. */
export function offered(level: Level, accepts: readonly string[]): { value: string; label: string }[] {
  return collections.flatMap((collection) =>
    (level[collection] as Thing[])
      .filter((thing) => accepts.includes(wordOf(collection, thing)))
      .map(({ id, name }) => ({ value: id, label: name.trim() })),
  );
}

/** The readable name for an id; the id itself, marked, where nothing has it. */
export function nameOf(level: Level, id: string): string {
  if (id === '') return '(nothing chosen)';
  return lookup(level).get(id)?.thing.name ?? `(missing: ${id})`;
}

/** What a thing is called in sentences and menus. */
export function wordOf(collection: Collection, thing: Thing): ThingWord {
  switch (collection) {
    case 'rooms':
      return 'room';
    case 'solids':
      return 'solid';
    case 'zones':
      return 'zone';
    case 'fixtures':
      return (thing as Level['fixtures'][number]).kind;
    case 'flags':
      return 'flag';
    case 'counters':
      return 'counter';
    case 'texts':
      return 'text';
    case 'signals':
      return 'signal';
    case 'watches':
      return 'watch';
    case 'visitors':
      return (thing as Level['visitors'][number]).kind;
    case 'chains':
      return 'chain';
    case 'walks':
      return 'walk';
  }
}
