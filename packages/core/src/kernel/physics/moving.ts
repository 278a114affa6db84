import { lengthOf } from '../../kinds/fixtures';
import type { Vector } from '../../vocabulary/quantities';
import type { Instruction } from '../../document/people';
import type { Room } from '../../document/places';
import { headingOf } from '../../space/headings';
import { anyShape, moved, shifted } from '../../space/shapes';
import { findWay } from '../../space/ways';
import { bodyOf, face, place, setMovedBy } from './bodies';
import { handle } from './handling';
import type { WorldContext, ReportingContext } from '../state/context';
import { spotOf } from './spots';
import { legPoint, startWayAnew } from '../state/legs';
import { endRest } from './resting';
import { catchUp } from './sleep';
import { firstInTheWay, supportUnder } from './standing';
import type { Flight, WalkProgress, RouteState, VisitorState } from '../state/world';
import { ticksOf } from '../../vocabulary/ticks';
import { raise } from '../state/raising';

/** Moves every visitor that has to be looked at in this tick, in listing order. */
export function moveVisitors(ctx: ReportingContext): void {
  const { state } = ctx;
  for (let order = 0; order < state.wakes.length; order++) {
    state.turn = order;
    if (state.wakes[order]! > state.tick) continue;
    const visitor = state.visitors[order]!;
    endRest(ctx, visitor);
    catchUp(ctx, visitor, state.tick - 1);
    visitor.asOf = state.tick;
    if (visitor.inPlay && visitor.carriedBy === null) moveOne(ctx, visitor);
  }
  state.turn = state.visitors.length;
}

/** One tick of one visitor: a flight first, then a push, a walk ordered by a step, and its route. */
function moveOne(ctx: ReportingContext, visitor: VisitorState): void {
  if (visitor.flight !== null) fly(ctx, visitor, visitor.flight);
  else if (visitor.push !== null) bePushed(ctx, visitor, visitor.push);
  else if (visitor.forced !== null) walkForced(ctx, visitor, visitor.forced);
  else if (visitor.route === null || visitor.held || !walkRoute(ctx, visitor, visitor.route)) stand(ctx, visitor);
}

/** Lets a visitor stand where it is: on what is under it within a step, or else it begins to fall. */
export function stand(ctx: ReportingContext, visitor: VisitorState): void {
  const { plan, state } = ctx;
  const { stepHeight } = plan.level;
  const { x, y, z } = visitor.at;
  const under = supportUnder(ctx, visitor, bodyOf(ctx, visitor), z - stepHeight, z + stepHeight);
  visitor.support = under?.id ?? null;
  if (under === null)
    visitor.flight ??= { from: visitor.at, velocity: { x: 0, y: 0, z: 0 }, begun: state.tick, thrown: null, pushedBy: null };
  else if (under.top !== z) place(ctx, visitor, { x, y, z: under.top });
}

/**
 * Tries to bring a visitor to a point of the ground in one tick, up or down a step. If something is in the way it comes as
 * near as it can. Gives what stopped it, or null.
 */
function tryStep(ctx: ReportingContext, visitor: VisitorState, x: number, y: number): string | null {
  const { plan, state } = ctx;
  const step = plan.level.stepHeight;
  const { at } = visitor;
  const dx = x - at.x;
  const dy = y - at.y;
  visitor.wish = { x: dx, y: dy, z: 0 };
  const body = bodyOf(ctx, visitor);
  const under = supportUnder(ctx, visitor, shifted(there, body, x, y, at.z), at.z - step, at.z + step);
  const lifted = under !== null && under.top > at.z ? moved(body, at.x, at.y, under.top) : body;
  const stop = firstInTheWay(ctx, visitor, lifted, dx, dy, 0, at.z + step, body);
  if (stop === null) {
    place(ctx, visitor, { x, y, z: under?.top ?? at.z });
    visitor.support = under?.id ?? null;
    if (under === null)
      visitor.flight = { from: visitor.at, velocity: { x: 0, y: 0, z: 0 }, begun: state.tick, thrown: null, pushedBy: null };
    return null;
  }
  const share = stop.from - STOP_GAP_M / Math.sqrt(dx * dx + dy * dy);
  if (share > 0) state.again.push(visitor.order);
  if (share > 0) place(ctx, visitor, { x: at.x + dx * share, y: at.y + dy * share, z: at.z });
  stand(ctx, visitor);
  // What it stepped up on brings the next step into its reach.
  return visitor.at.z > at.z && visitor.flight === null ? tryStep(ctx, visitor, x, y) : stop.id;
}

/** The body where it is to be next. */
const there = anyShape();

/** The gap a blocked visitor leaves to the obstacle, in metres along its path. */
const STOP_GAP_M = 1e-6;

/** Begins to go somewhere from where it stands; null if the place is not there, or in another room. */
export function begin(
  ctx: ReportingContext,
  visitor: VisitorState,
  to: Parameters<typeof spotOf>[1],
  speed: number,
): WalkProgress | null {
  const { plan } = ctx;
  const spot = spotOf(ctx, to, visitor);
  const room = plan.rooms.get(visitor.room);
  if (spot === null || spot.room !== visitor.room || room === undefined) return null;
  const points = wayTo(ctx, visitor, spot.at, room);
  const going: WalkProgress = { points, next: 0, from: visitor.at, distance: 0, speed, ticks: 0, done: 0, blocked: false };
  beginLeg(ctx, visitor, going);
  return going;
}

/** The way of a visitor to a place in its room, as its corners; the same again where it was asked before. */
function wayTo(ctx: WorldContext, visitor: VisitorState, to: Vector, { ground, extents }: Room): Vector[] {
  const { plan } = ctx;
  const { at, order, room } = visitor;
  const key = `${order} ${room} ${at.x} ${at.y} ${at.z} ${to.x} ${to.y} ${to.z}`;
  let way = plan.ways.get(key);
  if (way === undefined) {
    const terrain = { blocks: plan.blocks, grid: plan.solidGrids.get(room), ground, step: plan.level.stepHeight, extents };
    way = findWay(terrain, bodyOf(ctx, visitor), to);
    if (plan.ways.size >= MOST_WAYS) plan.ways.clear();
    plan.ways.set(key, way);
  }
  return way;
}

/** The most paths that are cached. */
const MOST_WAYS = 1000;

/** Begins the leg to the next corner of a way, from where the visitor is. */
export function beginLeg(ctx: WorldContext, visitor: VisitorState, going: WalkProgress): void {
  const to = going.points[going.next]!;
  const dx = to.x - visitor.at.x;
  const dy = to.y - visitor.at.y;
  going.from = visitor.at;
  going.distance = Math.sqrt(dx * dx + dy * dy);
  going.ticks = ticksOf(going.distance / going.speed, ctx.plan.level.rate);
  going.done = 0;
  face(ctx, visitor, headingOf(dx, dy) ?? visitor.heading);
}

/** One tick of going: `arrived` when the place is reached, at once if it is reached already. `moved` if the tick was used. */
function advance(ctx: ReportingContext, visitor: VisitorState, going: WalkProgress): { arrived: boolean; used: boolean } {
  while (going.ticks === 0) {
    if (going.next === going.points.length - 1) return { arrived: true, used: false };
    going.next += 1;
    beginLeg(ctx, visitor, going);
  }
  const { x, y } = legPoint(ctx.plan, going, going.done + 1);
  const stop = tryStep(ctx, visitor, x, y);
  if (stop !== null) {
    if (!going.blocked) raise(ctx, { kind: 'blocked', who: visitor.id, what: stop, cause: null, details: {} });
    going.blocked = true;
    return { arrived: false, used: true };
  }
  going.blocked = false;
  going.done += 1;
  if (going.done < going.ticks) return { arrived: false, used: true };
  if (going.next === going.points.length - 1) return { arrived: true, used: true };
  going.next += 1;
  beginLeg(ctx, visitor, going);
  return { arrived: false, used: true };
}

function walkForced(ctx: ReportingContext, visitor: VisitorState, forced: NonNullable<VisitorState['forced']>): void {
  const absolute = { ...forced.to, room: '', of: '', axes: 'room', height: 'datum' } as const;
  forced.going ??= begin(ctx, visitor, absolute, forced.speed);
  if (forced.going === null) {
    stand(ctx, visitor);
    return;
  }
  const { arrived, used } = advance(ctx, visitor, forced.going);
  if (!used) stand(ctx, visitor);
  if (!arrived) return;
  visitor.forced = null;
  const event = { kind: 'arrived', who: forced.triggeredBy, what: visitor.id, cause: forced.cause, details: {} } as const;
  raise(ctx, event, { waiters: forced.waiters });
}

/** One tick of a route: what takes no time is passed, the first that takes some gets its tick. False if it stood still. */
function walkRoute(ctx: ReportingContext, visitor: VisitorState, route: RouteState): boolean {
  const { instructions } = route;
  if (route.at < 0) {
    waitOn(route, 0);
    return false;
  }
  for (let instruction = instructions[route.at]; instruction !== undefined; instruction = instructions[route.at]) {
    if (instruction.do === 'wait') {
      if (waitOn(route, ticksOf(instruction.seconds, ctx.plan.level.rate))) return false;
      continue;
    }
    if (instruction.do !== 'go-to') {
      handle(ctx, visitor, instruction);
      next(route);
      return false;
    }
    const going = goTo(ctx, visitor, route, instruction);
    if (going === null) return false;
    const { arrived, used } = advance(ctx, visitor, going);
    if (!arrived) return true;
    next(route);
    raise(ctx, { kind: 'arrived', who: visitor.id, what: visitor.id, cause: null, details: {} });
    if (used) return true;
  }
  return false;
}

/** The way of an instruction, begun if it was not; null, and the instruction is passed, if there is no such place. */
function goTo(
  ctx: ReportingContext,
  visitor: VisitorState,
  route: RouteState,
  instruction: Instruction & { do: 'go-to' },
): WalkProgress | null {
  route.going ??= begin(ctx, visitor, instruction.to, route.speed);
  if (route.going !== null) {
    route.begun = true;
    return route.going;
  }
  const details = { problem: 'no such place in this room' };
  raise(ctx, {
    kind: 'blocked',
    who: visitor.id,
    what: instruction.to.of || instruction.to.room || null,
    cause: null,
    details,
  });
  next(route);
  return null;
}

/** One tick of waiting; false if there is nothing to wait for, and the instruction is passed. */
function waitOn(route: RouteState, ticks: number): boolean {
  route.waiting ??= ticks;
  if (route.waiting === 0) {
    next(route);
    return false;
  }
  route.waiting -= 1;
  if (route.waiting === 0) next(route);
  return true;
}

function next(route: RouteState): void {
  route.at += 1;
  route.going = null;
  route.begun = false;
  route.waiting = null;
}

/** Moves a pushed visitor by one tick. Its walk restarts from where the push ends. */
function bePushed(ctx: ReportingContext, visitor: VisitorState, push: NonNullable<VisitorState['push']>): void {
  const { rate } = ctx.plan.level;
  tryStep(ctx, visitor, visitor.at.x + push.x / rate, visitor.at.y + push.y / rate);
  setMovedBy(ctx, visitor, push.cause);
  push.ticks -= 1;
  if (push.ticks <= 0) visitor.push = null;
  startWayAnew(visitor);
}

/** One tick of a fall or a throw: a parabola from where it began, which a wall straightens and a surface ends. */
function fly(ctx: ReportingContext, visitor: VisitorState, flight: Flight): void {
  const { plan, state } = ctx;
  const { at } = visitor;
  const time = (state.tick - flight.begun) / plan.level.rate;
  const { velocity: v, from } = flight;
  let to: Vector = {
    x: from.x + v.x * time,
    y: from.y + v.y * time,
    z: from.z + v.z * time - (plan.level.gravity * time * time) / 2,
  };
  visitor.wish = { x: to.x - at.x, y: to.y - at.y, z: to.z - at.z };
  const body = bodyOf(ctx, visitor);
  const rising = v.z - plan.level.gravity * time;
  const restart = (velocity: Vector): void => {
    visitor.flight = { ...flight, from: to, velocity, begun: state.tick };
  };
  if (firstInTheWay(ctx, visitor, body, to.x - at.x, to.y - at.y, to.z - at.z, at.z) !== null) {
    to = { x: at.x, y: at.y, z: to.z };
    const ceiling = to.z > at.z && firstInTheWay(ctx, visitor, body, 0, 0, to.z - at.z, at.z) !== null;
    if (ceiling) to = { ...to, z: at.z };
    restart({ x: 0, y: 0, z: ceiling ? 0 : rising });
  }
  const landing = to.z < at.z ? supportUnder(ctx, visitor, moved(body, to.x, to.y, at.z), to.z, at.z) : null;
  if (flight.pushedBy !== null) setMovedBy(ctx, visitor, flight.pushedBy);
  if (landing === null) {
    place(ctx, visitor, to);
  } else {
    place(ctx, visitor, { x: to.x, y: to.y, z: landing.top });
    visitor.support = landing.id;
    visitor.flight = null;
    state.again.push(visitor.order);
    const { thrown } = flight;
    if (thrown !== null) raise(ctx, { kind: 'arrived', who: thrown.by, what: visitor.id, cause: thrown.cause, details: {} });
  }
  if (lengthOf({ ...visitor.wish, z: 0 }) > 0) startWayAnew(visitor);
}
