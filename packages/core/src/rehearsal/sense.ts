import type { Plate } from '../fixtures';
import type { Vector } from '../level/quantities';
import { moved } from '../space/bodies';
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
  const visitors = plan.level.visitors;
  const walkers = visitors.filter((visitor) => !same(state.visitors.get(visitor.id)!.at, state.visitors.get(visitor.id)!.before));
  const leaves: Happening[] = [];
  const enters: Happening[] = [];
  const missed: Happening[] = [];
  for (const thing of plan.sensed) {
    const { box, cause, shift, earlier } = poseOf(rehearsing, thing);
    const comparing = shift === null ? walkers : visitors;
    if (comparing.length === 0) continue;
    const inside = state.inside.get(thing.id)!;
    for (const visitor of comparing) {
      if (visitor.room !== thing.room) continue;
      const own = state.visitors.get(visitor.id)!;
      const body = moved(plan.bodies.get(visitor.id)!, own.at);
      const is = overlaps(body, box);
      const was = inside.has(visitor.id);
      const happening = { who: visitor.id, what: thing.id, cause, details: {} };
      if (is && !was) enters.push({ kind: 'enter', ...happening });
      else if (!is && was) leaves.push({ kind: 'leave', ...happening });
      else if (!is && own.before !== null && crossed(body, own, earlier, shift)) missed.push({ kind: 'missed', ...happening });
      if (is) inside.add(visitor.id);
      else inside.delete(visitor.id);
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

interface Pose {
  box: UprightBox;
  /** Its box at the last Sense, and how far it has moved since; null if it has not. */
  earlier: UprightBox;
  shift: Vector | null;
  cause: number | null;
}

function poseOf(rehearsing: Rehearsing, thing: Sensed): Pose {
  if (thing.fixed !== null) return { box: thing.fixed, earlier: thing.fixed, shift: null, cause: null };
  const door = rehearsing.plan.doors.get(thing.id)!;
  const own = rehearsing.state.doors.get(thing.id)!;
  const box = doorBox(door, own.clock);
  if (own.sensedClock === own.clock) return { box, earlier: box, shift: null, cause: null };
  const earlier = doorBox(door, own.sensedClock);
  own.sensedClock = own.clock;
  return { box, earlier, shift: { x: box.x - earlier.x, y: box.y - earlier.y, z: box.z - earlier.z }, cause: own.lastMotion };
}

function crossed(body: UprightBox, own: { at: Vector; before: Vector | null }, earlier: UprightBox, shift: Vector | null): boolean {
  const before = own.before!;
  const dx = own.at.x - before.x - (shift?.x ?? 0);
  const dy = own.at.y - before.y - (shift?.y ?? 0);
  const dz = own.at.z - before.z - (shift?.z ?? 0);
  return sweep(moved(body, before), dx, dy, dz, earlier) !== null;
}

function same(a: Vector, b: Vector | null): boolean {
  return b !== null && a.x === b.x && a.y === b.y && a.z === b.z;
}
