import type { Level } from '../document/level';
import { lookup } from '../document/lookup';
import { isBodied, isMachine, motionOf } from '../kinds/fixtures';
import type { Fixture } from '../kinds/fixtures';
import { around, footprint, meet } from '../space/grid';
import { corners, overlaps } from '../space/overlap';
import { BOX, boxAt } from '../space/shapes';
import type { Shape } from '../space/shapes';
import { sweep } from '../space/sweep';
import { poseSnapshot } from './picture';

/** A corner of an outline on the ground, in metres. */
interface Corner {
  x: number;
  y: number;
}

/** Something solid that a motion passes through or ends in, and so many seconds after it began. */
export interface Obstacle {
  thing: string;
  seconds: number;
}

/** What a motion takes up of the ground, as outlines that overlap, and what stands in its way. */
export interface MotionSweep {
  outlines: Corner[][];
  meets: Obstacle[];
}

/** The number of samples per leg of a motion. Boxes between two samples of a straight leg are covered. */
const SAMPLES_PER_LEG = 24;
/** Where it turns its outline is drawn in so many. */
const TURNED = 6;

/**
 * The space that a machine sweeps from its first position to its last, and what of its room that is solid it meets on the way, in the order in
 * which it does, each once. What it stands in already at either end that it may start at is no obstacle: a gate stands in its pocket. Null for
 * what does not move.
 */
export function sweptBy(level: Level, id: string): MotionSweep | null {
  const found = lookup(level).get(id);
  const fixture = found?.collection === 'fixtures' ? (found.thing as Fixture) : undefined;
  if (fixture === undefined || !isMachine(fixture)) return null;
  const motion = motionOf(fixture);
  const last = motion.positions(fixture).length - 1;
  const legs = motion.seconds(fixture).slice(0, last);
  const at = (clock: number): Shape => poseSnapshot(level, new Map([[id, clock]])).shape(id)!;
  const begins = at(motion.starts(fixture));
  const samples = legs.map((_leg, from) =>
    Array.from({ length: SAMPLES_PER_LEG }, (_, piece) => at(from + (piece + 1) / SAMPLES_PER_LEG)),
  );
  const reach = samples
    .flat()
    .map((one) => footprint(one))
    .reduce(around, footprint(at(0)));
  const obstacles = obstaclesOf(level, fixture).filter(({ shape }) => meet(footprint(shape), reach) && !overlaps(begins, shape));
  const outlines: Corner[][] = [];
  const met = new Map<string, number>();
  let before = at(0);
  let seconds = 0;
  const note = (thing: string, when: number): void => {
    if (!met.has(thing)) met.set(thing, Math.round(when * 100) / 100);
  };
  for (const { id: thing, shape } of obstacles) if (overlaps(before, shape)) note(thing, 0);
  legs.forEach((leg, from) => {
    for (const [piece, now] of samples[from]!.entries()) {
      const by = { x: now.x - before.x, y: now.y - before.y, z: now.z - before.z };
      for (const { id: thing, shape } of obstacles) {
        if (met.has(thing)) continue;
        const stretch = sweep(before, by.x, by.y, by.z, shape);
        const part = stretch?.from ?? (overlaps(now, shape) ? 1 : null);
        if (part !== null) note(thing, seconds + ((piece + part) / SAMPLES_PER_LEG) * leg);
      }
      before = now;
    }
    outlines.push(...outlinesOf((part) => at(from + part)));
    seconds += leg;
  });
  return { outlines, meets: [...met].map(([thing, when]) => ({ thing, seconds: when })).sort((a, b) => a.seconds - b.seconds) };
}

/** What one leg of a motion takes up: all of it at once where it is straight, a few pieces where it turns; nothing where it goes up. */
function outlinesOf(at: (part: number) => Shape): Corner[][] {
  const [from, to] = [at(0), at(1)];
  const turns = from.cos !== to.cos || from.sin !== to.sin;
  if (!turns && from.x === to.x && from.y === to.y) return [];
  const pieces = turns ? TURNED : 1;
  return Array.from({ length: pieces }, (_, i) => hullOf([...ring(at(i / pieces)), ...ring(at((i + 1) / pieces))]));
}

/** What is solid in the room of a fixture and does not move with it. */
function obstaclesOf(level: Level, own: Fixture): { id: string; shape: Shape }[] {
  const picture = poseSnapshot(level);
  const things = lookup(level);
  const movesAlong = (one: Fixture): boolean => {
    for (let at: Fixture | undefined = one, depth = 0; at !== undefined && depth < 100; depth++) {
      if (at.id === own.id) return true;
      at = at.attachedTo === '' ? undefined : (things.get(at.attachedTo)?.thing as Fixture | undefined);
    }
    return false;
  };
  return [
    ...level.solids
      .filter(({ room }) => room === own.room)
      .map(({ id, at, size, heading }) => ({ id, shape: boxAt(at, size, heading) })),
    ...level.fixtures
      .filter((one) => one.room === own.room && isBodied(one) && 'solid' in one && one.solid && !movesAlong(one))
      .map(({ id }) => ({ id, shape: picture.shape(id)! })),
  ];
}

/** The outline of a shape on the ground: of what is round, a ring of corners. */
function ring(shape: Shape): Corner[] {
  if (shape.form === BOX) return corners(shape, 0).map(([x, y]) => ({ x, y }));
  return Array.from({ length: 16 }, (_, i) => {
    const angle = (i / 16) * 2 * Math.PI;
    return { x: shape.x + shape.halfX * Math.cos(angle), y: shape.y + shape.halfX * Math.sin(angle) };
  });
}

/** The convex outline around some points (A. M. Andrew: Another efficient algorithm for convex hulls in two dimensions, 1979). */
function hullOf(points: readonly Corner[]): Corner[] {
  const sorted = points.toSorted((a, b) => a.x - b.x || a.y - b.y);
  const half = (all: readonly Corner[]): Corner[] => {
    const found: Corner[] = [];
    for (const point of all) {
      while (found.length > 1 && turn(found.at(-2)!, found.at(-1)!, point) <= 0) found.pop();
      found.push(point);
    }
    return found.slice(0, -1);
  };
  return [...half(sorted), ...half(sorted.toReversed())];
}

function turn(a: Corner, b: Corner, c: Corner): number {
  return (b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x);
}
