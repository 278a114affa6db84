import { Conditions } from '../conditions/conditions';
import type { Instruction } from '../document/people';
import { motionOf } from '../kinds/fixtures';
import type { Walk } from '../document/walks';
import { metresToEdge } from '../space/headings';
import type { Vector } from '../vocabulary/quantities';
import type { Verdict } from '../vocabulary/verdict';
import { answersOf } from './chains/answers';
import { reachableBy } from './physics/handling';
import type { Reachable } from './physics/handling';
import { noteRoom } from './physics/people';
import { movesFreely } from './physics/bodies';
import { beginLeg, moveVisitors, stand } from './physics/moving';
import { evaluateWatches, takeWatches } from './chains/watching';
import { variations } from './state/jitter';
import { advanceMachines, bringMachinesUp, goOn, noticeRiders } from './physics/machines';
import { activityOf } from './state/activity';
import type { Activity } from './state/activity';
import type { OrderPolicy } from './state/orders';
import type { CompiledLevel } from './state/plan';
import { drain, drainNow } from './queue/items';
import { Runaway } from './state/runaway';
import type { WorldContext, ReportingContext, KernelContext } from './state/context';
import { sense } from './sensing/sense';
import { wakeAffected, locate, nextWake, scheduleWake, wakeUp } from './physics/sleep';
import { noopListener } from './state/listener';
import type { WorldListener } from './state/listener';
import { startingWorld } from './state/world-fields';
import type { WalkProgress, RouteState, VisitorState, World } from './state/world';
import { write } from './state/raising';
import { nextDue, somethingComes, takeDue } from './state/schedule';
import { clockOf, placeNow } from './state/positions';

// The kernel, opened up: a world is plain data, and a tick is the only thing that changes it. Between ticks the queue is empty.

/** Why nothing more can happen in a world, in the words of the entry that ends a ledger. */
export type Ended = { reason: 'runaway' } | { reason: 'settled' } | { reason: 'stuck'; who: string[] };

/** The world of a walk before its first tick, its routes varied by the seed as its jitter allows. */
export function start(plan: CompiledLevel, walk: Walk, seed = 0): World {
  const world = startingWorld(plan);
  const varied = variations(walk, seed, plan.level.rate);
  walk.routes.forEach(({ visitor, instructions }, number) => {
    const order = plan.visitorOf.get(visitor);
    if (order === undefined || instructions.length === 0) return;
    const { delay, speed } = varied[number]!;
    const own = plan.visitors[order]!.visitor.speed * speed;
    world.visitors[order]!.route = { ...fresh(instructions, own), at: delay > 0 ? -1 : 0, waiting: delay > 0 ? delay : null };
  });
  world.walk = walk.id;
  return world;
}

function fresh(instructions: readonly Instruction[], speed: number): RouteState {
  return { instructions, at: 0, speed, begun: false, waiting: null, going: null };
}

/**
 * Brings a world to its next tick: the very next, or, where nothing can happen before it, a later one up to `most`. Whoever is told
 * hears of every entry and pose on the way. Gives why nothing more can happen after it, or null if something can; what has come to
 * rest goes on when a visitor gets an order, but not after a runaway.
 */
export function tick(
  plan: CompiledLevel,
  world: World,
  orders: OrderPolicy,
  listener: WorldListener,
  most = world.tick + 1,
): Ended | null {
  // Most ticks of a world that is stepped are idle: nothing is looked up for them.
  const known = world.coming;
  if (known !== null && known !== Infinity && known > most && most > world.tick) {
    world.tick = most;
    return null;
  }
  if (world.ranAway) return { reason: 'runaway' };
  const ctx = under(plan, world, orders, listener);
  if (world.tick < 0) return tickZero(ctx);
  const coming = (world.coming ??= whenNext(ctx));
  const next = world.tick + 1;
  // Where nothing is to come, the very next tick finds that it is over.
  world.tick = coming === Infinity ? next : Math.max(next, Math.min(most, coming));
  if (coming !== Infinity && coming > world.tick) return null;
  return oneTick(ctx) ?? whetherOver(world);
}

/** The next tick in which anything can happen; Infinity for none. What was called off is not waited for. */
function whenNext(ctx: WorldContext): number {
  const wake = nextWake(ctx);
  return wake === Infinity && !somethingComes(ctx.state) ? Infinity : Math.min(wake, nextDue(ctx));
}

/** Gives a visitor its next instructions: after those it has, or at once, in place of them. */
export function give(
  plan: CompiledLevel,
  world: World,
  visitor: string,
  instruction: Instruction,
  when: 'next' | 'at-once' = 'next',
): void {
  const order = plan.visitorOf.get(visitor);
  if (order === undefined) throw new RangeError(`There is no visitor "${visitor}"`);
  const one = world.visitors[order]!;
  wakeNow(under(plan, world, noOrders, noopListener), one);
  const { route } = one;
  const speed = route?.speed ?? plan.visitors[order]!.visitor.speed;
  if (when === 'next' && route !== null) one.route = { ...route, instructions: [...route.instructions, instruction] };
  else one.route = fresh([instruction], speed);
}

/**
 * Lets a visitor walk straight on in a direction, without looking for a way, up to the edge of its room, or with null stand; in place
 * of what it was told. Gives whether it does: it does not while somebody else moves it, or where there is nothing before it.
 */
export function head(plan: CompiledLevel, world: World, visitor: string, toward: { x: number; y: number } | null): boolean {
  const one = world.visitors[plan.visitorOf.get(visitor)!]!;
  const ctx = under(plan, world, noOrders, noopListener);
  wakeNow(ctx, one);
  const speed = one.route?.speed ?? plan.visitors[one.order]!.visitor.speed;
  one.route = fresh([], speed);
  const room = plan.rooms.get(one.room);
  if (toward === null || (toward.x === 0 && toward.y === 0) || room === undefined || !movesFreely(one)) return false;
  const ahead = metresToEdge(room.extents, one.at, toward);
  if (ahead <= speed / plan.level.rate) return false;
  const length = Math.sqrt(toward.x * toward.x + toward.y * toward.y);
  const to = { x: one.at.x + (toward.x / length) * ahead, y: one.at.y + (toward.y / length) * ahead };
  goStraight(ctx, one, to, speed);
  return true;
}

/**
 * Lets a visitor make a step in the next tick, in metres over the ground, and go on like that until it is told otherwise; in place of
 * what it was told. It does not while somebody else moves it.
 */
export function stride(plan: CompiledLevel, world: World, visitor: string, by: { x: number; y: number }): void {
  const one = world.visitors[plan.visitorOf.get(visitor)!]!;
  const ctx = under(plan, world, noOrders, noopListener);
  wakeNow(ctx, one);
  const far = Math.sqrt(by.x * by.x + by.y * by.y);
  one.route = fresh([], plan.visitors[one.order]!.visitor.speed);
  const to = { x: one.at.x + by.x * STRIDES, y: one.at.y + by.y * STRIDES };
  if (far > 1e-9 && movesFreely(one)) goStraight(ctx, one, to, far * plan.level.rate);
}

/** The ticks for which a stride goes on: longer than any gap between two orders, so that it never arrives. */
const STRIDES = 4;

/** Gives a visitor one leg to walk, straight to a point of the ground, at a speed in metres a second. */
function goStraight(ctx: WorldContext, one: VisitorState, { x, y }: { x: number; y: number }, speed: number): void {
  const to = { x, y, z: one.at.z };
  const going: WalkProgress = { points: [to], next: 0, from: one.at, distance: 0, speed, ticks: 0, done: 0, blocked: false };
  const instruction: Instruction = { id: 'ahead', do: 'go-to', to: { ...to, room: '', of: '', axes: 'room', height: 'datum' } };
  one.route = { ...fresh([instruction], speed), begun: true, going };
  beginLeg(ctx, one, going);
}

/** What a visitor could use, pick up or put down in a world between two ticks, the nearest first. */
export function handyIn(plan: CompiledLevel, world: World, visitor: string): Reachable {
  return reachableBy(under(plan, world, noOrders, noopListener), world.visitors[plan.visitorOf.get(visitor)!]!);
}

/** Where a visitor is in a world between two ticks, in metres, also while the kernel passes it over. */
export function whereIs(plan: CompiledLevel, world: World, visitor: string): { room: string; at: Vector; inPlay: boolean } {
  const one = world.visitors[plan.visitorOf.get(visitor)!]!;
  return { room: one.room, at: placeNow(plan, world, one), inPlay: one.inPlay };
}

/** What a visitor is at in a world between two ticks: whether it is done, blocked, waiting, or busy. */
export function activityIn(plan: CompiledLevel, world: World, visitor: string): Activity {
  return activityOf(world.visitors[plan.visitorOf.get(visitor)!]!);
}

/** What a condition comes to in a world between two ticks, with nobody in hand. */
export function verdictIn(plan: CompiledLevel, world: World, text: string): Verdict {
  const ctx = under(plan, world, noOrders, noopListener);
  ctx.triggeredBy = null;
  return ctx.conditions.of(text).verdict();
}

/** Tells where everything is that was passed over. */
export function tellPlaces(plan: CompiledLevel, world: World, listener: WorldListener): void {
  const ctx = under(plan, world, noOrders, listener);
  for (const visitor of world.visitors) locate(ctx, visitor);
  if (world.tick === world.looked) return;
  for (const id of world.inMotion) listener.pose('machines', id, world.tick, [clockOf(plan, world, id)], true);
}

/** Lets everything be looked at in the next tick, also where nothing can happen. What comes of it is the same. */
export function lookAtAll(plan: CompiledLevel, world: World, listener: WorldListener): void {
  const ctx = under(plan, world, noOrders, listener);
  wakeAffected(ctx, null);
  lookInTheNext(ctx);
}

/** Wakes a visitor between two ticks. */
function wakeNow(ctx: KernelContext, visitor: VisitorState): void {
  wakeUp(ctx, visitor);
  lookInTheNext(ctx);
}

/** Looks at the visitors that were woken between two ticks. */
function lookInTheNext(ctx: KernelContext): void {
  const { state } = ctx;
  for (const order of state.again) state.wakes[order] = Math.min(state.wakes[order]!, state.tick + 1);
  state.again.length = 0;
  state.coming = null;
}

/** Where nothing is left open. */
const noOrders: OrderPolicy = { pick: () => 0 };

const underway = new WeakMap<World, KernelContext>();

/** A world with what the kernel keeps beside it: nothing that decides anything. */
function under(plan: CompiledLevel, world: World, orders: OrderPolicy, listener: WorldListener): KernelContext {
  let ctx = underway.get(world);
  if (ctx === undefined || ctx.plan !== plan) {
    const made: KernelContext = {
      plan,
      state: world,
      orders,
      listener,
      conditions: new Conditions(plan.things, (asked, ids) => answer(asked, ids)),
      triggeredBy: null,
      watchVersions: new Map(),
      drainNow: (event, after) => drainNow(made, event, after),
    };
    const answer = answersOf(made);
    underway.set(world, made);
    ctx = made;
  }
  ctx.orders = orders;
  ctx.listener = listener;
  return ctx;
}

/** Lets go of what the kernel keeps beside a world that is not gone on with: less is left to clear away. It could still be. */
export function letGo(world: World): void {
  underway.delete(world);
}

/** Tick 0: the starting state is there, and Sense finds who starts inside of what. */
function tickZero(ctx: KernelContext): Ended | null {
  const { state, plan, listener } = ctx;
  state.tick = 0;
  state.looked = 0;
  const begins = write(ctx, { kind: 'start', what: state.walk });
  for (const visitor of state.visitors) {
    if (visitor.inPlay) stand(ctx, visitor);
    // There was no tick before: nothing has been passed on the way to where it stands.
    visitor.sensedAt = visitor.at;
    listener.pose('visitors', visitor.id, 0, [visitor.at.x, visitor.at.y, visitor.at.z], false);
    noteRoom(ctx, visitor);
  }
  for (const [id, machine] of state.machines) listener.pose('machines', id, 0, [machine.clock], false);
  takeWatches(ctx);
  return unlessRunaway(ctx, () => {
    for (const [id, { machine, frames }] of plan.courses)
      if (motionOf(machine).runsFromStart?.(machine) === true) goOn(ctx, id, frames.length - 1, begins, null);
    state.turn = state.visitors.length;
    noticeRiders(ctx);
    sense(ctx);
    drainAndWatch(ctx);
    scheduleWake(ctx);
  });
}

/** One tick in its phases. */
function oneTick(ctx: KernelContext): Ended | null {
  const { state } = ctx;
  const passedOver = state.tick > state.looked + 1;
  state.looked = state.tick;
  state.coming = null;
  state.itemsThisTick = 0;
  state.turn = -1;
  return unlessRunaway(ctx, () => {
    if (passedOver) bringMachinesUp(ctx);

    // Due: what was scheduled for this tick, in the order in which it was scheduled.
    const due = takeDue(ctx);
    if (due.length > 0) {
      for (const item of due) state.queue.push(item);
      drainAndWatch(ctx);
    }

    // Move: machines in motion, then visitors.
    advanceMachines(ctx);
    moveVisitors(ctx);
    noticeRiders(ctx);

    // Sense: overlaps of the new poses, then the plates weigh. Then Watch.
    sense(ctx);
    drainAndWatch(ctx);
    scheduleWake(ctx);
  });
}

function drainAndWatch(ctx: KernelContext): void {
  do drain(ctx);
  while (evaluateWatches(ctx));
}

function unlessRunaway(ctx: ReportingContext, phases: () => void): Ended | null {
  try {
    phases();
    return null;
  } catch (error) {
    if (!(error instanceof Runaway)) throw error;
  }
  const { state } = ctx;
  write(ctx, { kind: 'runaway', cause: state.entries, details: { items: state.itemsThisTick - 1 } });
  state.ranAway = true;
  return { reason: 'runaway' };
}

/** Why nothing more can happen after this tick, or null if something can. */
function whetherOver(world: World): Ended | null {
  if (world.inMotion.size > 0 || world.queue.length > 0) return null;
  const busy: string[] = [];
  for (const visitor of world.visitors) {
    // The next Sense has still to find out about who was put elsewhere.
    if (visitor.jumped) return null;
    const activity = activityOf(visitor);
    if (activity === 'moved' || activity === 'waiting' || activity === 'busy') return null;
    if (activity === 'blocked' || activity === 'held-up') busy.push(visitor.id);
  }
  // Who has just moved may have cleared somebody's way.
  if (somethingComes(world) || (busy.length > 0 && world.strode === world.tick)) return null;
  return busy.length === 0 ? { reason: 'settled' } : { reason: 'stuck', who: busy };
}
