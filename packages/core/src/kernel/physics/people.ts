import type { Place } from '../../vocabulary/places';
import type { Vector } from '../../vocabulary/quantities';
import { headingOf } from '../../space/headings';
import { detachProp } from './handling';
import { markRelocated, face, place } from './bodies';
import { startWayAnew } from '../state/legs';
import { begin, stand } from './moving';
import type { ReportingContext, EventContext } from '../state/context';
import { leaveRoom } from './rooms';
import { stepInOrAway, wakeUp } from './sleep';
import { spotOf } from './spots';
import type { VisitorState, Waiter } from '../state/world';
import { ticksOf } from '../../vocabulary/ticks';
import { raiseFromStep, touch } from '../state/raising';

/** Why nothing comes of moving a visitor: it is not there, or goes where its carrier goes; null if it can be moved. */
export function reasonNotMovable(visitor: VisitorState): string | null {
  if (!visitor.inPlay) return 'not in play';
  return visitor.carriedBy === null ? null : 'carried';
}

/**
 * Brings a visitor into play, at a place or where the document has it; nothing if it is in play already. Gives why nothing
 * comes of it, or null.
 */
export function spawnVisitor(
  ctx: EventContext,
  visitor: VisitorState,
  at: Place | null,
  cause: number,
  triggeredBy: string | null,
): string | null {
  const { plan, state } = ctx;
  if (visitor.inPlay) return null;
  const own = plan.visitors[visitor.order]!.visitor;
  const spot = at === null ? { room: own.room, at: own.at, heading: own.heading } : spotOf(ctx, at, visitor);
  if (spot === null) return 'no such place';
  visitor.inPlay = true;
  visitor.asOf = state.turn < 0 ? state.tick - 1 : state.tick;
  visitor.room = spot.room;
  visitor.heading = spot.heading ?? own.heading;
  place(ctx, visitor, spot.at);
  stand(ctx, visitor);
  markRelocated(visitor);
  noteRoom(ctx, visitor);
  wakeUp(ctx, visitor);
  stepInOrAway(ctx, visitor, visitor.room);
  touch(ctx, 'visitors');
  raiseFromStep(
    ctx,
    { kind: 'spawned', who: triggeredBy, what: visitor.id, cause, details: {} },
    { put: [visitor.order], inside: [] },
  );
  return null;
}

/** Takes a visitor out of play. What it carries falls; Sense lets it leave whatever it was inside of. */
export function removeVisitor(ctx: EventContext, visitor: VisitorState, cause: number, triggeredBy: string | null): void {
  if (!visitor.inPlay) return;
  dropOut(ctx, visitor);
  raiseFromStep(
    ctx,
    { kind: 'removed', who: triggeredBy, what: visitor.id, cause, details: {} },
    { put: [visitor.order], inside: [] },
  );
  leaveRoom(ctx, visitor, visitor.room, cause);
}

/** Takes a visitor out of play, without a word. */
export function dropOut(ctx: ReportingContext, visitor: VisitorState): void {
  const { state } = ctx;
  wakeUp(ctx, visitor);
  for (const order of [...visitor.carries]) {
    const carried = state.visitors[order]!;
    detachProp(ctx, visitor, carried.id);
    stand(ctx, carried);
    startWayAnew(carried);
  }
  if (visitor.carriedBy !== null) detachProp(ctx, state.visitors[visitor.carriedBy]!, visitor.id);
  visitor.inPlay = false;
  visitor.flight = null;
  visitor.push = null;
  visitor.forced = null;
  // When spawned again, it restarts its instruction, and waits for the rest of a late start.
  const { route } = visitor;
  if (route !== null) visitor.route = { ...route, going: null, begun: false, waiting: route.at < 0 ? route.waiting : null };
  visitor.support = null;
  stepInOrAway(ctx, visitor, visitor.room);
  markRelocated(visitor);
  noteRoom(ctx, visitor);
  touch(ctx, 'visitors');
}

/** Notes which room a visitor has come into, or that it is out of play. */
export function noteRoom({ listener, state }: ReportingContext, visitor: VisitorState): void {
  listener.room(visitor.id, state.tick, visitor.inPlay ? visitor.room : null);
}

/** Holds a visitor's control, or releases it: while it is held its route waits. */
export function releaseOrHold(
  ctx: EventContext,
  visitor: VisitorState,
  held: boolean,
  cause: number,
  triggeredBy: string | null,
): void {
  if (visitor.held === held) return;
  wakeUp(ctx, visitor);
  visitor.held = held;
  touch(ctx, 'visitors');
  raiseFromStep(ctx, {
    kind: 'changed',
    who: triggeredBy,
    what: visitor.id,
    cause,
    details: { field: 'held', from: !held, to: held },
  });
}

/**
 * Lets a visitor walk to a place before it goes on with its route. Gives the steps that waited for an earlier such walk, and
 * why nothing comes of this one, or null.
 */
export function walkVisitor(
  ctx: ReportingContext,
  visitor: VisitorState,
  to: Place,
  cause: number,
  triggeredBy: string | null,
  speed = ctx.plan.visitors[visitor.order]!.visitor.speed,
): { ended: Waiter[]; problem: string | null } {
  const problem = reasonNotMovable(visitor);
  if (problem !== null) return { ended: [], problem };
  wakeUp(ctx, visitor);
  const ended = visitor.forced?.waiters ?? [];
  visitor.forced = null;
  if (visitor.route !== null) visitor.route.going = null;
  const going = begin(ctx, visitor, to, speed);
  if (going === null) return { ended, problem: 'no such place in this room' };
  visitor.forced = { to: going.points.at(-1)!, speed, going, triggeredBy, cause, waiters: [] };
  return { ended, problem: null };
}

/** Pushes a visitor along at a velocity; a push with an upward part throws it. Gives why nothing comes of it, or null. */
export function pushVisitor(
  ctx: ReportingContext,
  visitor: VisitorState,
  velocity: Vector,
  seconds: number,
  cause: number,
): string | null {
  const hindered = reasonNotMovable(visitor);
  if (hindered !== null) return hindered;
  wakeUp(ctx, visitor);
  const { state, plan } = ctx;
  const ticks = ticksOf(seconds, plan.level.rate);
  if (velocity.z > 0) {
    visitor.flight = { from: visitor.at, velocity, begun: state.tick, thrown: null, pushedBy: cause };
    visitor.support = null;
  } else if (ticks > 0) {
    visitor.push = { x: velocity.x, y: velocity.y, ticks, cause };
  }
  return null;
}

/** Turns a visitor to a heading, or to face a place in its room. Gives why nothing comes of it, or null. */
export function turnVisitor(ctx: ReportingContext, visitor: VisitorState, degrees: number, facing: Place | null): string | null {
  const heading = facing === null ? degrees : headingTo(ctx, visitor, facing);
  if (heading === null) return 'no such place to face';
  face(ctx, visitor, heading);
  return null;
}

/** The heading from a visitor to a place; null if the place is not there, or right where it stands. */
export function headingTo(ctx: ReportingContext, visitor: VisitorState, to: Place): number | null {
  wakeUp(ctx, visitor);
  const spot = spotOf(ctx, to, visitor);
  return spot === null ? null : headingOf(spot.at.x - visitor.at.x, spot.at.y - visitor.at.y);
}

/** Ends the velocity of a push, fall or throw. A visitor in the air starts to fall from where it is. */
export function stopVelocity(ctx: ReportingContext, visitor: VisitorState): void {
  wakeUp(ctx, visitor);
  visitor.push = null;
  if (visitor.flight === null) return;
  visitor.flight = { ...visitor.flight, from: visitor.at, velocity: { x: 0, y: 0, z: 0 }, begun: ctx.state.tick };
}
