import { travelSeconds } from '../fixtures';
import type { Door } from '../fixtures';
import type { Outcome } from './stage';
import { schedule } from './rehearsing';
import type { Rehearsing } from './rehearsing';
import type { Motion, Waiter } from './state';
import { ticksOf } from './ticks';
import { note } from './tracks';

/** Where a motion's clock stands at a tick. */
export function clockAt(motion: Motion, tick: number): number {
  if (tick >= motion.startTick + motion.ticks) return motion.to;
  return motion.from + ((motion.to - motion.from) * (tick - motion.startTick)) / motion.ticks;
}

/** What sending a door came to: how the step goes on, and the steps that ended because their motion was turned back. */
export interface Sent {
  outcome: Outcome;
  ended: Waiter[];
}

/** Sends a door to an end. `cause` is the entry that did it. */
export function sendDoor(rehearsing: Rehearsing, door: Door, end: 0 | 1, cause: number, hand: string | null): Sent {
  const { state, plan } = rehearsing;
  const own = state.doors.get(door.id)!;
  if (own.motion !== null && own.motion.to === end) return { outcome: { motionOf: door.id }, ended: [] };
  if (own.motion === null && own.clock === end) {
    // Told again while it waits to return: the wait begins anew.
    scheduleReturn(rehearsing, door, cause, hand);
    return { outcome: { done: true }, ended: [] };
  }
  const turned = own.motion;
  // By the formula, not by the pose of the last Move: what is due comes before Move, but the time is the same.
  if (turned !== null) own.clock = clockAt(turned, state.tick);
  const full = ticksOf(travelSeconds(door), plan.level.rate);
  const ticks = Math.ceil(Math.abs(end - own.clock) * full - 1e-6);
  own.token += 1;
  own.motion = { from: own.clock, to: end, startTick: state.tick, ticks, entry: null, hand, waiters: [] };
  if (ticks === 0) own.clock = end;
  const ended = turned?.waiters ?? [];
  const details = {
    to: end === 1 ? 'open' : 'closed',
    ticks,
    ...(turned === null ? {} : { turnedBack: true, endsSteps: ended.map((waiter) => String(waiter.entry)) }),
  };
  state.queue.push({ do: 'event', event: { kind: 'moving', who: hand, what: door.id, cause, details }, motion: own.motion });
  note(rehearsing.tracks.doors, door.id, state.tick, [own.clock]);
  return { outcome: { motionOf: door.id }, ended };
}

/** Lets every door in motion advance to this tick. */
export function advanceDoors(rehearsing: Rehearsing): void {
  const { state, plan } = rehearsing;
  for (const [id, own] of state.doors) {
    const { motion } = own;
    if (motion === null) continue;
    own.clock = clockAt(motion, state.tick);
    note(rehearsing.tracks.doors, id, state.tick, [own.clock]);
    if (own.clock === motion.to) raiseEnd(rehearsing, plan.doors.get(id)!, motion);
  }
}

/** When a `moving` entry has its number: the motion remembers it, and one that takes no time ends. */
export function motionBegan(rehearsing: Rehearsing, motion: Motion, doorId: string, entry: number): void {
  const own = rehearsing.state.doors.get(doorId)!;
  motion.entry = entry;
  own.lastMotion = entry;
  if (motion.ticks === 0 && own.motion === motion) raiseEnd(rehearsing, rehearsing.plan.doors.get(doorId)!, motion);
}

/** When `opened` or `closed` has its number: the return is scheduled. */
export function motionEnded(rehearsing: Rehearsing, doorId: string, entry: number, hand: string | null): void {
  const door = rehearsing.plan.doors.get(doorId);
  if (door !== undefined) scheduleReturn(rehearsing, door, entry, hand);
}

function raiseEnd(rehearsing: Rehearsing, door: Door, motion: Motion): void {
  const own = rehearsing.state.doors.get(door.id)!;
  own.motion = null;
  rehearsing.state.queue.push({
    do: 'event',
    event: { kind: motion.to === 1 ? 'opened' : 'closed', who: motion.hand, what: door.id, cause: motion.entry, details: {} },
    waiters: motion.waiters,
  });
}

/** A door that stands away from where it started goes back after its wait, unless it is sent anywhere before. */
function scheduleReturn(rehearsing: Rehearsing, door: Door, cause: number, hand: string | null): void {
  const own = rehearsing.state.doors.get(door.id)!;
  if (door.returnAfter === null || own.motion !== null || own.clock === (door.open ? 1 : 0)) return;
  own.token += 1;
  const ticks = ticksOf(door.returnAfter, rehearsing.plan.level.rate);
  const item = { do: 'return', door: door.id, token: own.token, cause, hand } as const;
  if (ticks === 0) rehearsing.state.queue.push(item);
  else schedule(rehearsing, ticks, item);
}
