import { footprint } from '../space/grid';
import { gap } from '../space/overlap';
import type { Vector } from '../level/quantities';
import { moved } from '../space/shapes';
import type { Shape } from '../space/shapes';
import { sweep } from '../space/sweep';
import { isSolid, sensedShapeOf, shapeOf } from './poses';
import type { Rehearsing } from './rehearsing';
import { causeOf } from './meetings';
import type { Sensed } from './meetings';
import type { VisitorState } from './state';

/** A solid fixture is touched from this far away, in metres. */
const CONTACT = 0.01;

/**
 * The contacts with solid fixtures that begin now: a gap of a centimetre at most, and the visitor moving, or trying to move,
 * towards the fixture. A contact lasts, without another bump, until the gap is wider.
 */
export function findBumps(rehearsing: Rehearsing, visitors: readonly VisitorState[]): Sensed[] {
  const { plan, state } = rehearsing;
  const found: Sensed[] = [];
  if (plan.fixtureGrids.size === 0) return found;
  for (const visitor of visitors) {
    if (!visitor.inPlay || visitor.carriedBy !== null || visitor.jumped) {
      visitor.touching.clear();
      continue;
    }
    if (visitor.wish === null && visitor.touching.size === 0 && !state.stirred) continue;
    const body = plan.visitors[visitor.order]!.shape;
    const now = moved(body, visitor.at.x, visitor.at.y, visitor.at.z);
    const near = plan.fixtureGrids.get(visitor.room)?.find(footprint(now, CONTACT)) ?? [];
    for (const number of visitor.touching) if (!near.includes(number)) near.push(number);
    for (const number of near) {
      const { room, id } = plan.volumes[number]!;
      const touched = visitor.touching.has(number);
      const solid = room === visitor.room && isSolid(plan, state, number);
      if (!solid && !touched) continue;
      const shape = shapeOf(plan, state, number);
      if (!solid || gap(now, shape) > CONTACT + 1e-9) {
        visitor.touching.delete(number);
        continue;
      }
      if (touched) continue;
      const earlier = sensedShapeOf(plan, state, number);
      const wish = visitor.wish ?? { x: 0, y: 0, z: 0 };
      const by = { x: wish.x - (shape.x - earlier.x), y: wish.y - (shape.y - earlier.y), z: wish.z - (shape.z - earlier.z) };
      if (!isTowards(now, by, shape)) continue;
      visitor.touching.add(number);
      const happening = {
        kind: 'bump',
        who: visitor.id,
        what: id,
        cause: causeOf(rehearsing, visitor, number),
        details: {},
      } as const;
      found.push({ volume: number, visitor, happening });
    }
  }
  return found;
}

/** Whether going on as it goes, for a little more than the contact's gap, would bring a body into a shape. */
function isTowards(now: Shape, by: Vector, shape: Shape): boolean {
  const length = Math.sqrt(by.x * by.x + by.y * by.y + by.z * by.z);
  if (length < 1e-9) return false;
  const more = (length + 2 * CONTACT) / length;
  return sweep(now, by.x * more, by.y * more, by.z * more, shape) !== null;
}
