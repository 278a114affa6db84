import { footprint, footprintOfWay, meet } from '../../space/grid';
import type { Footprint } from '../../space/grid';
import { gap } from '../../space/overlap';
import { moved } from '../../space/shapes';
import type { MotionPath } from '../state/courses';
import { blockersOf, setPositionAt } from './bodies';
import { goingOf, legPoint } from '../state/legs';
import { CONTACT_MARGIN_M, nextMark } from './marks';
import { nextCorner } from '../state/motions';
import { shapeOf } from '../state/poses';
import { bringUp, restUntil, endRest } from './resting';
import type { WorldContext, ReportingContext } from '../state/context';
import type { MachineState, World, VisitorState } from '../state/world';

/**
 * Which ticks can be passed over. While a visitor walks a straight leg, waits, or stands, its poses are known, so the ticks
 * at which it can enter, leave, miss, bump into, be stopped by or step on anything are known too: it sleeps until the next
 * of them. Whatever could alter them (a machine that starts, something made solid, a teleport) wakes it.
 */

/** Brings a sleeping visitor, and what it carries, to where it is as of a tick. */
export function catchUp(ctx: ReportingContext, visitor: VisitorState, tick: number): void {
  const carrier = visitor.carriedBy === null ? null : ctx.state.visitors[visitor.carriedBy]!;
  if (carrier !== null) {
    catchUp(ctx, carrier, tick);
    return;
  }
  if (visitor.rest !== null) bringUp(ctx, visitor, visitor.rest);
  const behind = tick - visitor.asOf;
  if (behind <= 0) return;
  visitor.asOf = tick;
  if (!visitor.inPlay) return;
  const going = goingOf(visitor);
  if (going === null) {
    if (!visitor.held && visitor.forced === null && visitor.route !== null && visitor.route.waiting !== null)
      visitor.route.waiting -= behind;
    return;
  }
  if (going.blocked) return;
  going.done += behind;
  const { x, y } = legPoint(ctx.plan, going, going.done);
  setPositionAt(ctx, visitor, { x, y, z: visitor.at.z }, tick, true);
}

/** Brings a visitor to where it is at this moment: those whose turn in Move is still to come are where they were. */
export function locate(ctx: ReportingContext, visitor: VisitorState): void {
  const { state } = ctx;
  const root = visitor.carriedBy === null ? visitor : carrierOf(ctx, visitor);
  catchUp(ctx, root, root.order <= state.turn ? state.tick : state.tick - 1);
}

/** Who carries a visitor, or carries who does, and is not carried; itself if nobody does. */
export function carrierOf({ state }: WorldContext, visitor: VisitorState): VisitorState {
  let at = visitor;
  while (at.carriedBy !== null) at = state.visitors[at.carriedBy]!;
  return at;
}

/** Something has changed for a visitor and what it carries: they are looked at in their next turn. */
export function wakeUp(ctx: ReportingContext, visitor: VisitorState): void {
  const { state } = ctx;
  const root = carrierOf(ctx, visitor);
  wakeMachines(state);
  endRest(ctx, root);
  for (const one of new Set([root, visitor, ...root.carries.map((order) => state.visitors[order]!)])) {
    locate(ctx, one);
    one.marks = null;
    // In Move, who has had its turn still takes part in the Sense to come.
    if (state.turn < state.visitors.length) state.wakes[one.order] = Math.min(state.wakes[one.order]!, state.tick);
    if (one.order <= state.turn) state.again.push(one.order);
  }
}

/** Somebody is, or soon will be, elsewhere than machines in motion have reckoned with: they look about in their next turn. */
export function wakeMachines({ inMotion, machines, tick }: World): void {
  for (const id of inMotion) {
    const own = machines.get(id)!;
    own.wake = Math.min(own.wake, tick);
  }
}

/** Something has changed in a room, or everywhere, that may hold or block visitors there. */
export function wakeAffected(ctx: ReportingContext, room: string | null): void {
  for (const visitor of ctx.state.visitors) {
    if (visitor.inPlay && (room === null || visitor.room === room)) wakeUp(ctx, visitor);
  }
}

/** A visitor has come to a room or left it. If it blocks others, their way may now be barred or free. */
export function stepInOrAway(ctx: ReportingContext, { order }: VisitorState, room: string): void {
  if (ctx.plan.visitors[order]!.visitor.blocks) wakeAffected(ctx, room);
}

/** Something has changed on a part of the ground: wakes the visitors that are there or will pass it. */
export function disturbAbout(ctx: ReportingContext, room: string, where: Footprint): void {
  for (const visitor of ctx.state.visitors) {
    if (visitor.inPlay && visitor.room === room && meet(where, corridorOf(ctx, visitor))) wakeUp(ctx, visitor);
  }
}

/** After Sense: when each visitor that was looked at, and each machine in motion, has to be looked at next. */
export function scheduleWake(ctx: ReportingContext): void {
  const { state, plan } = ctx;
  const { wakes } = state;
  const awake: VisitorState[] = [];
  for (let order = 0; order < wakes.length; order++) {
    if (wakes[order]! > state.tick) continue;
    wakes[order] = wakeOf(ctx, state.visitors[order]!);
    awake.push(state.visitors[order]!);
  }
  if (state.again.length > 0) {
    for (const order of state.again) wakes[order] = state.tick + 1;
    state.again.length = 0;
  }
  if (state.inMotion.size > 0) for (const visitor of awake) letRest(ctx, visitor);
  for (const id of state.inMotion) {
    const course = plan.courses.get(id)!;
    const own = state.machines.get(id)!;
    const motion = own.motion!;
    const anew = own.reckoned !== own.token || own.wake <= state.tick;
    if (anew) {
      own.wake = Math.max(state.tick + 1, nextCorner(course, motion, state.tick));
      own.reckoned = own.token;
    }
    // Those who sleep were reckoned with when the motion began, or when they were looked at last.
    for (const visitor of anew ? state.visitors : awake) heed(ctx, course, own, visitor);
  }
}

/** Lets a visitor that stands or waits rest on a machine in motion, if it stands on one and nothing comes to it. */
function letRest(ctx: ReportingContext, visitor: VisitorState): void {
  const { wakes, tick } = ctx.state;
  if (wakes[visitor.order]! <= tick + 1 || goingOf(visitor) !== null) return;
  wakes[visitor.order] = Math.min(wakes[visitor.order]!, restUntil(ctx, visitor));
}

/** Looks at a visitor again before it and a machine in motion can have come to each other, and when the motion is over. */
function heed(ctx: ReportingContext, course: MotionPath, own: MachineState, visitor: VisitorState): void {
  const { state } = ctx;
  const reach = course.reach.get(visitor.room);
  if (!visitor.inPlay || reach === undefined || !meet(reach, corridorOf(ctx, visitor))) return;
  const root = carrierOf(ctx, visitor);
  if (root.rest?.machine === course.machine.id) return;
  locate(ctx, visitor);
  const over = own.motion!.startTick + own.motion!.ticks;
  const wake = Math.max(state.tick + 1, Math.min(over, state.tick + ticksApart(ctx, course, visitor, root)));
  own.wake = Math.min(own.wake, wake);
  for (const { order } of [root, visitor]) state.wakes[order] = Math.min(state.wakes[order]!, wake);
}

/**
 * For how many ticks a visitor and all that moves with a machine stay apart, whatever they do: their distance over the sum
 * of their greatest speeds (conservative advancement, B. Mirtich: Impulse-based Dynamic Simulation, 1996, section 2.3).
 */
function ticksApart({ plan, state }: WorldContext, { group }: MotionPath, visitor: VisitorState, root: VisitorState): number {
  const { x, y, z } = visitor.at;
  const body = moved(plan.visitors[visitor.order]!.shape, x, y, z);
  const going = goingOf(root);
  const own = going === null || going.blocked ? 0 : going.speed / plan.level.rate;
  let least = Infinity;
  for (const number of group) {
    const volume = plan.volumes[number]!;
    if (volume.room !== visitor.room) continue;
    const apart = gap(body, shapeOf(plan, state, number)) - CONTACT_MARGIN_M;
    if (apart <= 0) return 1;
    let fastest = own;
    for (const course of volume.over) if (state.inMotion.has(course.machine.id)) fastest += course.fastest;
    least = Math.min(least, apart / fastest);
  }
  return Math.floor(least);
}

/** The next tick at which something is to be looked at; Infinity for none. */
export function nextWake({ state: { wakes, inMotion, machines } }: WorldContext): number {
  let next = Infinity;
  for (const wake of wakes) if (wake < next) next = wake;
  if (inMotion.size > 0) for (const id of inMotion) next = Math.min(next, machines.get(id)!.wake);
  return next;
}

/** The ground that a visitor covers until the end of its leg, with a margin for bumps. */
function corridorOf(ctx: WorldContext, visitor: VisitorState): Footprint {
  const root = carrierOf(ctx, visitor);
  const shape = ctx.plan.visitors[visitor.order]!.shape;
  const body = moved(shape, visitor.at.x, visitor.at.y, 0);
  const going = goingOf(root);
  if (going === null || going.blocked) return footprint(body, CONTACT_MARGIN_M);
  // A sleeping visitor's place is as old as its last turn, and its leg goes on from there.
  const to = legPoint(ctx.plan, going, going.ticks);
  return footprintOfWay(body, to.x - body.x, to.y - body.y, CONTACT_MARGIN_M);
}

function wakeOf(ctx: WorldContext, visitor: VisitorState): number {
  const { state } = ctx;
  const soon = state.tick + 1;
  if (!visitor.inPlay) return Infinity;
  if (visitor.carriedBy !== null) return Infinity;
  if (visitor.flight !== null || visitor.push !== null) return soon;
  const going = goingOf(visitor);
  if (going !== null) {
    // A visitor that may step into its way, or out of it, can do so anywhere.
    if (blockersOf(ctx, visitor).length > 0) return soon;
    if (going.blocked) return Infinity;
    return going.ticks === 0 ? soon : nextMark(ctx, visitor, going);
  }
  // A walk ordered by a step whose path has to be searched again.
  if (visitor.forced !== null) return soon;
  if (visitor.held || visitor.route === null) return Infinity;
  const { route } = visitor;
  if (route.at >= route.instructions.length) return Infinity;
  return route.waiting === null ? soon : state.tick + Math.max(1, route.waiting);
}
