import type { Plate } from '../fixtures';
import type { Visitor } from '../level/people';
import { moved } from '../space/bodies';
import type { UprightBox } from '../space/bodies';
import { around, footprint } from '../space/grid';
import { overlaps, sweep } from '../space/overlap';
import { doorBox } from './plan';
import { raise } from './rehearsing';
import type { Rehearsing } from './rehearsing';
import type { Happening } from './state';

/**
 * Compares the overlaps of now with those of the last Sense, and raises all leaves, then all enters, then what was
 * missed, each in order of the things (zones, then passable fixtures) and of the visitors; then lets the plates weigh.
 */
export function sense(rehearsing: Rehearsing): void {
  const { state, plan } = rehearsing;
  const doors = movedDoors(rehearsing);
  const found = { leaves: [] as Sensed[], enters: [] as Sensed[], missed: [] as Sensed[] };
  plan.level.visitors.forEach((visitor, order) => {
    const walked = hasMoved(rehearsing, visitor.id);
    if (!walked && doors.length === 0) return;
    const presence = presenceOf(rehearsing, visitor, order);
    const numbers = walked ? nearby(rehearsing, presence) : new Set<number>();
    for (const number of doors) numbers.add(number);
    for (const number of numbers) compare(rehearsing, poseOf(rehearsing, number), presence, found);
  });
  const leaves = inOrder(found.leaves);
  const enters = inOrder(found.enters);
  for (const happening of [...leaves, ...enters, ...inOrder(found.missed)]) raise(rehearsing, happening);
  weigh(rehearsing, leaves, enters);
  for (const own of state.visitors.values()) {
    own.sensedAt = own.at;
    own.jumped = false;
  }
  for (const number of doors) {
    const own = state.doors.get(plan.sensed[number]!.id)!;
    own.sensedClock = own.clock;
  }
}

/** What was found for one thing and one visitor, with the places of both in listing order. */
interface Sensed {
  thing: number;
  visitor: number;
  happening: Happening;
}

function inOrder(found: Sensed[]): Happening[] {
  return found.sort((a, b) => a.thing - b.thing || a.visitor - b.visitor).map((one) => one.happening);
}

/** The passable doors that have moved since the last Sense, by their places among the sensed things. */
function movedDoors({ state, plan }: Rehearsing): number[] {
  return plan.sensedDoors.filter((number) => {
    const { clock, sensedClock } = state.doors.get(plan.sensed[number]!.id)!;
    return clock !== sensedClock;
  });
}

function hasMoved({ state }: Rehearsing, id: string): boolean {
  const { at, sensedAt, jumped } = state.visitors.get(id)!;
  return jumped || at.x !== sensedAt.x || at.y !== sensedAt.y || at.z !== sensedAt.z;
}

/** The things near where a visitor is, was, or passed in between. */
function nearby({ plan }: Rehearsing, { room, body, before, jumped }: Presence): Set<number> {
  const found = new Set<number>();
  const grid = plan.sensedGrids.get(room);
  const now = footprint(body);
  const then = footprint(before);
  if (jumped) {
    grid?.find(then, found);
    grid?.find(now, found);
  } else {
    grid?.find(around(then, now), found);
  }
  return found;
}

/** Notes whether a visitor has entered or left a thing, or has passed it between two ticks. */
function compare(
  { state }: Rehearsing,
  pose: Pose,
  visitor: Presence,
  found: { leaves: Sensed[]; enters: Sensed[]; missed: Sensed[] },
): void {
  if (visitor.room !== pose.room) return;
  const inside = state.inside.get(pose.id)!;
  const was = inside.has(visitor.id);
  const is = overlaps(visitor.body, pose.box);
  const note = (kind: 'enter' | 'leave' | 'missed'): Sensed => ({
    thing: pose.number,
    visitor: visitor.order,
    happening: { kind, who: visitor.id, what: pose.id, cause: pose.cause, details: {} },
  });
  if (is && !was) found.enters.push(note('enter'));
  else if (!is && was) found.leaves.push(note('leave'));
  else if (!is && !visitor.jumped && crossed(visitor, pose)) found.missed.push(note('missed'));
  if (is) inside.add(visitor.id);
  else inside.delete(visitor.id);
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

/** A visitor at a Sense: its body now and at the last one, and how it has come from there. */
interface Presence {
  id: string;
  order: number;
  room: string;
  body: UprightBox;
  before: UprightBox;
  jumped: boolean;
}

function presenceOf({ state, plan }: Rehearsing, { id, room }: Visitor, order: number): Presence {
  const { at, sensedAt, jumped } = state.visitors.get(id)!;
  const shape = plan.bodies.get(id)!;
  return { id, order, room, body: moved(shape, at), before: moved(shape, sensedAt), jumped };
}

/** A sensed thing at a Sense: its box now and at the last one, and the motion that moved it. */
interface Pose {
  id: string;
  number: number;
  room: string;
  box: UprightBox;
  earlier: UprightBox;
  cause: number | null;
}

function poseOf({ state, plan }: Rehearsing, number: number): Pose {
  const { id, room, fixed } = plan.sensed[number]!;
  if (fixed !== null) return { id, number, room, box: fixed, earlier: fixed, cause: null };
  const door = plan.doors.get(id)!;
  const { clock, sensedClock, lastMotion } = state.doors.get(id)!;
  const box = doorBox(door, clock);
  if (sensedClock === clock) return { id, number, room, box, earlier: box, cause: null };
  return { id, number, room, box, earlier: doorBox(door, sensedClock), cause: lastMotion };
}

/** Whether a body that is outside before and after passed through the thing between, both moving evenly. */
function crossed({ body, before }: Presence, { box, earlier }: Pose): boolean {
  const dx = body.x - before.x - (box.x - earlier.x);
  const dy = body.y - before.y - (box.y - earlier.y);
  const dz = body.z - before.z - (box.z - earlier.z);
  return sweep(before, dx, dy, dz, earlier) !== null;
}
