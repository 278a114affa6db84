import { kindOfStep } from '../kinds/steps';
import { placeReferences } from '../kinds/steps/step-kind';
import type { StepReference } from '../kinds/steps';
import { kindOfFixture } from '../kinds/fixtures';
import type { Fixture } from '../kinds/fixtures';
import { fixturesThatCan, everything, anyFixture, anyVisitor, bodiedFixture } from '../kinds/words';
import type { ThingWord } from '../kinds/words';
import { idsNamedIn, tagsListedIn } from '../conditions/by-names';
import { expressions, expressionsOf } from './expressions';
import { sourcesFor } from '../kinds/causes';
import { lookup } from './lookup';
import { actsOn } from './targets';
import { pointer } from '../vocabulary/paths';
import type { Path } from '../vocabulary/paths';
import { collections } from './level';
import type { Collection, Level, Thing } from './level';
import type { Match } from './walks';

/** One thing naming another: whose field, where in the document, which id, and what has to be there. */
export interface Reference {
  from: string;
  path: Path;
  to: string;
  accepts: readonly ThingWord[];
  /** What the reference is for: where it stands, sets a chain off, is asked by a guard, acted on, led to or
   * attached to, or walked. */
  role: 'room' | 'attachment' | 'cause' | 'guard' | 'step' | 'fixture' | 'walk';
}

/** What a thing names, by a path within itself. What a condition asks for may be anything: what is wrong there, its check tells. */
export type OwnReference = Omit<Reference, 'from' | 'accepts'> & { accepts: readonly ThingWord[] | 'anything' };

/** Every reference of a level, in document order. */
export function references(level: Level): Reference[] {
  const found: Reference[] = [];
  eachReference(level, (collection, index, thing, { path, to, role, accepts }) => {
    if (accepts !== 'anything') {
      found.push({ from: thing.id, path: pointer([collection, index]) + path, to, accepts, role });
      return;
    }
    const word = lookup(level).get(to)?.word;
    if (word !== undefined) found.push({ from: thing.id, path: pointer([collection, index]) + path, to, accepts: [word], role });
  });
  return found;
}

/** Goes through all that the things of a level name, in document order, without making anything of it. */
export function eachReference(
  level: Level,
  look: (collection: Collection, index: number, thing: Thing, reference: OwnReference) => void,
  among: readonly Collection[] = collections,
): void {
  for (const collection of among) {
    const list: readonly Thing[] = level[collection];
    for (let i = 0; i < list.length; i++)
      for (const one of referencesOf(collection, list[i]!)) look(collection, i, list[i]!, one);
  }
}

const known = new WeakMap<Thing, readonly OwnReference[]>();

/** What one thing names, in document order; found once, for a thing is never changed in place. */
export function referencesOf(collection: Collection, thing: Thing): readonly OwnReference[] {
  let found = known.get(thing);
  if (found === undefined) {
    found = [...named(collection, thing), ...asked(collection, thing)];
    known.set(thing, found);
  }
  return found;
}

type Role = Reference['role'];

function one(path: Path, to: string, accepts: readonly ThingWord[], role: Role): OwnReference {
  return { path, to, accepts, role };
}

/** The ids that a thing's conditions name. */
function asked(collection: Collection, thing: Thing): OwnReference[] {
  return expressionsOf(collection, thing).flatMap(({ path, text }) =>
    idsNamedIn(text).flatMap((to) => (to === '' ? [] : [{ path, to, accepts: 'anything' as const, role: 'guard' as const }])),
  );
}

function named(collection: Collection, thing: Thing): OwnReference[] {
  switch (collection) {
    case 'solids':
    case 'visitors':
    case 'zones':
    case 'fixtures': {
      const standing = thing as Level['solids' | 'visitors' | 'zones' | 'fixtures'][number];
      const found = [one('/room', standing.room, ['room'], 'room')];
      if ('attachedTo' in standing && standing.attachedTo !== '')
        found.push(one('/attachedTo', standing.attachedTo, anyFixture, 'attachment'));
      if (collection === 'fixtures')
        for (const { path, to, accepts } of fixtureReferences(thing as Fixture)) found.push(one(path, to, accepts, 'fixture'));
      return found;
    }
    case 'chains':
      return namedByChain(thing as Level['chains'][number]);
    case 'walks':
      return namedByWalk(thing as Level['walks'][number]);
    default:
      return [];
  }
}

function namedByChain({ causes, steps }: Level['chains'][number]): OwnReference[] {
  const found: OwnReference[] = [];
  causes.forEach(({ on, of }, j) => found.push(one(pointer(['causes', j, 'of']), of, sourcesFor(on), 'cause')));
  causes.forEach(({ hears, filter }, j) => {
    if (hears !== '') found.push(one(pointer(['causes', j, 'hears']), hears, ['zone', ...anyFixture, ...anyVisitor], 'cause'));
    if (filter.named !== '') found.push(one(pointer(['causes', j, 'filter', 'named']), filter.named, anyVisitor, 'cause'));
  });
  steps.forEach((step, j) => {
    const all = kindOfStep(step.kind).references(step);
    // A tag stands for the target that the step would name.
    for (const { path, to, accepts } of 'tagged' in step && step.tagged !== '' ? all.slice(1) : all)
      found.push(one(pointer(['steps', j]) + path, to, accepts, 'step'));
  });
  return found;
}

function namedByWalk({ routes, expectations }: Level['walks'][number]): OwnReference[] {
  const found: OwnReference[] = [];
  const add = (keys: (string | number)[], to: string, accepts: readonly ThingWord[]): void =>
    void found.push(one(pointer(keys), to, accepts, 'walk'));
  routes.forEach((route, j) => {
    add(['routes', j, 'visitor'], route.visitor, anyVisitor);
    route.instructions.forEach((told, k) => {
      const keys = ['routes', j, 'instructions', k];
      if ('prop' in told) add([...keys, 'prop'], told.prop, ['prop']);
      if (told.do === 'use') add([...keys, 'fixture'], told.fixture, bodiedFixture);
      if (told.do === 'go-to')
        for (const { path, to, accepts } of placeReferences('/to', told.to))
          found.push(one(pointer(keys) + path, to, accepts, 'walk'));
    });
  });
  expectations.forEach((expected, j) => {
    for (const field of ['entry', 'then', 'after'] as const) {
      const match = field in expected ? (expected as unknown as Record<string, Match | null | undefined>)[field] : null;
      if (match === null || match === undefined) continue;
      if (match.who !== '') add(['expectations', j, field, 'who'], match.who, anyVisitor);
      if (match.what !== '') add(['expectations', j, field, 'what'], match.what, anyWord);
      if (match.chain !== '') add(['expectations', j, field, 'chain'], match.chain, ['chain']);
    }
  });
  return found;
}

const anyWord: readonly ThingWord[] = [...everything, 'solid', 'signal', 'watch', 'walk'];

/** What a fixture itself names: where a passage leads, and the counter of a collectible. */
function fixtureReferences(fixture: Fixture): StepReference[] {
  const { places, references: own } = kindOfFixture(fixture.kind);
  return [
    ...(places?.(fixture) ?? []).flatMap(({ path, place }) => placeReferences(path, place)),
    ...(own?.(fixture) ?? []).map((named) => ({
      path: named.path,
      to: named.to,
      accepts: 'can' in named ? fixturesThatCan(named.can) : (named.accepts as readonly ThingWord[]),
    })),
  ];
}

/**
 * What a thing is connected to: the chains it sets off or that ask for it, the chains that act on it, by name or by tag, those that
 * name it otherwise (a place is counted from it, or lies in it), the walks it is in.
 */
export interface Connections {
  setsOff: string[];
  askedBy: string[];
  actedOnBy: string[];
  namedBy: string[];
  walkedIn: string[];
}

const connected = new WeakMap<Level, Map<string, Connections>>();

/** The connections of one thing, as ids of chains and walks in listing order; found once for each level value. */
export function connections(level: Level, id: string): Connections {
  const known = connected.get(level) ?? new Map<string, Connections>();
  connected.set(level, known);
  const found = known.get(id) ?? connectionsOf(level, id);
  known.set(id, found);
  return found;
}

function connectionsOf(level: Level, id: string): Connections {
  const found: Connections = { setsOff: [], askedBy: [], actedOnBy: [], namedBy: [], walkedIn: [] };
  const list = {
    cause: found.setsOff,
    guard: found.askedBy,
    step: found.namedBy,
    walk: found.walkedIn,
    room: null,
    attachment: null,
    fixture: null,
  };
  eachReference(
    level,
    (_collection, _index, thing, { to, role }) => {
      const into = list[role];
      if (to === id && into !== null && !into.includes(thing.id)) into.push(thing.id);
    },
    // What stands in rooms names only where it stands, what it is attached to, and where it leads.
    ['watches', 'chains', 'walks'],
  );
  const thing = lookup(level).get(id);
  if (thing === undefined) return found;
  const tags: readonly string[] = 'tags' in thing.thing ? (thing.thing as { tags: string[] }).tags : [];
  if (tags.length > 0)
    for (const { from, text } of expressions(level))
      if (!found.askedBy.includes(from) && tagsListedIn(text).some((tag) => tags.includes(tag))) found.askedBy.push(from);
  for (const chain of level.chains) if (chain.steps.some((step) => actsOn(step, thing))) found.actedOnBy.push(chain.id);
  found.namedBy = found.namedBy.filter((chain) => !found.actedOnBy.includes(chain));
  return found;
}

/** Whether what stands at an id is what the reference needs. */
export function resolves(level: Level, reference: Reference): boolean {
  const target = lookup(level).get(reference.to);
  return target !== undefined && reference.accepts.includes(target.word);
}
