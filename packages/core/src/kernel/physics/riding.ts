import type { Vector } from '../../vocabulary/quantities';
import { direction } from '../../space/headings';
import { footprint, meet } from '../../space/grid';
import { overlaps } from '../../space/overlap';
import { moved } from '../../space/shapes';
import type { Shape } from '../../space/shapes';
import { bodyOf, place, setMovedBy } from './bodies';
import { startWayAnew } from '../state/legs';
import type { MotionPath } from '../state/courses';
import { isSolidFor, shapeOf } from '../state/poses';
import type { WorldContext, ReportingContext } from '../state/context';
import { locate, wakeMachines } from './sleep';
import { firstInTheWay, standsOn } from './standing';
import type { Motion, VisitorState } from '../state/world';

/**
 * Moves the riders of a group that has moved, and pushes or meets visitors in its way. Gives the first whom it
 * cannot pass.
 */
export function carryOrMeet(
  ctx: ReportingContext,
  course: MotionPath,
  old: readonly Shape[],
  motion: Motion,
): VisitorState | null {
  const { plan, state } = ctx;
  const now = course.group.map((number) => shapeOf(plan, state, number));
  const near = state.visitors.filter((visitor) => {
    const reach = course.reach.get(visitor.room);
    // Who rests on another machine is out of the reach of this one.
    if (!visitor.inPlay || visitor.carriedBy !== null || visitor.rest !== null || reach === undefined) return false;
    locate(ctx, visitor);
    return meet(reach, footprint(bodyOf(ctx, visitor), 0.001));
  });
  const pushes: { visitor: VisitorState; at: number }[] = [];
  for (const visitor of near) {
    if (ridesOn(ctx, course, visitor, old) >= 0) continue;
    const at = metBy(ctx, course, visitor, old, now);
    if (at < 0) continue;
    if (course.machine.inTheWay !== 'push' || !canBePushed(ctx, visitor, old[at]!, now[at]!)) return visitor;
    pushes.push({ visitor, at });
  }
  if (pushes.length > 0) wakeMachines(state);
  for (const { visitor, at } of pushes) {
    const { x, y, z } = pushBy(old[at]!, now[at]!);
    place(ctx, visitor, { x: visitor.at.x + x, y: visitor.at.y + y, z: visitor.at.z + z });
    setMovedBy(ctx, visitor, motion.entry);
    startWayAnew(visitor);
  }
  for (const visitor of near) {
    const at = ridesOn(ctx, course, visitor, old);
    if (at < 0 || isWhereItWas(old[at]!, now[at]!)) continue;
    wakeMachines(state);
    const moved = displace(ctx, visitor, old[at]!, now[at]!, turnBetween(old[at]!, now[at]!));
    setMovedBy(ctx, visitor, motion.entry);
    visitor.rides.push({ machine: motion.machine, by: moved });
    shiftLegs(visitor, moved);
  }
  return null;
}

/** Whether what a clock moves has not moved at all: it takes nobody along. */
function isWhereItWas(old: Shape, now: Shape): boolean {
  return old.x === now.x && old.y === now.y && old.z === now.z && old.cos === now.cos && old.sin === now.sin;
}

/** The place in a group of what a visitor stands on, and still does where it was before it moved; -1 for none of it. */
function ridesOn(ctx: WorldContext, { group }: MotionPath, visitor: VisitorState, old: readonly Shape[]): number {
  const { plan, state } = ctx;
  const { flight, support } = visitor;
  if (flight !== null || support === null || support === '') return -1;
  return group.findIndex(
    (number, at) =>
      plan.volumes[number]!.id === support &&
      isSolidFor(plan, state, number, visitor) &&
      standsOn(bodyOf(ctx, visitor), old[at]!),
  );
}

/** The place in a group of what has come upon a visitor by moving; -1 if none has. */
function metBy(
  ctx: WorldContext,
  { group }: MotionPath,
  visitor: VisitorState,
  old: readonly Shape[],
  now: readonly Shape[],
): number {
  const { plan, state } = ctx;
  const body = bodyOf(ctx, visitor);
  return group.findIndex(
    (number, at) =>
      plan.volumes[number]!.room === visitor.room &&
      overlaps(body, now[at]!) &&
      isSolidFor(plan, state, number, visitor) &&
      !overlaps(body, old[at]!),
  );
}

function canBePushed(ctx: ReportingContext, visitor: VisitorState, old: Shape, now: Shape): boolean {
  const body = bodyOf(ctx, visitor);
  const { x: dx, y: dy, z: dz } = pushBy(old, now);
  if (overlaps(moved(body, body.x + dx, body.y + dy, body.z + dz), now)) return false;
  return firstInTheWay(ctx, visitor, body, dx, dy, dz, visitor.at.z) === null;
}

/** How far a shape that has moved pushes: along, and up, but nobody into the ground. */
function pushBy(old: Shape, now: Shape): Vector {
  return { x: now.x - old.x, y: now.y - old.y, z: Math.max(0, now.z - old.z) };
}

/** The turn between two poses of the same shape, as cosine and sine; 0 if it has not turned. */
function turnBetween(old: Shape, now: Shape): { cos: number; sin: number } | 0 {
  if (old.cos === now.cos && old.sin === now.sin) return 0;
  return { cos: now.cos * old.cos + now.sin * old.sin, sin: now.sin * old.cos - now.cos * old.sin };
}

/** Takes a visitor along with a shape that has moved; gives its displacement. */
function displace(
  ctx: ReportingContext,
  visitor: VisitorState,
  old: Shape,
  now: Shape,
  turn: { cos: number; sin: number } | 0,
): Vector {
  const { at } = visitor;
  const x = at.x - old.x;
  const y = at.y - old.y;
  const { cos, sin } = turn === 0 ? direction(0) : turn;
  const to =
    turn === 0
      ? { x: at.x + (now.x - old.x), y: at.y + (now.y - old.y), z: at.z + (now.z - old.z) }
      : { x: now.x + x * cos - y * sin, y: now.y + x * sin + y * cos, z: at.z + (now.z - old.z) };
  place(ctx, visitor, to, true);
  return { x: to.x - at.x, y: to.y - at.y, z: to.z - at.z };
}

/** The leg under way of one who is carried goes on beside its carrier. */
function shiftLegs(visitor: VisitorState, by: Vector): void {
  for (const going of [visitor.route?.going, visitor.forced?.going]) {
    if (going === null || going === undefined) continue;
    // A way is shared with copies of the world: it is not changed in place.
    going.points = going.points.map((to, at) => (at === going.next ? { x: to.x + by.x, y: to.y + by.y, z: to.z + by.z } : to));
    going.from = { x: going.from.x + by.x, y: going.from.y + by.y, z: going.from.z + by.z };
    visitor.marks = null;
  }
}
