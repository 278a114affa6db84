import type { Fixture } from '../kinds/fixtures';
import { isBodied, shapeOfFixture, isMachine } from '../kinds/fixtures';
import type { Level, Thing } from '../document/level';
import { lookup } from '../document/lookup';
import type { Found } from '../document/lookup';
import type { Zone } from '../document/places';
import { ownTransform, transformOf, transformed } from '../kernel/state/poses';
import { courseOf } from '../kernel/state/courses';
import type { MotionPath } from '../kernel/state/courses';
import { zoneAt } from '../space/shapes';
import type { Shape } from '../space/shapes';

/** What a level looks like while its machines' clocks stand somewhere; a clock that is not given stands at its start. */
export interface Picture {
  /** Where a zone or a fixture with a body is; null if there is no such thing. */
  shape(id: string): Shape | null;
  /** The positions of a machine itself, without what it is attached to. */
  positions(id: string): Shape[];
}

/** Where things are as the document has them, and the ways of machines: found once for each thing, which is never changed in place. */
const bodies = new WeakMap<Zone | Fixture, Shape | null>();
const ways = new WeakMap<Fixture, MotionPath | null>();

/**
 * The level with the clocks of its machines at some moment of a rehearsal, or at the start. Only what is asked for is looked at,
 * so that a picture of a large level costs nothing until it is drawn. `instead`: things as they would be, by id.
 */
export function poseSnapshot(
  level: Level,
  clocks: ReadonlyMap<string, number> = new Map(),
  instead: ReadonlyMap<string, Thing> = new Map(),
): Picture {
  const things = {
    get: (id: string): Found | undefined => {
      const found = lookup(level).get(id);
      const thing = instead.get(id);
      return found === undefined || thing === undefined ? found : { ...found, thing };
    },
  };
  const fixtures = {
    get: (id: string): Fixture | undefined => {
      const found = things.get(id);
      return found?.collection === 'fixtures' ? (found.thing as Fixture) : undefined;
    },
  };
  const courses = {
    get: (id: string): MotionPath | undefined => {
      const fixture = fixtures.get(id);
      return fixture === undefined ? undefined : (wayOf(fixture) ?? undefined);
    },
  };
  const clockOf = (id: string): number => clocks.get(id) ?? courses.get(id)!.starts;
  return {
    shape: (id) => {
      const found = things.get(id);
      if (found?.collection !== 'zones' && found?.collection !== 'fixtures') return null;
      const thing = found.thing as Zone | Fixture;
      const shape = bodyIn(thing);
      if (shape === null) return null;
      const from = found.collection === 'fixtures' && isMachine(thing as Fixture) ? id : thing.attachedTo;
      return from === '' ? shape : transformed(shape, transformOf({ fixtures, courses }, from, clockOf));
    },
    positions: (id) => {
      const fixture = fixtures.get(id);
      return fixture === undefined ? [] : positionsOf(fixture);
    },
  };
}

function positionsOf(fixture: Fixture): Shape[] {
  const course = wayOf(fixture);
  if (course === null) return [];
  const shape = bodyIn(fixture)!;
  return course.frames.map((_frame, clock) => transformed(shape, ownTransform(course, clock)));
}

function bodyIn(thing: Zone | Fixture): Shape | null {
  let shape = bodies.get(thing);
  if (shape === undefined) {
    if ('shape' in thing) shape = zoneAt(thing.shape, thing.at, thing.heading);
    else shape = isBodied(thing) ? shapeOfFixture(thing) : null;
    bodies.set(thing, shape);
  }
  return shape;
}

function wayOf(fixture: Fixture): MotionPath | null {
  let course = ways.get(fixture);
  if (course === undefined) {
    // Where it is, not when it is there: the rate says nothing to a picture.
    course = isMachine(fixture) ? courseOf(fixture, 1) : null;
    ways.set(fixture, course);
  }
  return course;
}
