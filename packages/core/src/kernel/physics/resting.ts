import type { Vector } from '../../vocabulary/quantities';
import { footprint, meet } from '../../space/grid';
import { BALL } from '../../space/shapes';
import type { Shape } from '../../space/shapes';
import { setPositionAt, setMovedBy } from './bodies';
import { isSolid, isSolidFor, shapeOf } from '../state/poses';
import type { CompiledLevel, Volume } from '../state/plan';
import type { MotionPath } from '../state/courses';
import { clockAt } from '../state/motions';
import type { WorldContext, ReportingContext } from '../state/context';
import type { Motion, Rest, VisitorState } from '../state/world';
import { CONTACT_MARGIN_M, bodiesOf } from './marks';
import { carriedPosition, restingAt, topAt } from '../state/positions';

/**
 * Who stands on a machine that goes straight up or down, and does nothing else, is passed over as well: its feet are on the top of
 * what it stands on, whenever that is asked. It rests until it can come to something that does not go along.
 */

/** Lets a visitor rest, if it can, until the tick that is given; Infinity, and nothing is changed, if it cannot. */
export function restUntil(ctx: ReportingContext, visitor: VisitorState): number {
  const { plan, state } = ctx;
  const volume = volumeUnder(plan, visitor);
  if (volume === null || plan.visitors[visitor.order]!.visitor.blocks) return Infinity;
  const [course, another] = volume.over;
  if (course === undefined || another !== undefined || !course.isUpright || volume.room !== visitor.room) return Infinity;
  const own = state.machines.get(course.machine.id)!;
  const { motion } = own;
  if (motion === null || !isSolidFor(plan, state, volume.number, visitor)) return Infinity;
  if (visitor.at.z !== topAt(course, volume, own.clock)) return Infinity;
  const bodies = bodiesOf(ctx, visitor, visitor.at).map(({ body }) => body);
  if (bodies.some((body) => isReachedByOthers(ctx, course, visitor.room, body))) return Infinity;
  const wake = nextMeeting(bandsOf(ctx, course, visitor, bodies), course, volume, motion, state.tick);
  if (wake <= state.tick + 1) return Infinity;
  // Where it begins to rest is a corner of its way.
  setPositionAt(ctx, visitor, visitor.at, state.tick, false);
  visitor.rest = { machine: course.machine.id, on: volume.number, reportedUpTo: state.tick };
  return wake;
}

/** The fixture that a visitor stands on, if it can move; null for anything else. */
function volumeUnder(plan: CompiledLevel, { support, inPlay, carriedBy, flight, push }: VisitorState): Volume | null {
  if (support === null || support === '' || !inPlay || carriedBy !== null || flight !== null || push !== null) return null;
  const volume = plan.volumes[plan.volumeOf.get(support) ?? -1];
  return volume === undefined || volume.movedBy === null ? null : volume;
}

/** Moves a resting visitor to where it is now, and reports its way since the last report. */
export function bringUp(ctx: ReportingContext, visitor: VisitorState, rest: Rest): void {
  const { plan, state } = ctx;
  const at = restingAt(plan, state, visitor, rest);
  const tick = state.turn < 0 && state.tick === state.looked ? state.tick - 1 : state.tick;
  if (tick > rest.reportedUpTo) {
    const course = plan.courses.get(rest.machine)!;
    const motion = state.machines.get(rest.machine)!.motion!;
    const isEven = course.isEven && rest.reportedUpTo >= motion.startTick;
    for (let i = isEven ? tick : rest.reportedUpTo + 1; i < tick; i++) {
      const z = topAt(course, plan.volumes[rest.on]!, clockAt(course, motion, i));
      setPositionAt(ctx, visitor, { x: at.x, y: at.y, z }, i, false);
    }
    visitor.rest = { ...rest, reportedUpTo: tick };
    setPositionAt(ctx, visitor, at, tick, isEven);
  } else if (at.z !== visitor.at.z) setPositionAt(ctx, visitor, at, tick, false);
}

/** A visitor rests no more: it is where it is, and in Move as if what it stands on had taken it along with its look. */
export function endRest(ctx: ReportingContext, visitor: VisitorState): void {
  const { rest } = visitor;
  if (rest === null) return;
  bringUp(ctx, visitor, rest);
  visitor.rest = null;
  const { plan, state } = ctx;
  const inMove = state.looked === state.tick && state.turn >= 0 && state.turn < state.visitors.length;
  const { clock, sensedClock, motion } = state.machines.get(rest.machine)!;
  if (!inMove || clock === sensedClock) return;
  const z = topAt(plan.courses.get(rest.machine)!, plan.volumes[rest.on]!, sensedClock);
  if (z === visitor.at.z) return;
  sensedFrom(ctx, visitor, { ...visitor.at, z });
  visitor.rides.push({ machine: rest.machine, by: { x: 0, y: 0, z: visitor.at.z - z } });
  setMovedBy(ctx, visitor, motion!.entry);
}

/** Where a visitor, and what it carries, was at the last Sense. */
function sensedFrom(ctx: WorldContext, visitor: VisitorState, at: Vector): void {
  const { plan, state } = ctx;
  visitor.sensedAt = at;
  for (const order of visitor.carries) sensedFrom(ctx, state.visitors[order]!, carriedPosition(plan, visitor.order, at));
}

/** Wakes the visitors that rest on a machine, before it senses its surroundings, gets another order, or after it has arrived. */
export function rouseRiders(ctx: ReportingContext, machine: string): void {
  const { visitors, wakes, tick } = ctx.state;
  for (const visitor of visitors) {
    if (visitor.rest?.machine !== machine) continue;
    endRest(ctx, visitor);
    wakes[visitor.order] = Math.min(wakes[visitor.order]!, tick);
  }
}

/** Whether another machine in motion ever covers the ground under a body. */
function isReachedByOthers({ plan, state }: WorldContext, course: MotionPath, room: string, body: Shape): boolean {
  const where = footprint(body, CONTACT_MARGIN_M);
  for (const id of state.inMotion) {
    if (id === course.machine.id) continue;
    const reach = plan.courses.get(id)!.reach.get(room);
    if (reach !== undefined && meet(reach, where)) return true;
  }
  return false;
}

/** A stretch of heights of a visitor's feet, in metres, in which something can happen to it, or at whose ends. */
interface Band {
  low: number;
  high: number;
  onlyEnds: boolean;
}

/** At which heights something that does not go along can be met: a zone entered or left, a floor stepped on, a wall touched. */
function bandsOf(ctx: WorldContext, { group }: MotionPath, visitor: VisitorState, bodies: readonly Shape[]): Band[] {
  const { plan, state } = ctx;
  const { room, at } = visitor;
  const step = plan.level.stepHeight;
  const bands: Band[] = [];
  const standable = (top: number): void =>
    void bands.push({ low: top - step - CONTACT_MARGIN_M, high: top + CONTACT_MARGIN_M, onlyEnds: false });
  bodies.forEach((body, place) => {
    const where = footprint(body, CONTACT_MARGIN_M);
    const feet = body.z - at.z;
    for (const number of plan.volumeGrids.get(room)?.find(where) ?? []) {
      if (group.includes(number)) continue;
      const shape = shapeOf(plan, state, number);
      const solid = place === 0 && isSolid(plan, state, number);
      const slack = solid ? CONTACT_MARGIN_M : 0;
      const low = shape.z - feet - body.height - slack;
      const high = shape.z + shape.height - feet + slack;
      bands.push({ low, high, onlyEnds: !solid && shape.form !== BALL });
      if (solid) standable(shape.z + shape.height);
    }
    if (place > 0) return;
    for (const number of plan.solidGrids.get(room)?.find(where) ?? []) {
      const { shape } = plan.solids[number]!;
      standable(shape.z + shape.height);
    }
  });
  const ground = plan.rooms.get(room)?.ground;
  if (ground !== undefined) standable(ground);
  return bands;
}

/** The first tick after one at which a visitor that is carried up or down comes into a band, or to an end of one; or of the motion. */
function nextMeeting(bands: readonly Band[], course: MotionPath, volume: Volume, motion: Motion, tick: number): number {
  const over = motion.startTick + motion.ticks;
  let before = topAt(course, volume, clockAt(course, motion, tick));
  for (let i = tick + 1; i < Math.min(over, tick + LOOK_AHEAD_TICKS); i++) {
    const z = topAt(course, volume, clockAt(course, motion, i));
    const low = Math.min(z, before) - ROUNDING_MARGIN_M;
    const high = Math.max(z, before) + ROUNDING_MARGIN_M;
    for (const band of bands) if (band.low <= high && band.high >= low && !(band.onlyEnds && isWithin(band, low, high))) return i;
    before = z;
  }
  return Math.min(over, tick + LOOK_AHEAD_TICKS);
}

/** Whether a stretch of heights reaches neither end of a band that it is in. */
function isWithin(band: Band, low: number, high: number): boolean {
  return band.low < low && band.high > high;
}

/** The number of ticks that are looked ahead at once. */
const LOOK_AHEAD_TICKS = 600;

/** More than rounding can shift a height by, in metres. */
const ROUNDING_MARGIN_M = 1e-6;
