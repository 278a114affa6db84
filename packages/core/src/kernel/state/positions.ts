import type { Vector } from '../../vocabulary/quantities';
import type { MotionPath } from './courses';
import { goingOf, legPoint } from './legs';
import { clockAt } from './motions';
import type { CompiledLevel, Volume } from './plan';
import { ownTransform } from './poses';
import type { Rest, VisitorState, World } from './world';

/** Where things are as of the tick of a world, also while the kernel passes them over. Nothing is changed. */

/** Where a visitor is as of the tick of its world, which is not changed. */
export function placeNow(plan: CompiledLevel, world: World, visitor: VisitorState): Vector {
  if (visitor.carriedBy !== null) {
    const carrier = world.visitors[visitor.carriedBy]!;
    const { x, y, z } = placeNow(plan, world, carrier);
    return carriedPosition(plan, carrier.order, { x, y, z });
  }
  if (visitor.rest !== null) return restingAt(plan, world, visitor, visitor.rest);
  const going = goingOf(visitor);
  const behind = world.tick - visitor.asOf;
  if (behind <= 0 || !visitor.inPlay || going === null || going.blocked) return visitor.at;
  const { x, y } = legPoint(plan, going, going.done + behind);
  return { x, y, z: visitor.at.z };
}

/** Where the feet of a visitor that rests are now, as high as what it rests on; also between two ticks. */
export function restingAt(plan: CompiledLevel, world: World, { at }: VisitorState, { machine, on }: Rest): Vector {
  const course = plan.courses.get(machine)!;
  const { clock, motion } = world.machines.get(machine)!;
  const now = world.tick > world.looked ? clockAt(course, motion!, world.tick) : clock;
  return { x: at.x, y: at.y, z: topAt(course, plan.volumes[on]!, now) };
}

/** How high the top of what moves straight up and down is, in metres, while the clock of its machine stands so. */
export function topAt(course: MotionPath, { shape }: Volume, clock: number): number {
  return shape.z + ownTransform(course, clock).z + shape.height;
}

/** Where something is held that is carried: half the carrier's height over its feet, which are at `at`. */
export function carriedPosition(plan: CompiledLevel, carrier: number, at: Vector): Vector {
  return { x: at.x, y: at.y, z: at.z + plan.visitors[carrier]!.shape.height / 2 };
}

/** Where the clock of a machine stands in a world between two ticks, counted in its positions from 0. */
export function clockOf(plan: CompiledLevel, world: World, machine: string): number {
  const { clock, motion } = world.machines.get(machine)!;
  const isBehind = motion !== null && world.tick > world.looked;
  return isBehind ? clockAt(plan.courses.get(machine)!, motion, world.tick) : clock;
}
