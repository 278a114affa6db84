import type { Vector } from '../level/quantities';
import { moved } from '../space/shapes';
import type { Shape } from '../space/shapes';
import type { Rehearsing } from './rehearsing';
import type { VisitorState } from './state';
import { note } from './tracks';

/** A visitor's body with its feet where it is. */
export function bodyOf({ plan }: Rehearsing, { order, at }: VisitorState): Shape {
  return moved(plan.visitors[order]!.shape, at.x, at.y, at.z);
}

/** Puts a visitor's feet somewhere, and what it carries along with it. */
export function place(rehearsing: Rehearsing, visitor: VisitorState, at: Vector): void {
  // From another height other things are within a step.
  if (at.z !== visitor.at.z) rehearsing.state.again.push(visitor.order);
  visitor.at = at;
  note(rehearsing.tracks.visitors, visitor.id, rehearsing.state.tick, [at.x, at.y, at.z]);
  for (const order of visitor.carries) {
    const carried = rehearsing.state.visitors[order]!;
    carried.room = visitor.room;
    place(rehearsing, carried, inTheArms(rehearsing, visitor));
  }
}

/** Where something is held that is carried: half the carrier's height over its feet. */
export function inTheArms({ plan }: Rehearsing, { order, at }: VisitorState): Vector {
  return { x: at.x, y: at.y, z: at.z + plan.visitors[order]!.shape.height / 2 };
}
