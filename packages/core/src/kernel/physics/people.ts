import type { Place } from '../../vocabulary/places';
import type { Vector } from '../../vocabulary/quantities';
import { headingOf } from '../../space/headings';
import { detachProp } from './handling';
import { markRelocated, face, place } from './bodies';
import { startWayAnew } from '../state/legs';
import { begin, stand } from './moving';
import type { ToldContext, EventContext } from '../state/context';
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
  rehearsing: EventContext,
  visitor: VisitorState,
  at: Place | null,
  cause: number,
  hand: string | null,
): string | null {
  const { plan, state } = rehearsing;
  if (visitor.inPlay) return null;
  const own = plan.visitors[visitor.order]!.visitor;
  const spot = at === null ? { room: own.room, at: own.at, heading: own.heading } : spotOf(rehearsing, at, visitor);
  if (spot === null) return 'no such place';
  visitor.inPlay = true;
  visitor.asOf = state.turn < 0 ? state.tick - 1 : state.tick;
  visitor.room = spot.room;
  visitor.heading = spot.heading ?? own.heading;
  place(rehearsing, visitor, spot.at);
  stand(rehearsing, visitor);
  markRelocated(visitor);
  noteRoom(rehearsing, visitor);
  wakeUp(rehearsing, visitor);
  stepInOrAway(rehearsing, visitor, visitor.room);
  touch(rehearsing, 'visitors');
  raiseFromStep(
    rehearsing,
    { kind: 'spawned', who: hand, what: visitor.id, cause, details: {} },
    { put: [visitor.order], inside: [] },
  );
  return null;
}

/** Takes a visitor out of play. What it carries falls; Sense lets it leave whatever it was inside of. */
export function removeVisitor(rehearsing: EventContext, visitor: VisitorState, cause: number, hand: string | null): void {
  if (!visitor.inPlay) return;
  dropOut(rehearsing, visitor);
  raiseFromStep(
    rehearsing,
    { kind: 'removed', who: hand, what: visitor.id, cause, details: {} },
    { put: [visitor.order], inside: [] },
  );
  leaveRoom(rehearsing, visitor, visitor.room, cause);
}

/** Takes a visitor out of play, without a word. */
export function dropOut(rehearsing: ToldContext, visitor: VisitorState): void {
  const { state } = rehearsing;
  wakeUp(rehearsing, visitor);
  for (const order of [...visitor.carries]) {
    const carried = state.visitors[order]!;
    detachProp(rehearsing, visitor, carried.id);
    stand(rehearsing, carried);
    startWayAnew(carried);
  }
  if (visitor.carriedBy !== null) detachProp(rehearsing, state.visitors[visitor.carriedBy]!, visitor.id);
  visitor.inPlay = false;
  visitor.flight = null;
  visitor.push = null;
  visitor.forced = null;
  // Should it be spawned again, it begins its instruction anew; what is left of a late start it still waits.
  const { route } = visitor;
  if (route !== null) visitor.route = { ...route, going: null, begun: false, waiting: route.at < 0 ? route.waiting : null };
  visitor.support = null;
  stepInOrAway(rehearsing, visitor, visitor.room);
  markRelocated(visitor);
  noteRoom(rehearsing, visitor);
  touch(rehearsing, 'visitors');
}

/** Notes which room a visitor has come into, or that it is out of play. */
export function noteRoom({ told, state }: ToldContext, visitor: VisitorState): void {
  told.room(visitor.id, state.tick, visitor.inPlay ? visitor.room : null);
}

/** Holds a visitor's control, or releases it: while it is held its route waits. */
export function releaseOrHold(
  rehearsing: EventContext,
  visitor: VisitorState,
  held: boolean,
  cause: number,
  hand: string | null,
): void {
  if (visitor.held === held) return;
  wakeUp(rehearsing, visitor);
  visitor.held = held;
  touch(rehearsing, 'visitors');
  raiseFromStep(rehearsing, {
    kind: 'changed',
    who: hand,
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
  rehearsing: ToldContext,
  visitor: VisitorState,
  to: Place,
  cause: number,
  hand: string | null,
  speed = rehearsing.plan.visitors[visitor.order]!.visitor.speed,
): { ended: Waiter[]; problem: string | null } {
  const problem = reasonNotMovable(visitor);
  if (problem !== null) return { ended: [], problem };
  wakeUp(rehearsing, visitor);
  const ended = visitor.forced?.waiters ?? [];
  visitor.forced = null;
  if (visitor.route !== null) visitor.route.going = null;
  const going = begin(rehearsing, visitor, to, speed);
  if (going === null) return { ended, problem: 'no such place in this room' };
  visitor.forced = { to: going.points.at(-1)!, speed, going, hand, cause, waiters: [] };
  return { ended, problem: null };
}

/** Pushes a visitor along at a velocity; a push with an upward part throws it. Gives why nothing comes of it, or null. */
export function pushVisitor(
  rehearsing: ToldContext,
  visitor: VisitorState,
  velocity: Vector,
  seconds: number,
  cause: number,
): string | null {
  const hindered = reasonNotMovable(visitor);
  if (hindered !== null) return hindered;
  wakeUp(rehearsing, visitor);
  const { state, plan } = rehearsing;
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
export function turnVisitor(
  rehearsing: ToldContext,
  visitor: VisitorState,
  degrees: number,
  facing: Place | null,
): string | null {
  const heading = facing === null ? degrees : headingTo(rehearsing, visitor, facing);
  if (heading === null) return 'no such place to face';
  face(rehearsing, visitor, heading);
  return null;
}

/** The heading from a visitor to a place; null if the place is not there, or right where it stands. */
export function headingTo(rehearsing: ToldContext, visitor: VisitorState, to: Place): number | null {
  wakeUp(rehearsing, visitor);
  const spot = spotOf(rehearsing, to, visitor);
  return spot === null ? null : headingOf(spot.at.x - visitor.at.x, spot.at.y - visitor.at.y);
}

/** Ends a push, a fall's or a throw's velocity; who is in the air falls anew from where it is. */
export function stopVelocity(rehearsing: ToldContext, visitor: VisitorState): void {
  wakeUp(rehearsing, visitor);
  visitor.push = null;
  if (visitor.flight === null) return;
  visitor.flight = { ...visitor.flight, from: visitor.at, velocity: { x: 0, y: 0, z: 0 }, begun: rehearsing.state.tick };
}
