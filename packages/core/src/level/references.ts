import { kindOfStep } from '../steps';
import { anyVisitor } from '../words/phrase';
import type { ThingWord } from '../words/phrase';
import type { CauseEvent } from './chains';
import { lookup } from './lookup';
import type { Level } from './level';

/** One thing naming another: whose field, where in the document, which id, and what has to be there. */
export interface Reference {
  from: string;
  path: (string | number)[];
  to: string;
  accepts: readonly ThingWord[];
  /** What the reference is for: where it stands, sets a chain off, is asked by a guard, acted on, or walked. */
  role: 'room' | 'cause' | 'guard' | 'step' | 'walk';
}

const sourcesOf: Record<CauseEvent, readonly ThingWord[]> = {
  enter: ['zone', 'plate', 'door'],
  leave: ['zone', 'plate', 'door'],
  press: ['plate'],
  release: ['plate'],
  opened: ['door'],
  closed: ['door'],
  arrived: anyVisitor,
};

/** What an event can come from. */
export function sourcesFor(event: CauseEvent): readonly ThingWord[] {
  return sourcesOf[event];
}

/** Every reference of a level, in document order. */
export function references(level: Level): Reference[] {
  const found: Reference[] = [];
  const add = (
    from: string,
    path: (string | number)[],
    to: string,
    accepts: readonly ThingWord[],
    role: Reference['role'],
  ): void => {
    found.push({ from, path, to, accepts, role });
  };
  for (const collection of ['solids', 'zones', 'fixtures', 'visitors'] as const) {
    level[collection].forEach((thing, i) => add(thing.id, [collection, i, 'room'], thing.room, ['room'], 'room'));
  }
  level.chains.forEach((chain, i) => {
    chain.causes.forEach((cause, j) => add(chain.id, ['chains', i, 'causes', j, 'of'], cause.of, sourcesOf[cause.on], 'cause'));
    chain.guard.forEach((test, j) => add(chain.id, ['chains', i, 'guard', j, 'flag'], test.flag, ['flag'], 'guard'));
    chain.steps.forEach((step, j) => {
      for (const one of kindOfStep(step.kind).references(step))
        add(chain.id, ['chains', i, 'steps', j, one.path], one.to, one.accepts, 'step');
    });
  });
  level.walks.forEach((walk, i) => {
    walk.routes.forEach((route, j) => {
      add(walk.id, ['walks', i, 'routes', j, 'visitor'], route.visitor, anyVisitor, 'walk');
      route.instructions.forEach((one, k) => {
        if (one.do === 'carry' || one.do === 'drop') {
          add(walk.id, ['walks', i, 'routes', j, 'instructions', k, 'prop'], one.prop, ['prop'], 'walk');
        }
      });
    });
  });
  return found;
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
  const list = { cause: found.setsOff, guard: found.askedBy, step: found.actedOnBy, walk: found.walkedIn, room: null };
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
