import type { Vector } from '../level/quantities';
import { around, footprint, meet } from '../space/grid';
import type { Footprint, Grid } from '../space/grid';
import { gap } from '../space/overlap';
import { BOX, moved } from '../space/shapes';
import type { Shape } from '../space/shapes';
import { sweep, sweepOnTheGround } from '../space/sweep';
import type { Stretch } from '../space/sweep';
import { machinesOver } from './plan';
import type { Course } from './plan';
import { nextCorner } from './motions';
import { isSolid, isThere, shapeOf } from './poses';
import type { Rehearsing } from './rehearsing';
import type { Going, MachineState, Marks, VisitorState } from './state';
import { note } from './tracks';

/**
 * Which ticks can be passed over. While a visitor walks a straight leg, waits, or stands, its poses are known, so the ticks
 * at which it can enter, leave, miss, bump into, be stopped by or step on anything are known too: it sleeps until the next
 * of them. Whatever could alter them (a machine that starts, something made solid, a teleport) wakes it.
 */

/** Where the leg of a way is at its i-th tick: on the ground by the formula, at the height of its beginning. */
export function legPoint({ plan }: Rehearsing, going: Going, i: number): Vector {
  const { from, distance, speed } = going;
  const to = going.points[going.next]!;
  const share = Math.min(1, (i * speed) / (plan.level.rate * distance));
  if (share === 1) return to;
  return { x: from.x + (to.x - from.x) * share, y: from.y + (to.y - from.y) * share, z: from.z };
}

/** The way that a visitor is walking now, if it is. */
function goingOf(visitor: VisitorState): Going | null {
  if (visitor.forced !== null) return visitor.forced.going;
  return visitor.held || visitor.route === null ? null : visitor.route.going;
}

/** Brings a sleeping visitor, and what it carries, to where it is as of a tick. */
export function catchUp(rehearsing: Rehearsing, visitor: VisitorState, tick: number): void {
  const carrier = visitor.carriedBy === null ? null : rehearsing.state.visitors[visitor.carriedBy]!;
  if (carrier !== null) {
    catchUp(rehearsing, carrier, tick);
    return;
  }
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
  const { x, y } = legPoint(rehearsing, going, going.done);
  putAt(rehearsing, visitor, { x, y, z: visitor.at.z }, tick);
}

function putAt(rehearsing: Rehearsing, visitor: VisitorState, at: Vector, tick: number): void {
  visitor.at = at;
  visitor.sensedAt = at;
  note(rehearsing.tracks.visitors, visitor.id, tick, [at.x, at.y, at.z], true);
  for (const order of visitor.carries) {
    const carried = rehearsing.state.visitors[order]!;
    carried.asOf = tick;
    const height = rehearsing.plan.visitors[visitor.order]!.shape.height;
    putAt(rehearsing, carried, { x: at.x, y: at.y, z: at.z + height / 2 }, tick);
  }
}

/** Brings a visitor to where it is at this moment: those whose turn in Move is still to come are where they were. */
export function locate(rehearsing: Rehearsing, visitor: VisitorState): void {
  const { state } = rehearsing;
  const root = visitor.carriedBy === null ? visitor : carrierOf(rehearsing, visitor);
  catchUp(rehearsing, root, root.order <= state.turn ? state.tick : state.tick - 1);
}

/** Who carries a visitor, or carries who does, and is not carried; itself if nobody does. */
export function carrierOf({ state }: Rehearsing, visitor: VisitorState): VisitorState {
  let at = visitor;
  while (at.carriedBy !== null) at = state.visitors[at.carriedBy]!;
  return at;
}

/** Something has changed for a visitor and what it carries: they are looked at in their next turn. */
export function wakeUp(rehearsing: Rehearsing, visitor: VisitorState): void {
  const { state } = rehearsing;
  const root = carrierOf(rehearsing, visitor);
  for (const one of new Set([root, visitor, ...root.carries.map((order) => state.visitors[order]!)])) {
    locate(rehearsing, one);
    one.marks = null;
    // In Move, who has had its turn still takes part in the Sense to come.
    if (state.turn < state.visitors.length) state.wakes[one.order] = Math.min(state.wakes[one.order]!, state.tick);
    if (one.order <= state.turn) state.again.push(one.order);
  }
}

/** Something has changed in a room, or everywhere, that may hold or block whoever is there. */
export function disturb(rehearsing: Rehearsing, room: string | null): void {
  for (const visitor of rehearsing.state.visitors) {
    if (visitor.inPlay && (room === null || visitor.room === room)) wakeUp(rehearsing, visitor);
  }
}

/** Something has changed on a part of the ground: whoever is there, or comes there on its way, is looked at. */
export function disturbAbout(rehearsing: Rehearsing, room: string, where: Footprint): void {
  for (const visitor of rehearsing.state.visitors) {
    if (visitor.inPlay && visitor.room === room && meet(where, corridorOf(rehearsing, visitor))) wakeUp(rehearsing, visitor);
  }
}

/** After Sense: when each visitor that was looked at, and each machine in motion, has to be looked at next. */
export function settleDown(rehearsing: Rehearsing): void {
  const { state, plan } = rehearsing;
  const { wakes } = state;
  const awake: VisitorState[] = [];
  for (let order = 0; order < wakes.length; order++) {
    if (wakes[order]! > state.tick) continue;
    wakes[order] = wakeOf(rehearsing, state.visitors[order]!);
    awake.push(state.visitors[order]!);
  }
  for (const order of state.again) wakes[order] = state.tick + 1;
  state.again.length = 0;
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
    for (const visitor of anew ? state.visitors : awake) heed(rehearsing, course, own, visitor);
  }
}

/** Looks at a visitor again before it and a machine in motion can have come to each other, and when the motion is over. */
function heed(rehearsing: Rehearsing, course: Course, own: MachineState, visitor: VisitorState): void {
  const { state } = rehearsing;
  const reach = course.reach.get(visitor.room);
  if (!visitor.inPlay || reach === undefined || !meet(reach, corridorOf(rehearsing, visitor))) return;
  locate(rehearsing, visitor);
  const root = carrierOf(rehearsing, visitor);
  const over = own.motion!.startTick + own.motion!.ticks;
  const wake = Math.max(state.tick + 1, Math.min(over, state.tick + ticksApart(rehearsing, course, visitor, root)));
  own.wake = Math.min(own.wake, wake);
  for (const { order } of [root, visitor]) state.wakes[order] = Math.min(state.wakes[order]!, wake);
}

/**
 * For how many ticks a visitor and all that moves with a machine stay apart, whatever they do: their distance over the sum
 * of their greatest speeds (conservative advancement, B. Mirtich: Impulse-based Dynamic Simulation, 1996, section 2.3).
 */
function ticksApart({ plan, state }: Rehearsing, { group }: Course, visitor: VisitorState, root: VisitorState): number {
  const { x, y, z } = visitor.at;
  const body = moved(plan.visitors[visitor.order]!.shape, x, y, z);
  const going = goingOf(root);
  const own = going === null || going.blocked ? 0 : going.speed / plan.level.rate;
  let least = Infinity;
  for (const number of group) {
    const volume = plan.volumes[number]!;
    if (volume.room !== visitor.room) continue;
    const apart = gap(body, shapeOf(plan, state, number)) - MARGIN;
    if (apart <= 0) return 1;
    let fastest = own;
    for (const course of machinesOver(plan, volume)) if (state.inMotion.has(course.machine.id)) fastest += course.fastest;
    least = Math.min(least, apart / fastest);
  }
  return Math.floor(least);
}

/** The next tick at which something is to be looked at; Infinity for none. */
export function nextWake({ state }: Rehearsing): number {
  let next = Infinity;
  for (const wake of state.wakes) if (wake < next) next = wake;
  for (const id of state.inMotion) next = Math.min(next, state.machines.get(id)!.wake);
  return next;
}

/** The ground that a visitor covers until the end of its leg, with a margin for bumps. */
function corridorOf(rehearsing: Rehearsing, visitor: VisitorState): Footprint {
  const root = carrierOf(rehearsing, visitor);
  const shape = rehearsing.plan.visitors[visitor.order]!.shape;
  const at = footprint(moved(shape, visitor.at.x, visitor.at.y, 0), MARGIN);
  const going = goingOf(root);
  if (going === null || going.blocked) return at;
  // A sleeping visitor's place is as old as its last turn, and its leg goes on from there.
  const to = legPoint(rehearsing, going, going.ticks);
  return around(at, footprint(moved(shape, to.x, to.y, 0), MARGIN));
}

/** In metres, and more than the contact of a bump. */
const MARGIN = 0.02;

function wakeOf(rehearsing: Rehearsing, visitor: VisitorState): number {
  const { state } = rehearsing;
  const soon = state.tick + 1;
  if (!visitor.inPlay) return Infinity;
  if (visitor.carriedBy !== null) return Infinity;
  if (visitor.flight !== null || visitor.push !== null) return soon;
  const going = goingOf(visitor);
  if (going !== null) {
    if (going.blocked) return Infinity;
    return going.ticks === 0 ? soon : nextMark(rehearsing, visitor, going);
  }
  if (visitor.held || visitor.forced !== null || visitor.route === null) return Infinity;
  const { route } = visitor;
  if (route.at >= rehearsing.walk.routes[route.number]!.instructions.length) return Infinity;
  return route.waiting === null ? soon : state.tick + Math.max(1, route.waiting);
}

/** The next tick of a leg at which anything can change. What is carried is woken with its carrier. */
function nextMark(rehearsing: Rehearsing, visitor: VisitorState, going: Going): number {
  const { state } = rehearsing;
  let { marks } = visitor;
  const old = marks === null || marks.going !== going || marks.leg !== going.next || marks.z !== visitor.at.z;
  if (marks === null || old || marks.until <= going.done) {
    marks = marksOf(rehearsing, visitor, going);
    visitor.marks = marks;
  }
  const i = going.done + 1;
  let next = marks.until;
  if (marks.dense.some(({ from, to }) => i >= from && i <= to)) next = i;
  for (const { from } of marks.dense) if (from >= i && from < next) next = from;
  while (marks.ticks.length > 0 && marks.ticks.at(-1)! < i) marks.ticks.pop();
  if (marks.ticks.length > 0) next = Math.min(next, marks.ticks.at(-1)!);
  return state.tick + Math.max(1, next - going.done);
}

/** The marks of a leg from where the visitor is on it, as far as it is looked ahead. */
function marksOf(rehearsing: Rehearsing, visitor: VisitorState, going: Going): Marks {
  const { plan, state } = rehearsing;
  const begin = going.done;
  const metresATick = going.speed / plan.level.rate;
  const until = Math.min(going.ticks, begin + Math.max(1, Math.ceil(AHEAD / metresATick)));
  const here = legPoint(rehearsing, going, begin);
  const to = legPoint(rehearsing, going, until);
  const dx = to.x - here.x;
  const dy = to.y - here.y;
  const perTick = metresATick / Math.sqrt(dx * dx + dy * dy);
  const ticks: number[] = [];
  const dense: Marks['dense'] = [];
  const bodies = bodiesOf(rehearsing, visitor, here);
  bodies.forEach((body, place) => {
    const numbers = along(plan.volumeGrids.get(visitor.room), body, dx, dy);
    for (const number of numbers) {
      const shape = shapeOf(plan, state, number);
      if (isSolid(plan, state, number)) {
        if (place > 0) continue;
        const near = sweepOnTheGround(body, dx, dy, grown(shape));
        const isUnder = shape.z + shape.height <= body.z;
        if (near !== null && (isUnder || shape.z >= body.z + body.height + MARGIN)) {
          // It passes over or under it: what it stands on changes, and what it has touched is left.
          mark(ticks, begin, perTick, near);
          const stretch = sweepOnTheGround(body, dx, dy, shape);
          if (stretch !== null) mark(ticks, begin, perTick, stretch);
        } else if (near !== null)
          // All the while that it is near enough to bump.
          dense.push({
            from: begin + Math.floor(near.from / perTick - SLACK),
            to: begin + Math.ceil(near.to / perTick + SLACK) + 1,
          });
      } else if (isThere(plan, state, number)) {
        const stretch = sweep(body, dx, dy, 0, shape);
        if (stretch !== null) mark(ticks, begin, perTick, stretch);
      }
    }
    if (place > 0) return;
    for (const number of along(plan.solidGrids.get(visitor.room), body, dx, dy)) {
      const stretch = sweepOnTheGround(body, dx, dy, plan.solids[number]!.shape);
      if (stretch !== null) mark(ticks, begin, perTick, stretch);
    }
  });
  ticks.sort((a, b) => b - a);
  return { going, leg: going.next, z: visitor.at.z, until, ticks, dense };
}

/** The bodies of a visitor and of all it carries, at a point of the ground. */
function bodiesOf(rehearsing: Rehearsing, { order, at, carries }: VisitorState, { x, y }: Vector): Shape[] {
  const own = moved(rehearsing.plan.visitors[order]!.shape, x, y, at.z);
  if (carries.length === 0) return [own];
  return [own, ...carries.flatMap((carried) => bodiesOf(rehearsing, rehearsing.state.visitors[carried]!, { x, y, z: 0 }))];
}

/** Marks the ticks at which a crossing can begin and end. */
function mark(ticks: number[], begin: number, perTick: number, { from, to }: Stretch): void {
  for (let slack = -SLACK; slack <= SLACK; slack += 2 * SLACK) {
    ticks.push(begin + (from === 0 ? 1 : Math.floor(from / perTick + slack) + 1));
    if (to < 1) ticks.push(begin + Math.ceil(to / perTick + slack));
  }
}

/** The numbers in a grid that could meet a body on a straight move, which is looked at piece by piece. */
function along(grid: Grid | undefined, body: Shape, dx: number, dy: number): number[] {
  const found: number[] = [];
  if (grid === undefined) return found;
  grid.begin();
  const pieces = Math.max(1, Math.ceil(Math.max(Math.abs(dx), Math.abs(dy)) / PIECE));
  for (let i = 0; i < pieces; i++) {
    const from = moved(body, body.x + (dx * i) / pieces, body.y + (dy * i) / pieces, body.z);
    const to = moved(body, body.x + (dx * (i + 1)) / pieces, body.y + (dy * (i + 1)) / pieces, body.z);
    grid.findMore(around(footprint(from, MARGIN), footprint(to, MARGIN)), found);
  }
  return found;
}

/** How far a leg is looked ahead, in metres. */
const AHEAD = 32;
/** How long a piece of a leg is looked at, in metres. */
const PIECE = 6;

/** What part of a tick rounding may shift a crossing by, and more. */
const SLACK = 1e-6;

function grown(shape: Shape): Shape {
  return { ...shape, form: shape.form === BOX ? BOX : shape.form, halfX: shape.halfX + MARGIN, halfY: shape.halfY + MARGIN };
}
