import type { Vector } from '../../vocabulary/quantities';
import type { CompiledLevel } from './plan';
import type { WalkProgress, VisitorState } from './world';

/**
 * Where the leg of a way is at its i-th tick: on the ground by the formula, at the height of its beginning. In its last tick it is
 * exactly at its end, whatever rounding makes of the formula.
 */
export function legPoint(plan: CompiledLevel, going: WalkProgress, i: number): Vector {
  const { from, distance, speed } = going;
  const to = going.points[going.next]!;
  const share = (i * speed) / (plan.level.rate * distance);
  if (i >= going.ticks || share >= 1) return to;
  return { x: from.x + (to.x - from.x) * share, y: from.y + (to.y - from.y) * share, z: from.z };
}

/** The way that a visitor is walking now, if it is. */
export function goingOf(visitor: VisitorState): WalkProgress | null {
  if (visitor.forced !== null) return visitor.forced.going;
  return visitor.held || visitor.route === null ? null : visitor.route.going;
}

/** Makes a visitor search its path again, from where it goes on to its destination. */
export function startWayAnew({ route, forced }: VisitorState): void {
  if (route !== null) route.going = null;
  if (forced === null || forced.going === null) return;
  forced.to = forced.going.points.at(-1)!;
  forced.going = null;
}
