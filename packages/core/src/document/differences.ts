import { same } from '../vocabulary/same';
import { applied } from './edits';
import type { Edit, Fields } from './edits';
import { collections, levelFields } from './level';
import type { Collection, Level, LevelField, Thing } from './level';

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
    // What two versions of a level share is the same.
    if (first[collection] === second[collection]) continue;
    if (isInStep(first[collection], second[collection])) {
      first[collection].forEach((thing, at) => {
        const other = second[collection][at]!;
        const fields = thing === other ? [] : differingFields(thing, other);
        if (fields.length > 0) found.push({ collection, id: thing.id, first: thing, second: other, fields });
      });
      continue;
    }
    const others = new Map<string, Thing>(second[collection].map((thing) => [thing.id, thing]));
    for (const thing of first[collection]) {
      const other = others.get(thing.id) ?? null;
      others.delete(thing.id);
      if (other === null) {
        found.push({ collection, id: thing.id, first: thing, second: null, fields: [] });
        continue;
      }
      const fields = thing === other ? [] : differingFields(thing, other);
      if (fields.length > 0) found.push({ collection, id: thing.id, first: thing, second: other, fields });
    }
    for (const [id, other] of others) found.push({ collection, id, first: null, second: other, fields: [] });
  }
  return found;
}

/**
 * Edits that make of `before` what `after` is: applied to `before` they give `after` itself. They name only what differs,
 * so they can be made upon a third level too, as far as what they touch is there.
 */
export function editsBetween(before: Level, after: Level): Edit[] {
  const found = differences(before, after);
  const edits: Edit[] = [];
  // From the back, so that each place is the right one when its turn comes, and when it is taken back.
  for (const { collection, first, second } of found.toReversed()) {
    if (second === null && first !== null)
      edits.push({ kind: 'remove', collection, index: indexOf(before, collection, first.id), thing: first });
  }
  for (const { collection, first, second } of found) {
    if (first === null && second !== null)
      edits.push({ kind: 'add', collection, index: indexOf(after, collection, second.id), thing: second });
  }
  for (const { collection, id, first, second, fields } of found) {
    if (first !== null && second !== null)
      edits.push({ kind: 'change', collection, id, before: pick(first, fields), after: pick(second, fields) });
  }
  edits.push(...movesBetween(edits.reduce(applied, before), after));
  const own = differingFieldsOfLevel(before, after);
  if (own.length > 0) edits.push({ kind: 'level', before: pick(before, own), after: pick(after, own) });
  return edits;
}

/** The fields of the level itself in which two levels differ: its name, rate, gravity, rules and the like. */
export function differingFieldsOfLevel(first: Level, second: Level): LevelField[] {
  return levelFields.filter((field) => !same(first[field], second[field]));
}

/** Whether two lists hold the same things, by id, in the same order. */
function isInStep(first: readonly Thing[], second: readonly Thing[]): boolean {
  return first.length === second.length && first.every((thing, at) => thing === second[at] || thing.id === second[at]!.id);
}

/** The moves that bring the lists of a level, which hold the same things, into the order of another's. */
function movesBetween(before: Level, after: Level): Edit[] {
  const moves: Edit[] = [];
  for (const collection of collections) {
    if (isInStep(before[collection], after[collection])) continue;
    const ids = before[collection].map((thing) => thing.id);
    after[collection].forEach(({ id }, to) => {
      if (ids[to] === id) return;
      const from = ids.indexOf(id);
      moves.push({ kind: 'move', collection, id, from, to });
      ids.splice(from, 1);
      ids.splice(to, 0, id);
    });
  }
  return moves;
}

function indexOf(level: Level, collection: Collection, id: string): number {
  return level[collection].findIndex((thing) => thing.id === id);
}

function pick(from: object, fields: readonly string[]): Fields {
  return Object.fromEntries(fields.filter((field) => field in from).map((field) => [field, (from as Fields)[field]]));
}

function differingFields(a: Thing, b: Thing): string[] {
  const keys = new Set([...Object.keys(a), ...Object.keys(b)]);
  return [...keys].filter((key) => !same((a as Record<string, unknown>)[key], (b as Record<string, unknown>)[key]));
}
