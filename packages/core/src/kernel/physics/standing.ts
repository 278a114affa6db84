import { footprint, footprintOfWay } from '../../space/grid';
import type { Footprint, Grid } from '../../space/grid';
import { overlaps, shadowsMeet } from '../../space/overlap';
import { sweep } from '../../space/sweep';
import { TOUCH } from '../../space/shapes';
import type { Shape } from '../../space/shapes';
import { blockersOf, bodyOf } from './bodies';
import { isSolid, isSolidFor, shapeOf } from '../state/poses';
import { locate } from './sleep';
import type { WorldContext, ReportingContext } from '../state/context';
import type { VisitorState } from '../state/world';

/** What a body stands on: the id of a solid or a fixture, '' for the ground; and the height of its top. */
export interface Support {
  id: string;
  top: number;
}

/**
 * The highest standable surface under a body between two heights, both included. Of several of the same height the first
 * listed: solids, then fixtures, then the ground.
 */
export function supportUnder(
  ctx: WorldContext,
  visitor: VisitorState,
  body: Shape,
  lowest: number,
  highest: number,
): Support | null {
  const { plan, state } = ctx;
  return supportAmong(ctx, visitor.room, body, lowest, highest, (number) => isSolidFor(plan, state, number, visitor));
}

function supportAmong(
  { plan, state }: WorldContext,
  room: string,
  body: Shape,
  lowest: number,
  highest: number,
  holds: (number: number) => boolean,
): Support | null {
  let best: Support | null = null;
  const where = footprint(body);
  for (const number of found(plan.solidGrids.get(room), where)) {
    const { id, shape } = plan.solids[number]!;
    const top = shape.z + shape.height;
    if (isBetween(top, lowest, highest) && shadowsMeet(body, shape)) best = higher(best, id, top);
  }
  for (const number of found(plan.fixtureGrids.get(room), where)) {
    if (!holds(number)) continue;
    const shape = shapeOf(plan, state, number);
    const top = shape.z + shape.height;
    if (isBetween(top, lowest, highest) && shadowsMeet(body, shape)) best = higher(best, plan.volumes[number]!.id, top);
  }
  const ground = plan.rooms.get(room)?.ground;
  return ground === undefined || !isBetween(ground, lowest, highest) ? best : higher(best, '', ground);
}

function isBetween(top: number, lowest: number, highest: number): boolean {
  return top <= highest + TOUCH && top >= lowest - TOUCH;
}

/** The higher of two supports; of the same height the one before. */
function higher(best: Support | null, id: string, top: number): Support | null {
  return best === null || top > best.top + TOUCH ? { id, top } : best;
}

/** Whether a body's feet are on the top of a shape. */
export function standsOn(body: Shape, shape: Shape): boolean {
  return Math.abs(shape.z + shape.height - body.z) < 1e-6 && shadowsMeet(body, shape);
}

/** What stops a straight move: its id, and the fraction of the move at which the body touches it. */
export interface Stop {
  id: string;
  from: number;
}

/**
 * What stops a straight move of a body first. What the body is inside of already (at `start`, if that is another than
 * `body`) does not hold it, so that it can get out; nor does what is no higher than `over`, which it steps over.
 */
export function firstInTheWay(
  ctx: ReportingContext,
  visitor: VisitorState,
  body: Shape,
  dx: number,
  dy: number,
  dz: number,
  over: number,
  start: Shape = body,
): Stop | null {
  const { plan, state } = ctx;
  const { room } = visitor;
  const where = footprintOfWay(body, dx, dy);
  let first: Stop | null = null;
  for (const number of found(plan.solidGrids.get(room), where)) {
    const { id, shape } = plan.solids[number]!;
    first = sooner(first, id, shape, body, dx, dy, dz, over, start);
  }
  for (const number of found(plan.fixtureGrids.get(room), where)) {
    if (!isSolidFor(plan, state, number, visitor)) continue;
    first = sooner(first, plan.volumes[number]!.id, shapeOf(plan, state, number), body, dx, dy, dz, over, start);
  }
  for (const other of blockersOf(ctx, visitor)) {
    locate(ctx, other);
    first = sooner(first, other.id, bodyOf(ctx, other), body, dx, dy, dz, over, start);
  }
  return first;
}

/** Fractions closer than this are equal: of two obstacles at the same point, the first listed stops the move. */
const SAME_FRACTION = 1e-9;

/** Whichever stops a move sooner: what did so far, or another shape. */
function sooner(
  first: Stop | null,
  id: string,
  shape: Shape,
  body: Shape,
  dx: number,
  dy: number,
  dz: number,
  over: number,
  start: Shape,
): Stop | null {
  if (shape.z + shape.height <= over + TOUCH) return first;
  const stretch = sweep(body, dx, dy, dz, shape);
  if (stretch === null || (first !== null && stretch.from >= first.from - SAME_FRACTION) || overlaps(start, shape)) return first;
  return { id, from: stretch.from };
}

/** The highest standable surface at a point of the ground that is not higher than `highest`; null where there is none. */
export function surfaceAt(ctx: WorldContext, room: string, x: number, y: number, highest: number): number | null {
  const needle: Shape = { form: 1, x, y, z: 0, halfX: 1e-6, halfY: 1e-6, height: 1, cos: 1, sin: 0 };
  const { plan, state } = ctx;
  return supportAmong(ctx, room, needle, -Infinity, highest, (number) => isSolid(plan, state, number))?.top ?? null;
}

const none: number[] = [];

/** The numbers in a grid that could meet a rectangle, in ascending order, so that ties fall to the first listed. */
function found(grid: Grid | undefined, where: Footprint): number[] {
  if (grid === undefined) return none;
  const numbers = grid.find(where);
  return numbers.length < 2 ? numbers : numbers.sort((a, b) => a - b);
}
