import type { Vector } from '../../vocabulary/quantities';
import { TOUCH, moved } from '../../space/shapes';
import type { Shape } from '../../space/shapes';
import type { WorldContext, ReportingContext } from '../state/context';
import type { VisitorState } from '../state/world';
import { touch } from '../state/raising';
import { carriedPosition } from '../state/positions';

/** A visitor's body with its feet where it is. */
export function bodyOf({ plan }: WorldContext, { order, at }: VisitorState): Shape {
  return moved(plan.visitors[order]!.shape, at.x, at.y, at.z);
}

/**
 * Puts a visitor's feet somewhere, and what it carries along with it. `alongWith` set: what it stands on has moved as much, and
 * whether anything else comes near is reckoned with that.
 */
export function place(ctx: ReportingContext, visitor: VisitorState, at: Vector, alongWith = false): void {
  const { plan, state } = ctx;
  // From another height other things are within a step.
  if (!alongWith && Math.abs(at.z - visitor.at.z) > TOUCH) state.again.push(visitor.order);
  if (plan.visitors[visitor.order]!.visitor.blocks && isElsewhere(visitor.at, at)) state.strode = state.tick;
  visitor.at = at;
  ctx.listener.pose('visitors', visitor.id, state.tick, [at.x, at.y, at.z], false);
  for (const order of visitor.carries) {
    const carried = state.visitors[order]!;
    carried.room = visitor.room;
    place(ctx, carried, carriedPosition(plan, visitor.order, at), alongWith);
  }
}

/** Puts a visitor, and what it carries, where it has been as of a tick without being looked at; `evenly` as in `WorldListener`. */
export function setPositionAt(ctx: ReportingContext, visitor: VisitorState, at: Vector, tick: number, evenly: boolean): void {
  visitor.at = at;
  visitor.sensedAt = at;
  ctx.listener.pose('visitors', visitor.id, tick, [at.x, at.y, at.z], evenly);
  for (const order of visitor.carries) {
    const carried = ctx.state.visitors[order]!;
    carried.asOf = tick;
    setPositionAt(ctx, carried, carriedPosition(ctx.plan, visitor.order, at), tick, evenly);
  }
}

/** Whether two places are further apart than rounding brings about. */
function isElsewhere(a: Vector, b: Vector): boolean {
  return Math.abs(a.x - b.x) + Math.abs(a.y - b.y) + Math.abs(a.z - b.z) > TOUCH;
}

/** Those who stand in a visitor's way, wherever in its room: in play, on their own feet, and neither itself nor what it carries. */
export function blockersOf({ plan, state }: WorldContext, visitor: VisitorState): VisitorState[] {
  if (plan.blockers.length === 0) return [];
  return plan.blockers
    .map((order) => state.visitors[order]!)
    .filter((one) => one !== visitor && one.inPlay && one.room === visitor.room && one.carriedBy === null);
}

/** A visitor and all that it carries, and what that carries: itself first, the others in listing order. */
export function withCarried({ state }: WorldContext, visitor: VisitorState): VisitorState[] {
  const all = [visitor];
  // The list grows while it is gone through.
  for (const one of all) for (const order of one.carries) all.push(state.visitors[order]!);
  return [visitor, ...all.slice(1).sort((a, b) => a.order - b.order)];
}

/** A visitor has been put where it is: what it crosses until the next Sense, it crosses from there. */
export function markRelocated(visitor: VisitorState): void {
  visitor.jumped = true;
  visitor.sensedAt = visitor.at;
}

/** A motion or a push has moved a visitor, and all that it carries. */
export function setMovedBy(ctx: WorldContext, visitor: VisitorState, entry: number | null): void {
  for (const one of withCarried(ctx, visitor)) one.movedBy = entry;
}

/** Turns a visitor to a heading; conditions may ask for it. */
export function face(ctx: WorldContext, visitor: VisitorState, heading: number): void {
  if (visitor.heading === heading) return;
  visitor.heading = heading;
  touch(ctx, 'visitors');
}

/** Whether a visitor moves by itself, if it does: nobody carries, throws, pushes, holds or sends it. */
export function movesFreely({ inPlay, held, carriedBy, flight, push, forced }: VisitorState): boolean {
  return inPlay && !held && carriedBy === null && flight === null && push === null && forced === null;
}
