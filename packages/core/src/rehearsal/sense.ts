import type { Plate } from '../fixtures';
import type { Visitor } from '../level/people';
import type { Vector } from '../level/quantities';
import { moved, near } from '../space/bodies';
import type { UprightBox } from '../space/bodies';
import { overlaps, sweep } from '../space/overlap';
import { doorBox } from './doors';
import type { Sensed } from './plan';
import { raise } from './rehearsing';
import type { Rehearsing } from './rehearsing';
import type { Happening } from './state';

/**
 * Compares the overlaps of now with those of the last Sense, and raises all leaves, then all enters, then what was
 * missed, each in order of the things (zones, then passable fixtures) and of the visitors; then lets the plates weigh.
 */
export function sense(rehearsing: Rehearsing): void {
  const { state, plan } = rehearsing;
  const present = plan.level.visitors.map((visitor) => presenceOf(rehearsing, visitor));
  const walkers = present.filter((one) => one.leap === null || one.leap > 0);
  const leaves: Happening[] = [];
  const enters: Happening[] = [];
  const missed: Happening[] = [];
  for (const thing of plan.sensed) {
    const pose = poseOf(rehearsing, thing);
    const comparing = pose.shift === null ? walkers : present;
    if (comparing.length === 0) continue;
    const inside = state.inside.get(thing.id)!;
    for (const { id, room, body, before, leap } of comparing) {
      if (room !== thing.room) continue;
      const was = inside.has(id);
      const maybe = near(body, pose.box, (leap ?? 0) + pose.leap);
      if (!was && !maybe) continue;
      const is = maybe && overlaps(body, pose.box);
      const happening = { who: id, what: thing.id, cause: pose.cause, details: {} };
      if (is && !was) enters.push({ kind: 'enter', ...happening });
      else if (!is && was) leaves.push({ kind: 'leave', ...happening });
      else if (!is && before !== null && crossed(body, before, pose)) missed.push({ kind: 'missed', ...happening });
      if (is) inside.add(id);
      else inside.delete(id);
    }
  }
  for (const happening of [...leaves, ...enters, ...missed]) raise(rehearsing, happening);
  weigh(rehearsing, leaves, enters);
  for (const own of state.visitors.values()) own.before = own.at;
}

/** Presses and releases, in listing order of the plates. */
function weigh(rehearsing: Rehearsing, leaves: readonly Happening[], enters: readonly Happening[]): void {
  const { state, plan } = rehearsing;
  for (const plate of plan.plates) {
    const on = state.inside.get(plate.id)!;
    const load = loadOf(rehearsing, plate);
    const pressed = on.size > 0 && load >= plate.threshold - 1e-9;
    if (pressed === state.pressed.get(plate.id)) continue;
    state.pressed.set(plate.id, pressed);
    const came = (pressed ? enters : leaves).findLast((happening) => happening.what === plate.id);
    const standing = plan.level.visitors.findLast((visitor) => on.has(visitor.id));
    raise(rehearsing, {
      kind: pressed ? 'press' : 'release',
      who: came?.who ?? standing?.id ?? null,
      what: plate.id,
      cause: came?.cause ?? null,
      details: { load, threshold: plate.threshold },
    });
  }
}

/** The mass in kilograms of who is on a plate, with what they carry; what is carried weighs only with its carrier. */
function loadOf(rehearsing: Rehearsing, plate: Plate): number {
  const { state, plan } = rehearsing;
  const on = state.inside.get(plate.id)!;
  if (on.size === 0) return 0;
  let load = 0;
  for (const visitor of plan.level.visitors) {
    const carrier = state.visitors.get(visitor.id)!.carriedBy;
    if (on.has(carrier ?? visitor.id)) load += visitor.mass;
  }
  return load;
}

/** A visitor at a Sense: its body, where it was at the last one, and how far it has come since (null: it was put there). */
interface Presence {
  id: string;
  room: string;
  body: UprightBox;
  before: Vector | null;
  leap: number | null;
}

function presenceOf({ state, plan }: Rehearsing, { id, room }: Visitor): Presence {
  const { at, before } = state.visitors.get(id)!;
  const leap = before === null ? null : Math.abs(at.x - before.x) + Math.abs(at.y - before.y) + Math.abs(at.z - before.z);
  return { id, room, body: moved(plan.bodies.get(id)!, at), before, leap };
}

/** A sensed thing at a Sense: its box now and at the last one, how far it has moved since, and the motion that did it. */
interface Pose {
  box: UprightBox;
  earlier: UprightBox;
  shift: Vector | null;
  leap: number;
  cause: number | null;
}

function poseOf({ state, plan }: Rehearsing, thing: Sensed): Pose {
  if (thing.fixed !== null) return { box: thing.fixed, earlier: thing.fixed, shift: null, leap: 0, cause: null };
  const door = plan.doors.get(thing.id)!;
  const own = state.doors.get(thing.id)!;
  const box = doorBox(door, own.clock);
  if (own.sensedClock === own.clock) return { box, earlier: box, shift: null, leap: 0, cause: null };
  const earlier = doorBox(door, own.sensedClock);
  own.sensedClock = own.clock;
  const shift = { x: box.x - earlier.x, y: box.y - earlier.y, z: box.z - earlier.z };
  return { box, earlier, shift, leap: Math.abs(shift.x) + Math.abs(shift.y), cause: own.lastMotion };
}

/** Whether a body that is outside before and after passed through the thing between, both moving evenly. */
function crossed(body: UprightBox, before: Vector, { earlier, shift }: Pose): boolean {
  const dx = body.x - before.x - (shift?.x ?? 0);
  const dy = body.y - before.y - (shift?.y ?? 0);
  const dz = body.z - before.z - (shift?.z ?? 0);
  return sweep(moved(body, before), dx, dy, dz, earlier) !== null;
}
