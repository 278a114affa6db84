import type { Vector } from '../level/quantities';
import { around, footprint, meet } from '../space/grid';
import type { Footprint } from '../space/grid';
import { BOX, moved } from '../space/shapes';
import type { Shape } from '../space/shapes';
import { sweep, sweepOnTheGround } from '../space/sweep';
import { isSolid, isThere, shapeOf } from './poses';
import type { Rehearsing } from './rehearsing';
import type { Going, Marks, VisitorState } from './state';
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
    if (one.order > state.turn) one.wake = Math.min(one.wake, state.tick);
    else one.again = true;
  }
}

/** Something has changed in a room, or everywhere, that may hold or block whoever is there. */
export function disturb(rehearsing: Rehearsing, room: string | null): void {
  for (const visitor of rehearsing.state.visitors) {
    if (visitor.inPlay && (room === null || visitor.room === room)) wakeUp(rehearsing, visitor);
  }
}

/** After Sense: when each visitor that was looked at, and each machine in motion, has to be looked at next. */
export function settleDown(rehearsing: Rehearsing): void {
  const { state, plan } = rehearsing;
  for (const visitor of state.visitors) {
    if (visitor.again) visitor.wake = state.tick + 1;
    else if (visitor.wake <= state.tick) visitor.wake = wakeOf(rehearsing, visitor);
    visitor.again = false;
  }
  for (const id of state.inMotion) {
    const course = plan.courses.get(id)!;
    const own = state.machines.get(id)!;
    const motion = own.motion!;
    const simple = course.frames.length === 2 || Math.abs(motion.to - motion.from) <= 1;
    own.wake = simple ? Math.max(state.tick + 1, motion.startTick + motion.ticks) : state.tick + 1;
    for (const visitor of state.visitors) {
      const reach = course.reach.get(visitor.room);
      if (!visitor.inPlay || reach === undefined || !meet(reach, corridorOf(rehearsing, visitor))) continue;
      own.wake = state.tick + 1;
      const root = carrierOf(rehearsing, visitor);
      root.wake = state.tick + 1;
      visitor.wake = state.tick + 1;
    }
  }
}

/** The next tick at which something is to be looked at; Infinity for none. */
export function nextWake({ state }: Rehearsing): number {
  let next = Infinity;
  for (const visitor of state.visitors) if (visitor.wake < next) next = visitor.wake;
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
  const to = going.points[going.next]!;
  return around(at, footprint(moved(shape, to.x, to.y, 0), MARGIN));
}

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
  if (marks === null || marks.going !== going || marks.leg !== going.next || marks.z !== visitor.at.z) {
    marks = marksOf(rehearsing, visitor, going);
    visitor.marks = marks;
  }
  const i = going.done + 1;
  let next = going.ticks;
  if (marks.dense.some(({ from, to }) => i >= from && i <= to)) next = i;
  for (const { from } of marks.dense) if (from >= i && from < next) next = from;
  while (marks.ticks.length > 0 && marks.ticks.at(-1)! < i) marks.ticks.pop();
  if (marks.ticks.length > 0) next = Math.min(next, marks.ticks.at(-1)!);
  const wake = state.tick + Math.max(1, next - going.done);
  return wake;
}

function marksOf(rehearsing: Rehearsing, visitor: VisitorState, going: Going): Marks {
  const { plan, state } = rehearsing;
  const to = going.points[going.next]!;
  const dx = to.x - going.from.x;
  const dy = to.y - going.from.y;
  const perTick = going.speed / (plan.level.rate * going.distance);
  const ticks: number[] = [];
  const dense: Marks['dense'] = [];
  const mark = (from: number, until: number): void => {
    for (const slack of [-SLACK, SLACK]) {
      ticks.push(from === 0 ? 1 : Math.floor(from / perTick + slack) + 1);
      if (until < 1) ticks.push(Math.ceil(until / perTick + slack));
    }
  };
  const bodies: Shape[] = [];
  const gather = (one: VisitorState): void => {
    const shape = plan.visitors[one.order]!.shape;
    bodies.push(moved(shape, going.from.x, going.from.y, one.at.z));
    one.carries.forEach((order) => gather(state.visitors[order]!));
  };
  gather(visitor);
  bodies.forEach((body, place) => {
    const where = around(footprint(body, MARGIN), footprint(moved(body, to.x, to.y, body.z), MARGIN));
    const numbers = new Set<number>();
    plan.volumeGrids.get(visitor.room)?.find(where, numbers);
    for (const number of numbers) {
      const shape = shapeOf(plan, state, number);
      if (isSolid(plan, state, number)) {
        if (place > 0) continue;
        // All the while that it is near enough to bump, or over or under it.
        const near = sweepOnTheGround(body, dx, dy, grown(shape));
        if (near !== null)
          dense.push({ from: Math.floor(near.from / perTick - SLACK), to: Math.ceil(near.to / perTick + SLACK) + 1 });
      } else if (isThere(plan, state, number)) {
        const stretch = sweep(body, dx, dy, 0, shape);
        if (stretch !== null) mark(stretch.from, stretch.to);
      }
    }
    if (place > 0) return;
    numbers.clear();
    plan.solidGrids.get(visitor.room)?.find(where, numbers);
    for (const number of numbers) {
      const stretch = sweepOnTheGround(body, dx, dy, plan.solids[number]!.shape);
      if (stretch !== null) mark(stretch.from, stretch.to);
    }
  });
  ticks.sort((a, b) => b - a);
  return { going, leg: going.next, z: visitor.at.z, ticks, dense };
}

/** What part of a tick rounding may shift a crossing by, and more. */
const SLACK = 1e-6;

function grown(shape: Shape): Shape {
  return { ...shape, form: shape.form === BOX ? BOX : shape.form, halfX: shape.halfX + MARGIN, halfY: shape.halfY + MARGIN };
}
