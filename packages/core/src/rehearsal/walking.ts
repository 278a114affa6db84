import type { Visitor } from '../level/people';
import type { Instruction } from '../level/people';
import type { Vector } from '../level/quantities';
import { moved, near } from '../space/bodies';
import type { UprightBox } from '../space/bodies';
import { around, footprint } from '../space/grid';
import { overlaps, sweep } from '../space/overlap';
import { doorBox } from './plan';
import { raise, write } from './rehearsing';
import type { Rehearsing } from './rehearsing';
import type { RouteState } from './state';
import { ticksOf } from './ticks';
import { note } from './tracks';

/** How far apart two bodies may be, in metres, for one to pick the other up. */
export const REACH = 1;

/** Lets every visitor that has a route go on with it for one tick, in listing order of the visitors. */
export function walkVisitors(rehearsing: Rehearsing): void {
  const { walk, plan, state } = rehearsing;
  for (const visitor of plan.level.visitors) {
    const route = state.routes.get(visitor.id);
    if (route !== undefined) walkOne(rehearsing, visitor, walk.routes[route.number]!.instructions, route);
  }
}

/** Whether any visitor still has something to do, and whether all who do are blocked. */
export function walkers(rehearsing: Rehearsing): { busy: string[]; stuck: boolean } {
  const busy: string[] = [];
  let stuck = true;
  for (const route of rehearsing.walk.routes) {
    const state = rehearsing.state.routes.get(route.visitor);
    if (state === undefined || state.at >= route.instructions.length) continue;
    busy.push(route.visitor);
    stuck &&= state.blocked;
  }
  return { busy, stuck: stuck && busy.length > 0 };
}

/** One tick of one route: instructions that take no time are passed, the first that takes some gets its tick. */
function walkOne(rehearsing: Rehearsing, visitor: Visitor, instructions: readonly Instruction[], route: RouteState): void {
  for (let instruction = instructions[route.at]; instruction !== undefined; instruction = instructions[route.at]) {
    if (instruction.do === 'carry' || instruction.do === 'drop') {
      handle(rehearsing, visitor, instruction.do, instruction.prop);
      next(route);
      return;
    }
    route.leg ??= begin(rehearsing, visitor, instruction);
    if (route.leg.ticks > 0) {
      if (instruction.do === 'go-to' && !advance(rehearsing, visitor, instruction.to, route)) return;
      if (instruction.do === 'wait') route.leg.done += 1;
      if (route.leg.done < route.leg.ticks) return;
    }
    const took = route.leg.ticks;
    next(route);
    if (instruction.do === 'go-to')
      raise(rehearsing, { kind: 'arrived', who: visitor.id, what: visitor.id, cause: null, details: {} });
    if (took > 0) return;
  }
}

function next(route: RouteState): void {
  route.at += 1;
  route.leg = null;
  route.blocked = false;
}

/** Begins an instruction that takes time: how many ticks, and for a straight leg from where and how far. */
function begin(
  rehearsing: Rehearsing,
  visitor: Visitor,
  instruction: Instruction & { do: 'go-to' | 'wait' },
): NonNullable<RouteState['leg']> {
  const { rate } = rehearsing.plan.level;
  const from = rehearsing.state.visitors.get(visitor.id)!.at;
  if (instruction.do === 'wait') return { from, distance: 0, ticks: ticksOf(instruction.seconds, rate), done: 0 };
  const { to } = instruction;
  const distance = Math.sqrt((to.x - from.x) ** 2 + (to.y - from.y) ** 2 + (to.z - from.z) ** 2);
  return { from, distance, ticks: ticksOf(distance / visitor.speed, rate), done: 0 };
}

/** Moves a visitor one tick along its leg; false, and the leg's clock stands still, if something is in the way. */
function advance(rehearsing: Rehearsing, visitor: Visitor, to: Vector, route: RouteState): boolean {
  const { state, plan } = rehearsing;
  const leg = route.leg!;
  const own = state.visitors.get(visitor.id)!;
  const share = Math.min(1, ((leg.done + 1) * visitor.speed) / (plan.level.rate * leg.distance));
  const at = share === 1 ? { ...to } : between(leg.from, to, share);
  const obstacle = firstInTheWay(rehearsing, visitor, own.at, at);
  if (obstacle !== null) {
    if (!route.blocked) raise(rehearsing, { kind: 'blocked', who: visitor.id, what: obstacle, cause: null, details: {} });
    route.blocked = true;
    return false;
  }
  route.blocked = false;
  leg.done += 1;
  place(rehearsing, visitor.id, at, true);
  return true;
}

function between(from: Vector, to: Vector, share: number): Vector {
  return { x: from.x + (to.x - from.x) * share, y: from.y + (to.y - from.y) * share, z: from.z + (to.z - from.z) * share };
}

/** What stops a straight step first; what a body is in already does not hold it, so that it can get out. */
function firstInTheWay(rehearsing: Rehearsing, visitor: Visitor, from: Vector, to: Vector): string | null {
  const { plan, state } = rehearsing;
  const body = moved(plan.bodies.get(visitor.id)!, from);
  const leap = Math.abs(to.x - from.x) + Math.abs(to.y - from.y);
  const candidates = new Set<number>();
  plan.obstacleGrids.get(visitor.room)?.find(around(footprint(body), footprint(moved(body, to))), candidates);
  let first: string | null = null;
  let soonest = Infinity;
  // In listing order, so that of two reached at the same moment the first listed is named.
  for (const number of [...candidates].sort((a, b) => a - b)) {
    const obstacle = plan.obstacles[number]!;
    const box: UprightBox = obstacle.fixed ?? doorBox(plan.doors.get(obstacle.id)!, state.doors.get(obstacle.id)!.clock);
    if (!near(body, box, leap)) continue;
    const stretch = sweep(body, to.x - from.x, to.y - from.y, to.z - from.z, box);
    if (stretch !== null && stretch.from < soonest && !overlaps(body, box)) {
      soonest = stretch.from;
      first = obstacle.id;
    }
  }
  return first;
}

/** Puts a visitor somewhere, and what it carries with it. `walked` is false when it did not pass what lies between. */
function place(rehearsing: Rehearsing, id: string, at: Vector, walked: boolean): void {
  const { state } = rehearsing;
  const own = state.visitors.get(id)!;
  const by = { x: at.x - own.at.x, y: at.y - own.at.y, z: at.z - own.at.z };
  own.at = at;
  if (!walked) own.jumped = true;
  note(rehearsing.tracks.visitors, id, state.tick, [at.x, at.y, at.z]);
  for (const [carried, other] of state.visitors) {
    if (other.carriedBy === id)
      place(rehearsing, carried, { x: other.at.x + by.x, y: other.at.y + by.y, z: other.at.z + by.z }, walked);
  }
}

/** Picks a prop up into the arms, half the carrier's height up; or puts it down at the carrier's feet. */
function handle(rehearsing: Rehearsing, visitor: Visitor, what: 'carry' | 'drop', propId: string): void {
  const { state, plan } = rehearsing;
  const own = state.visitors.get(visitor.id)!;
  const prop = state.visitors.get(propId);
  const held = (reason: string, details: Record<string, string | number> = {}): void => {
    write(rehearsing, { kind: 'held', who: visitor.id, what: propId, details: { event: 'use', use: what, reason, ...details } });
  };
  if (what === 'drop') {
    if (prop?.carriedBy !== visitor.id) return held('not-carried');
    prop.carriedBy = null;
    place(rehearsing, propId, { ...own.at }, false);
  } else {
    if (prop === undefined || propId === visitor.id) return held('out-of-reach', { problem: 'no such prop' });
    if (prop.carriedBy !== null || carriers(rehearsing, visitor.id).includes(propId))
      return held('out-of-reach', { carriedBy: prop.carriedBy ?? propId });
    const distance = gap(moved(plan.bodies.get(visitor.id)!, own.at), moved(plan.bodies.get(propId)!, prop.at));
    const sameRoom = plan.level.visitors.find((one) => one.id === propId)!.room === visitor.room;
    if (!sameRoom || distance > REACH) return held('out-of-reach', { metres: Math.round(distance * 1000) / 1000, reach: REACH });
    prop.carriedBy = visitor.id;
    place(rehearsing, propId, { x: own.at.x, y: own.at.y, z: own.at.z + visitor.body.size.z / 2 }, false);
  }
  raise(rehearsing, { kind: 'use', who: visitor.id, what: propId, cause: null, details: { use: what } });
}

/** Who carries a visitor, who carries that one, and so on. */
function carriers({ state }: Rehearsing, id: string): string[] {
  const found: string[] = [];
  for (let carrier = state.visitors.get(id)!.carriedBy; carrier !== null; carrier = state.visitors.get(carrier)!.carriedBy)
    found.push(carrier);
  return found;
}

/** The distance between two bodies that keep to the room's axes, in metres; 0 if they meet. */
function gap(a: UprightBox, b: UprightBox): number {
  const dx = Math.max(0, Math.abs(a.x - b.x) - a.halfX - b.halfX);
  const dy = Math.max(0, Math.abs(a.y - b.y) - a.halfY - b.halfY);
  const dz = Math.max(0, b.z - (a.z + a.height), a.z - (b.z + b.height));
  return Math.sqrt(dx * dx + dy * dy + dz * dz);
}
