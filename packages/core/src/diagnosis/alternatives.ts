import { lookup } from '../document/lookup';
import type { Level } from '../document/level';
import type { Slot } from '../vocabulary/phrase';
import { same } from '../vocabulary/same';
import { visitorKinds } from '../vocabulary/visitor-kinds';

/** Another value for a place in a sentence, and how far from likely it is: 0 for what is set wrong most often. */
export interface Alternative {
  value: unknown;
  cost: number;
}

/** The number of things of a kind that are tried in place of another. */
const MOST_THINGS = 60;

/**
 * The values that a place in a sentence might have had instead, by the kind of its input. `alike` are the values that things of the
 * same kind have at the same place, `wanted` the things that something was expected of.
 */
export function alternativesOf(level: Level, slot: Slot, alike: readonly unknown[], wanted: ReadonlySet<string>): Alternative[] {
  const found = candidates(level, slot, alike, wanted).sort((a, b) => a.cost - b.cost);
  return found.filter(({ value }, at) => !same(value, slot.value) && found.findIndex((other) => same(other.value, value)) === at);
}

function candidates(level: Level, slot: Slot, alike: readonly unknown[], wanted: ReadonlySet<string>): Alternative[] {
  const { input, value } = slot;
  switch (input.kind) {
    case 'choice': {
      const chosen = input.options.map(({ value: other }) => ({ value: other, cost: input.options.length === 2 ? 0 : 1 }));
      const { byName } = input;
      if (byName === undefined) return chosen;
      const named = thingsOf(level, byName.accepts, wanted).map(({ id, cost }) => ({
        value: { ...byName.value, [byName.key]: id },
        cost: cost + 1,
      }));
      return [...chosen, ...named];
    }
    case 'reference': {
      const things = thingsOf(level, input.accepts, wanted).map(({ id, cost }) => ({ value: id, cost }));
      return input.none === undefined ? things : [{ value: '', cost: 2 }, ...things];
    }
    case 'number': {
      const none = input.none === undefined ? [] : [{ value: null, cost: 0 }];
      const others = alike.flatMap((other) => (typeof other === 'number' ? [{ value: other, cost: 1 }] : []));
      if (typeof value !== 'number') return [...none, ...others, ...[1, 2].map((number) => ({ value: number, cost: 3 }))];
      const near = [0, -value, value * 2, value / 2, value + 1, value - 1, value + 2, value - 2, 1];
      return [...none, ...others, ...near.map((number) => ({ value: round(number), cost: 2 }))].filter(
        ({ value: other }) =>
          other === null || (other >= input.min && other <= input.max && (input.whole !== true || Number.isInteger(other))),
      );
    }
    case 'kinds': {
      // Nobody named is everybody.
      const subsets = [1, 2, 3, 4, 5, 6].map((bits) => visitorKinds.filter((_kind, at) => (bits >> at) % 2 === 1));
      return [[], ...subsets].map((kinds) => ({
        value: kinds,
        cost: Math.abs(kinds.length - (value as string[]).length) > 1 ? 1 : 0,
      }));
    }
    case 'tags': {
      const tags = value as string[];
      const without = tags.map((tag) => tags.filter((one) => one !== tag));
      const replaced = tags.flatMap((tag) => tagsOf(level).map((other) => tags.map((one) => (one === tag ? other : one))));
      const more = tagsOf(level).flatMap((tag) => (tags.includes(tag) ? [] : [[...tags, tag]]));
      return [
        ...without.map((other) => ({ value: other, cost: 1 })),
        ...[...replaced, ...more].map((other) => ({ value: [...new Set(other)], cost: 2 })),
      ];
    }
    case 'tag':
      return tagsOf(level).map((tag) => ({ value: tag, cost: 1 }));
    case 'condition':
      return conditionsLike(level, String(value), wanted);
    case 'text':
      return [...new Set(alike)].flatMap((other) => (typeof other === 'string' ? [{ value: other, cost: 3 }] : []));
    case 'place':
      return [];
  }
}

function round(value: number): number {
  return Math.round(value * 1e6) / 1e6 + 0;
}

const byWords = new WeakMap<Level, Map<string, string[]>>();

/** The things of some kinds: those that something was expected of first. */
function thingsOf(level: Level, accepts: readonly string[], wanted: ReadonlySet<string>): { id: string; cost: number }[] {
  let known = byWords.get(level);
  if (known === undefined) {
    known = new Map();
    byWords.set(level, known);
  }
  const key = accepts.join();
  let ids = known.get(key);
  if (ids === undefined) {
    ids = [...lookup(level)].flatMap(([id, { word }]) => (accepts.includes(word) ? [id] : []));
    known.set(key, ids);
  }
  const first = [...wanted].filter((id) => accepts.includes(lookup(level).get(id)?.word ?? ''));
  const others = ids.length <= MOST_THINGS ? ids : ids.slice(0, MOST_THINGS);
  return [...first.map((id) => ({ id, cost: 0 })), ...others.flatMap((id) => (wanted.has(id) ? [] : [{ id, cost: 1 }]))];
}

const tagged = new WeakMap<Level, string[]>();

/** Every tag of a level, of things and of what asks for them. */
function tagsOf(level: Level): string[] {
  let tags = tagged.get(level);
  if (tags === undefined) {
    const found = new Set<string>();
    for (const { tags: own } of [...level.zones, ...level.fixtures, ...level.visitors]) own.forEach((tag) => found.add(tag));
    for (const { causes } of level.chains)
      for (const { filter } of causes) [...filter.anyOf, ...filter.allOf, ...filter.noneOf].forEach((tag) => found.add(tag));
    tags = [...found].slice(0, MOST_THINGS);
    tagged.set(level, tags);
  }
  return tags;
}

const opposites: Readonly<Record<string, readonly string[]>> = {
  '>=': ['>', '<=', '=='],
  '<=': ['<', '>=', '=='],
  '>': ['>=', '<'],
  '<': ['<=', '>'],
  '==': ['!=', '>=', '<='],
  '!=': ['=='],
  '&&': ['||'],
  '||': ['&&'],
};

/** Conditions that differ in one mark: a number, a comparison, a name, an "and", a "not"; and last, none at all. */
function conditionsLike(level: Level, text: string, wanted: ReadonlySet<string>): Alternative[] {
  const found: Alternative[] = [];
  const put = (from: number, to: number, other: string, cost: number): void =>
    void found.push({ value: text.slice(0, from) + other + text.slice(to), cost });
  const things = lookup(level);
  for (const match of text.matchAll(/"([a-z0-9-]+)"|>=|<=|==|!=|&&|\|\||[<>]|(?<![\w"-])\d+(?:\.\d+)?/g)) {
    const [mark, id] = match;
    const end = match.index + mark.length;
    if (id !== undefined) {
      const word = things.get(id)?.word;
      const others = word === undefined ? [] : thingsOf(level, [word], wanted);
      for (const { id: other, cost } of others) if (other !== id) put(match.index, end, `"${other}"`, cost);
    } else if (mark in opposites) for (const other of opposites[mark]!) put(match.index, end, other, 0);
    else for (const by of [-1, 1, -2, 2]) put(match.index, end, String(Number(mark) + by), 0);
  }
  for (const match of text.matchAll(/!(?=\w)/g)) put(match.index, match.index + 1, '', 0);
  for (const match of text.matchAll(/(?<![!\w".])[a-z]\w*\(/gi)) put(match.index, match.index, '!', 1);
  const parts = text.split('&&');
  if (parts.length > 1) parts.forEach((_part, at) => found.push({ value: parts.toSpliced(at, 1).join('&&').trim(), cost: 3 }));
  // A whole guard is rarely what should go.
  if (text.trim() !== '') found.push({ value: '', cost: 8 });
  return found;
}
