import type { Journey } from '../../vocabulary/places';
import type { Vector } from '../../vocabulary/quantities';
import { direction, toldHeading } from '../../space/headings';
import { markRelocated, place, withCarried } from '../physics/bodies';
import { dropOut, headingTo, reasonNotMovable, noteRoom } from '../physics/people';
import type { WorldContext, EventContext } from '../state/context';
import { leaveRoom } from '../physics/rooms';
import { beInside, newlyInside } from './sense';
import { stepInOrAway, wakeUp } from '../physics/sleep';
import { spotOf } from '../physics/spots';
import { beginLeg, stand } from '../physics/moving';
import type { Arrival, Flight, VisitorState } from '../state/world';
import { roundTo } from '../../vocabulary/rounding';
import { finishLater, raiseFromStep, touch } from '../state/raising';

/**
 * Puts a visitor elsewhere at once, with what it carries: in its room, or by a warp in another. Gives why nothing comes of it,
 * or null.
 */
export function travel(
  ctx: EventContext,
  visitor: VisitorState,
  journey: Journey,
  warp: boolean,
  cause: number,
  triggeredBy: string | null,
): string | null {
  const { plan } = ctx;
  const hindered = reasonNotMovable(visitor);
  if (hindered !== null) return hindered;
  wakeUp(ctx, visitor);
  // A warp without a room leads nowhere.
  if (warp && journey.to.room === '' && journey.to.of === '') return 'no room';
  const spot = spotOf(ctx, journey.to, visitor);
  const left = visitor.room;
  if (spot === null) return 'no such place';
  if (!warp && spot.room !== left) return 'another room';
  if (warp && !plan.visitors[visitor.order]!.visitor.travels) {
    dropOut(ctx, visitor);
    raiseFromStep(
      ctx,
      { kind: 'left-behind', who: triggeredBy, what: visitor.id, cause, details: {} },
      { put: [visitor.order], inside: [] },
    );
    leaveRoom(ctx, visitor, left, cause);
    return null;
  }
  const before = visitor.heading;
  const from = visitor.at;
  visitor.room = spot.room;
  place(ctx, visitor, spot.at);
  if (journey.arrivesFacing === 'take') visitor.heading = spot.heading ?? before;
  if (journey.arrivesFacing === 'towards' && journey.facing !== null)
    visitor.heading = headingTo(ctx, visitor, journey.facing) ?? before;
  goOn(ctx, visitor, journey.velocity, from, visitor.heading - before);
  if (visitor.flight === null) stand(ctx, visitor);
  const together = withCarried(ctx, visitor);
  together.forEach(markRelocated);
  if (spot.room !== left) noteRoom(ctx, visitor);
  for (const room of new Set([left, spot.room])) stepInOrAway(ctx, visitor, room);
  touch(ctx, 'visitors');
  const at = {
    x: roundTo(visitor.at.x, 6),
    y: roundTo(visitor.at.y, 6),
    z: roundTo(visitor.at.z, 6),
    heading: toldHeading(visitor.heading),
  };
  const inside: Arrival[] = [];
  if (journey.arrival === 'quiet') {
    for (const one of together)
      for (const volume of newlyInside(ctx, one)) {
        beInside(ctx, one, volume);
        inside.push({ visitor: one.order, volume, cause: null });
      }
    ctx.state.arrivals.push(...inside);
  }
  const put = together.map(({ order }) => order);
  const whose = { who: triggeredBy, what: visitor.id, cause };
  const event = warp
    ? ({ kind: 'warped', ...whose, details: { ...at, room: spot.room } } as const)
    : ({ kind: 'teleported', ...whose, details: at } as const);
  raiseFromStep(ctx, event, { put, inside });
  if (spot.room !== left) leaveRoom(ctx, visitor, left, cause);
  return null;
}

/** What becomes of its velocity: it stands still, goes on as before, or goes on in its new heading. */
function goOn(ctx: WorldContext, visitor: VisitorState, velocity: Journey['velocity'], from: Vector, turn: number): void {
  if (velocity === 'stop') {
    standStill(ctx, visitor);
    return;
  }
  const { at, push, flight } = visitor;
  const { cos, sin } = velocity === 'turn' ? direction(turn) : { cos: 1, sin: 0 };
  const turned = (x: number, y: number) => ({ x: x * cos - y * sin, y: x * sin + y * cos });
  if (push !== null) visitor.push = { ...push, ...turned(push.x, push.y) };
  if (flight !== null) {
    const now = velocityNow(ctx, flight);
    visitor.flight = { ...flight, from: at, velocity: { ...turned(now.x, now.y), z: now.z }, begun: ctx.state.tick };
  }
  const fromHere = (point: Vector): Vector => {
    const by = turned(point.x - from.x, point.y - from.y);
    return { x: at.x + by.x, y: at.y + by.y, z: at.z };
  };
  if (visitor.forced !== null) visitor.forced.to = fromHere(visitor.forced.to);
  for (const going of [visitor.route?.going, visitor.forced?.going]) {
    if (going === null || going === undefined) continue;
    going.points = going.points.slice(going.next).map(fromHere);
    going.next = 0;
    going.blocked = false;
    beginLeg(ctx, visitor, going);
  }
}

/** Gives up the current leg, so that the next instruction begins, and ends a walk ordered by a step. */
function standStill(ctx: WorldContext, visitor: VisitorState): void {
  visitor.push = null;
  visitor.flight = null;
  const { route, forced } = visitor;
  if (route !== null && route.begun) visitor.route = { ...route, at: route.at + 1, going: null, begun: false };
  if (forced === null) return;
  finishLater(ctx, forced.waiters);
  visitor.forced = null;
}

function velocityNow({ plan, state }: WorldContext, { velocity, begun }: Flight): Vector {
  const time = (state.tick - begun) / plan.level.rate;
  return { ...velocity, z: velocity.z - plan.level.gravity * time };
}
