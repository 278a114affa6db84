import { footprint } from '../../space/grid';
import { gap } from '../../space/overlap';
import type { Vector } from '../../vocabulary/quantities';
import { TOUCH, anyShape, shifted } from '../../space/shapes';
import type { Shape } from '../../space/shapes';
import { sweep } from '../../space/sweep';
import { isSolidFor, sensedShapeOf, shapeOf } from '../state/poses';
import type { WorldContext } from '../state/context';
import { causeOf } from './meetings';
import type { Sensed } from './meetings';
import type { VisitorState } from '../state/world';

/** The body that is looked at. */
const here = anyShape();

/** A visitor within this distance touches a solid fixture, in metres. */
const CONTACT_M = 0.01;

/**
 * The contacts with solid fixtures that begin now: a gap of a centimetre at most, and the visitor moving, or trying to move,
 * towards the fixture. A contact lasts, without another bump, until the gap is wider.
 */
export function findBumps(ctx: WorldContext, visitors: readonly VisitorState[]): Sensed[] {
  const { plan, state } = ctx;
  const found: Sensed[] = [];
  if (plan.fixtureGrids.size === 0) return found;
  for (const visitor of visitors) {
    if (!visitor.inPlay || visitor.carriedBy !== null || visitor.jumped) {
      visitor.touching.clear();
      continue;
    }
    if (visitor.wish === null && visitor.touching.size === 0 && !state.stirred) continue;
    const body = plan.visitors[visitor.order]!.shape;
    const now = shifted(here, body, visitor.at.x, visitor.at.y, visitor.at.z);
    const near = plan.fixtureGrids.get(visitor.room)?.find(footprint(now, CONTACT_M)) ?? [];
    if (visitor.touching.size > 0) for (const number of visitor.touching) if (!near.includes(number)) near.push(number);
    for (const number of near) {
      const { room, id } = plan.volumes[number]!;
      const touched = visitor.touching.has(number);
      const solid = room === visitor.room && isSolidFor(plan, state, number, visitor);
      if (!solid && !touched) continue;
      const shape = shapeOf(plan, state, number);
      if (!solid || gap(now, shape) > CONTACT_M + 1e-9) {
        visitor.touching.delete(number);
        continue;
      }
      if (touched) continue;
      // What a visitor can step up on, or stands on, it does not bump into.
      if (shape.z + shape.height <= visitor.at.z + plan.level.stepHeight + TOUCH) continue;
      if (!isTowards(now, approach(ctx, visitor, number, shape), shape)) continue;
      visitor.touching.add(number);
      const happening = {
        kind: 'bump',
        who: visitor.id,
        what: id,
        cause: causeOf(ctx, visitor, number),
        details: {},
      } as const;
      found.push({ volume: number, visitor, happening });
    }
  }
  return found;
}

/**
 * How a visitor has moved, or tried to move, beside a fixture since the last Sense. What moves with a machine that has taken
 * the visitor along stands still for it.
 */
function approach({ plan, state }: WorldContext, { wish, rides }: VisitorState, number: number, shape: Shape): Vector {
  const by = { ...(wish ?? { x: 0, y: 0, z: 0 }) };
  if (rides.length > 0) {
    const over = plan.volumes[number]!.over;
    if (rides.some((ride) => over.some((course) => course.machine.id === ride.machine))) return by;
    for (const ride of rides) {
      by.x += ride.by.x;
      by.y += ride.by.y;
      by.z += ride.by.z;
    }
  }
  const earlier = sensedShapeOf(plan, state, number);
  return { x: by.x - (shape.x - earlier.x), y: by.y - (shape.y - earlier.y), z: by.z - (shape.z - earlier.z) };
}

/** How far straight on a visitor is taken to go when it is asked whether it moves towards a fixture, in metres. */
const STRAIGHT_ON = 1000;

/** Whether a body that went straight on as it goes would come into a shape, however flat the angle. */
function isTowards(now: Shape, by: Vector, shape: Shape): boolean {
  const length = Math.sqrt(by.x * by.x + by.y * by.y + by.z * by.z);
  if (length < 1e-9) return false;
  const more = STRAIGHT_ON / length;
  return sweep(now, by.x * more, by.y * more, by.z * more, shape) !== null;
}
