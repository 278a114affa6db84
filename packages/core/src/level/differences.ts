import { same } from './same';
import { collections } from './level';
import type { Collection, Level, Thing } from './level';

/** How one thing differs between two levels: null where it is not there. */
export interface Difference {
  collection: Collection;
  id: string;
  first: Thing | null;
  second: Thing | null;
  /** The fields whose values differ, when both have the thing. */
  fields: string[];
}

/** The things in which two levels differ, by id, in listing order of the first and then of what only the second has. */
export function differences(first: Level, second: Level): Difference[] {
  const found: Difference[] = [];
  for (const collection of collections) {
    const others = new Map<string, Thing>(second[collection].map((thing) => [thing.id, thing]));
    for (const thing of first[collection]) {
      const other = others.get(thing.id) ?? null;
      others.delete(thing.id);
      if (other === null) {
        found.push({ collection, id: thing.id, first: thing, second: null, fields: [] });
        continue;
      }
      const fields = differingFields(thing, other);
      if (fields.length > 0) found.push({ collection, id: thing.id, first: thing, second: other, fields });
    }
    for (const [id, other] of others) found.push({ collection, id, first: null, second: other, fields: [] });
  }
  return found;
}

function differingFields(a: Thing, b: Thing): string[] {
  const keys = new Set([...Object.keys(a), ...Object.keys(b)]);
  return [...keys].filter((key) => !same((a as Record<string, unknown>)[key], (b as Record<string, unknown>)[key]));
}
