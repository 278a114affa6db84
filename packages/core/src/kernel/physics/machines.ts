import { motionOf } from '../../kinds/fixtures';
import { overlaps } from '../../space/overlap';
import { bodyOf } from './bodies';
import { clockAt, ticksBetween } from '../state/motions';
import { shapeOf } from '../state/poses';
import type { MotionPath } from '../state/courses';
import type { WorldContext, ReportingContext } from '../state/context';
import { carryOrMeet } from './riding';
import { rouseRiders } from './resting';
import { disturbAbout, locate } from './sleep';
import type { KernelEvent, MachineState, Motion, VisitorState, Waiter } from '../state/world';
import { ticksOf } from '../../vocabulary/ticks';
import { finishLater, raise, touch } from '../state/raising';
import { schedule } from '../state/schedule';

/** What sending a machine came to: whether a step has to wait for its motion, and the steps that ended as it was turned back. */
export interface Sent {
  moves: boolean;
  ended: Waiter[];
  /** The event of its new motion, if there is one. */
  event: { happening: KernelEvent; motion: Motion } | null;
}

/** Sends a machine to one of its positions. `cause` is the entry that did it. */
export function sendMachine(
  ctx: ReportingContext,
  id: string,
  to: number,
  cause: number | null,
  triggeredBy: string | null,
): Sent {
  const { state, plan } = ctx;
  const course = plan.courses.get(id)!;
  const own = state.machines.get(id)!;
  if (own.motion?.to === to) return { moves: true, ended: [], event: null };
  if (own.motion === null && own.clock === to) {
    // Sent again while it waits to return: the wait restarts.
    scheduleReturn(ctx, id, cause, triggeredBy);
    return { moves: false, ended: [], event: null };
  }
  rouseRiders(ctx, id);
  const turned = own.motion;
  // By the formula, not by the pose of the last Move: what is due comes before Move, but the time is the same.
  if (turned !== null) own.clock = clockAt(course, turned, state.tick);
  const ticks = ticksBetween(course, own.clock, to);
  const delay = turned === null && 'startDelay' in course.machine ? ticksOf(course.machine.startDelay, plan.level.rate) : 0;
  own.token += 1;
  const motion: Motion = {
    machine: id,
    from: own.clock,
    to,
    startTick: state.tick + delay,
    ticks,
    entry: null,
    triggeredBy,
    waiters: [],
    stopped: false,
  };
  own.motion = motion;
  own.wake = state.tick + 1;
  state.inMotion.add(id);
  if (ticks + delay === 0) own.clock = to;
  surroundingsOf(ctx, course);
  const ended = turned?.waiters ?? [];
  const details = {
    to: motionOf(course.machine).nameOf(to),
    ticks: ticks + delay,
    ...(turned === null ? {} : { turnedBack: true as const, endsSteps: ended.map((waiter) => waiter.entry) }),
  };
  ctx.listener.pose('machines', id, state.tick, [own.clock], false);
  return { moves: true, ended, event: { happening: { kind: 'moving', who: triggeredBy, what: id, cause, details }, motion } };
}

/** Puts a machine's clock somewhere at once; its motion, if it has one, is over, and the steps that waited for it end. */
export function putMachine(ctx: ReportingContext, id: string, clock: number): Waiter[] {
  const { state, plan } = ctx;
  const own = state.machines.get(id)!;
  rouseRiders(ctx, id);
  const ended = own.motion?.waiters ?? [];
  own.motion = null;
  own.token += 1;
  own.clock = clock;
  state.inMotion.delete(id);
  ctx.listener.pose('machines', id, state.tick, [clock], false);
  surroundingsOf(ctx, plan.courses.get(id)!);
  return ended;
}

function surroundingsOf(ctx: ReportingContext, { reach }: MotionPath): void {
  ctx.state.stirred = true;
  touch(ctx, 'fixtures');
  for (const [room, where] of reach) disturbAbout(ctx, room, where);
}

/** After ticks that were passed over: brings machines in motion to where they were at the tick before this one. */
export function bringMachinesUp({ state, plan, listener }: ReportingContext): void {
  for (const id of state.inMotion) {
    const own = state.machines.get(id)!;
    own.clock = clockAt(plan.courses.get(id)!, own.motion!, state.tick - 1);
    listener.pose('machines', id, state.tick - 1, [own.clock], true);
  }
  state.machines.forEach(noteSensed);
}

/** Sense has seen a machine where it stands. */
export function noteSensed(own: MachineState): void {
  own.sensedClock = own.clock;
}

/** Lets every machine in motion advance to this tick, in listing order, with attached things and riders. */
export function advanceMachines(ctx: ReportingContext): void {
  const { state, plan } = ctx;
  if (state.inMotion.size === 0) return;
  const moving = [...state.inMotion];
  if (moving.length > 1) moving.sort((a, b) => plan.volumeOf.get(a)! - plan.volumeOf.get(b)!);
  for (const id of moving) {
    const own = state.machines.get(id)!;
    if (own.motion !== null) advanceMachine(ctx, plan.courses.get(id)!, own, own.motion);
  }
}

function advanceMachine(ctx: ReportingContext, course: MotionPath, own: MachineState, motion: Motion): void {
  const { state } = ctx;
  const id = motion.machine;
  const clock = clockAt(course, motion, state.tick);
  const before = own.clock;
  if (clock !== before && own.wake <= state.tick) {
    rouseRiders(ctx, id);
    const old = course.group.map((number) => shapeOf(ctx.plan, state, number));
    own.clock = clock;
    const obstacle = carryOrMeet(ctx, course, old, motion);
    if (obstacle !== null) {
      own.clock = before;
      stopped(ctx, course, motion, obstacle);
      return;
    }
  }
  motion.stopped = false;
  state.stirred ||= clock !== own.sensedClock;
  own.clock = clock;
  ctx.listener.pose('machines', id, state.tick, [clock], false);
  if (state.tick >= motion.startTick + motion.ticks) endMotion(ctx, motion);
}

/** Somebody is in the way: the motion stands still for this tick, or turns back to where it began. */
function stopped(ctx: ReportingContext, course: MotionPath, motion: Motion, obstacle: VisitorState): void {
  if (!motion.stopped) {
    const details = { by: obstacle.id };
    raise(ctx, { kind: 'blocked', who: motion.triggeredBy, what: motion.machine, cause: motion.entry, details });
  }
  motion.stopped = true;
  motion.startTick += 1;
  if (course.machine.inTheWay !== 'reverse' || motion.entry === null) return;
  const back = Number.isInteger(motion.from)
    ? motion.from
    : motion.to > motion.from
      ? Math.floor(motion.from)
      : Math.ceil(motion.from);
  const sent = sendMachine(ctx, motion.machine, back, motion.entry, motion.triggeredBy);
  if (sent.event !== null) raise(ctx, sent.event.happening, { motionBegan: sent.event.motion });
  finishLater(ctx, sent.ended);
}

/** The end of a motion enters the queue. */
function endMotion(ctx: ReportingContext, motion: Motion): void {
  const { state, plan } = ctx;
  const id = motion.machine;
  const course = plan.courses.get(id)!;
  rouseRiders(ctx, id);
  state.machines.get(id)!.motion = null;
  state.inMotion.delete(id);
  surroundingsOf(ctx, course);
  const { kind, details } = motionOf(course.machine).arrives(motion.to);
  raise(ctx, { kind, who: motion.triggeredBy, what: id, cause: motion.entry, details }, { motionEnded: motion });
}

/** When a `moving` entry has its number: the motion remembers it, and one that takes no time ends. */
export function motionBegan(ctx: ReportingContext, motion: Motion, entry: number): void {
  const own = ctx.state.machines.get(motion.machine)!;
  motion.entry = entry;
  own.lastMotion = entry;
  if (own.motion === motion && motion.ticks === 0 && motion.startTick <= ctx.state.tick) endMotion(ctx, motion);
}

/** When the end of a motion has its number: a mover goes on, or a return is scheduled. */
export function motionEnded(ctx: ReportingContext, motion: Motion, entry: number): void {
  const { machine, frames } = ctx.plan.courses.get(motion.machine)!;
  const last = frames.length - 1;
  const own = ctx.state.machines.get(motion.machine)!;
  const next = own.motion === null ? (motionOf(machine).goesOn?.(machine, motion.to, last) ?? null) : null;
  if (next !== null) {
    if (next.from !== undefined) putMachine(ctx, motion.machine, next.from);
    goOn(ctx, motion.machine, next.to, entry, motion.triggeredBy);
    return;
  }
  scheduleReturn(ctx, motion.machine, entry, motion.triggeredBy);
}

/** Sends a machine by itself, without a step. */
export function goOn(ctx: ReportingContext, id: string, to: number, cause: number | null, triggeredBy: string | null): Waiter[] {
  const { ended, event } = sendMachine(ctx, id, to, cause, triggeredBy);
  if (event !== null) raise(ctx, event.happening, { motionBegan: event.motion });
  return ended;
}

/** A machine that stands away from where it started goes back after its wait, unless it is sent anywhere before. */
function scheduleReturn(ctx: WorldContext, id: string, cause: number | null, triggeredBy: string | null): void {
  const { machine, starts } = ctx.plan.courses.get(id)!;
  const own = ctx.state.machines.get(id)!;
  if (machine.returnAfter === null || own.motion !== null || own.clock === starts) return;
  own.token += 1;
  const ticks = ticksOf(machine.returnAfter, ctx.plan.level.rate);
  const item = { do: 'return', machine: id, token: own.token, cause, triggeredBy } as const;
  if (ticks === 0) ctx.state.queue.push(item);
  else schedule(ctx, ticks, item);
}

/** A machine's time to return has come; one that returns only when it is empty asks again in the next tick. */
export function returnNow(
  ctx: ReportingContext,
  id: string,
  token: number,
  cause: number | null,
  triggeredBy: string | null,
): Waiter[] {
  const { machine, starts } = ctx.plan.courses.get(id)!;
  const own = ctx.state.machines.get(id)!;
  if (own.token !== token) return [];
  if (machine.returnWhen === 'empty' && !isEmpty(ctx, id)) {
    schedule(ctx, 1, { do: 'return', machine: id, token, cause, triggeredBy });
    return [];
  }
  return goOn(ctx, id, starts, cause, triggeredBy);
}

/** Whether nobody stands on a machine's group, nor is where the machine itself stands when it starts. */
function isEmpty(ctx: ReportingContext, id: string): boolean {
  const { plan, state } = ctx;
  const course = plan.courses.get(id)!;
  const group = new Set(course.group.map((number) => plan.volumes[number]!.id));
  const own = state.machines.get(id)!;
  const clock = own.clock;
  own.clock = course.starts;
  const home = shapeOf(plan, state, plan.volumeOf.get(id)!);
  own.clock = clock;
  const room = course.machine.room;
  return state.visitors.every((visitor) => {
    if (!visitor.inPlay) return true;
    locate(ctx, visitor);
    return !group.has(visitor.support ?? '') && !(visitor.room === room && overlaps(bodyOf(ctx, visitor), home));
  });
}

/** After Move: elevators that their last rider has left go back, if they do. */
export function noticeRiders(ctx: ReportingContext): void {
  const { plan, state } = ctx;
  if (plan.leavers.length === 0) return;
  for (const course of plan.leavers) {
    const { id } = course.machine;
    const own = state.machines.get(id)!;
    let riders = 0;
    for (const visitor of state.visitors) if (visitor.inPlay && visitor.support === id) riders += 1;
    if (own.riders > 0 && riders === 0 && (own.motion !== null || own.clock !== course.starts)) {
      own.token += 1;
      finishLater(ctx, returnNow(ctx, id, own.token, own.lastMotion, null));
    }
    own.riders = riders;
  }
}
