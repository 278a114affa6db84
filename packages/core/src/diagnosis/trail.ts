import { idsNamedIn, tagsListedIn } from '../conditions/by-names';
import type { Level } from '../document/level';
import { lookup } from '../document/lookup';
import { expressions } from '../document/expressions';
import { eachReference } from '../document/references';
import { actsOn } from '../document/targets';
import type { Expectation, Match } from '../document/walks';

/** The things that an expectation is about. */
export function aboutOf(expectation: Expectation): string[] {
  const ids = new Set<string>();
  const add = (match: Match | null): void =>
    [match?.what, match?.chain, match?.who].forEach((id) => id !== undefined && id !== '' && ids.add(id));
  if ('entry' in expectation) add(expectation.entry);
  if ('then' in expectation) add(expectation.then);
  if ('after' in expectation) add(expectation.after);
  if ('state' in expectation) for (const id of idsNamedIn(expectation.state)) if (id !== '') ids.add(id);
  return [...ids];
}

/**
 * How far each thing is from some others, counted in what names what: a door is one away from the chain that opens it, and two from
 * the button that sets that off. Things that stay out of it are missing.
 */
export function distancesFrom(level: Level, ids: readonly string[], most: number): Map<string, number> {
  const beside = neighboursOf(level);
  const far = new Map<string, number>();
  let ring = ids.filter((id) => lookup(level).has(id));
  for (let distance = 0; distance <= most && ring.length > 0; distance++) {
    const next: string[] = [];
    for (const id of ring) {
      if (far.has(id)) continue;
      far.set(id, distance);
      next.push(...(beside.get(id) ?? []));
    }
    ring = next;
  }
  return far;
}

const known = new WeakMap<Level, Map<string, string[]>>();

/** What names what, both ways; rooms and walks, which name or are named by nearly everything, are left out. */
function neighboursOf(level: Level): Map<string, string[]> {
  let beside = known.get(level);
  if (beside !== undefined) return beside;
  beside = new Map<string, string[]>();
  const put = (a: string, b: string): void => {
    const own = beside!.get(a);
    if (own === undefined) beside!.set(a, [b]);
    else own.push(b);
  };
  const link = (a: string, b: string): void => {
    put(a, b);
    put(b, a);
  };
  const passes = ['solids', 'zones', 'fixtures', 'visitors', 'chains', 'watches'] as const;
  eachReference(
    level,
    (_collection, _index, { id }, { to, role }) => {
      if (role !== 'room' && to !== '') link(id, to);
    },
    passes,
  );
  // Those that are meant by a tag.
  const tagged = [...lookup(level).values()].filter(
    ({ thing }) => 'tags' in thing && (thing as { tags: string[] }).tags.length > 0,
  );
  for (const chain of level.chains)
    for (const step of chain.steps)
      if ('tagged' in step && step.tagged !== '')
        for (const found of tagged) if (actsOn(step, found)) link(chain.id, found.thing.id);
  for (const { from, text } of expressions(level))
    for (const tag of tagsListedIn(text))
      for (const { thing } of tagged) if ((thing as { tags: string[] }).tags.includes(tag)) link(from, thing.id);
  known.set(level, beside);
  return beside;
}
