import { kindOfStep } from '../kinds/steps';
import { placeReferences } from '../kinds/steps/step-kind';
import type { StepReference } from '../kinds/steps';
import { kindOfFixture } from '../kinds/fixtures';
import type { Fixture } from '../kinds/fixtures';
import { anyFixture, anyVisitor, bodiedFixture } from '../kinds/words';
import type { ThingWord } from '../kinds/words';
import { expressions } from './expressions';
import { everything, sourcesFor } from '../kinds/causes/sources';
import { lookup } from './lookup';
import { pointer } from '../vocabulary/paths';
import type { Path } from '../vocabulary/paths';
import type { Level } from './level';
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

/** Every reference of a level, in document order. */
export function references(level: Level): Reference[] {
  const found: Reference[] = [];
  const add = (
    from: string,
    keys: readonly (string | number)[],
    to: string,
    accepts: readonly ThingWord[],
    role: Reference['role'],
    within: Path = '',
  ): void => {
    found.push({ from, path: pointer(keys) + within, to, accepts, role });
  };
  for (const collection of ['solids', 'zones', 'fixtures', 'visitors'] as const) {
    level[collection].forEach((thing, i) => add(thing.id, [collection, i, 'room'], thing.room, ['room'], 'room'));
  }
  for (const collection of ['zones', 'fixtures'] as const) {
    level[collection].forEach((thing, i) => {
      if (thing.attachedTo !== '') add(thing.id, [collection, i, 'attachedTo'], thing.attachedTo, anyFixture, 'attachment');
    });
  }
  level.fixtures.forEach((fixture, i) => {
    for (const one of fixtureReferences(fixture)) add(fixture.id, ['fixtures', i], one.to, one.accepts, 'fixture', one.path);
  });
  level.chains.forEach((chain, i) => {
    chain.causes.forEach((cause, j) => add(chain.id, ['chains', i, 'causes', j, 'of'], cause.of, sourcesFor(cause.on), 'cause'));
    chain.causes.forEach((cause, j) => {
      if (cause.hears !== '')
        add(chain.id, ['chains', i, 'causes', j, 'hears'], cause.hears, ['zone', ...anyFixture, ...anyVisitor], 'cause');
      if (cause.filter.named !== '')
        add(chain.id, ['chains', i, 'causes', j, 'filter', 'named'], cause.filter.named, anyVisitor, 'cause');
    });
    chain.steps.forEach((step, j) => {
      const references = kindOfStep(step.kind).references(step);
      // A tag stands for the target that the step would name.
      for (const one of 'tagged' in step && step.tagged !== '' ? references.slice(1) : references)
        add(chain.id, ['chains', i, 'steps', j], one.to, one.accepts, 'step', one.path);
    });
  });
  level.walks.forEach((walk, i) => {
    walk.routes.forEach((route, j) => {
      add(walk.id, ['walks', i, 'routes', j, 'visitor'], route.visitor, anyVisitor, 'walk');
      route.instructions.forEach((one, k) => {
        const path = ['walks', i, 'routes', j, 'instructions', k];
        if ('prop' in one) add(walk.id, [...path, 'prop'], one.prop, ['prop'], 'walk');
        if (one.do === 'use') add(walk.id, [...path, 'fixture'], one.fixture, bodiedFixture, 'walk');
        if (one.do === 'go-to')
          for (const ref of placeReferences('/to', one.to)) add(walk.id, path, ref.to, ref.accepts, 'walk', ref.path);
      });
    });
    walk.expectations.forEach((one, j) => {
      for (const field of ['entry', 'then', 'after'] as const) {
        const match = field in one ? (one as unknown as Record<string, Match | null | undefined>)[field] : null;
        if (match === null || match === undefined) continue;
        const path = ['walks', i, 'expectations', j, field];
        if (match.who !== '') add(walk.id, [...path, 'who'], match.who, anyVisitor, 'walk');
        if (match.what !== '') add(walk.id, [...path, 'what'], match.what, anyWord, 'walk');
        if (match.chain !== '') add(walk.id, [...path, 'chain'], match.chain, ['chain'], 'walk');
      }
    });
  });
  const things = lookup(level);
  for (const { from, path, text } of expressions(level)) {
    // What a condition misnames is told by the check of conditions, with the place in its text.
    for (const [, id = ''] of text.matchAll(/["']([a-z0-9-]+)["']/g)) {
      const word = things.get(id)?.word;
      if (word !== undefined) add(from, [], id, [word], 'guard', path);
    }
  }
  return found;
}

const anyWord: readonly ThingWord[] = [...everything, 'solid', 'signal', 'watch', 'walk'];

/** What a fixture itself names: where a passage leads, and the counter of a collectible. */
function fixtureReferences(fixture: Fixture): StepReference[] {
  const { places, references: own } = kindOfFixture(fixture.kind);
  return [...(places?.(fixture) ?? []).flatMap(({ path, place }) => placeReferences(path, place)), ...(own?.(fixture) ?? [])];
}

/** What a thing is connected to: the chains it sets off or that ask for it, the chains that act on it, the walks it is in. */
export interface Connections {
  setsOff: string[];
  askedBy: string[];
  actedOnBy: string[];
  walkedIn: string[];
}

/** The connections of one thing, as ids of chains and walks in listing order. */
export function connections(level: Level, id: string): Connections {
  const found: Connections = { setsOff: [], askedBy: [], actedOnBy: [], walkedIn: [] };
  const list = {
    cause: found.setsOff,
    guard: found.askedBy,
    step: found.actedOnBy,
    walk: found.walkedIn,
    room: null,
    attachment: null,
    fixture: null,
  };
  for (const reference of references(level)) {
    const into = list[reference.role];
    if (reference.to === id && into !== null && !into.includes(reference.from)) into.push(reference.from);
  }
  return found;
}

/** Whether what stands at an id is what the reference needs. */
export function resolves(level: Level, reference: Reference): boolean {
  const target = lookup(level).get(reference.to);
  return target !== undefined && reference.accepts.includes(target.word);
}
