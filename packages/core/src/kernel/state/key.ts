import type { Instruction } from '../../document/people';
import { ticksOf } from '../../vocabulary/ticks';
import type { CompiledLevel } from './plan';
import type { ChainRun, WalkProgress, KernelEvent, QueueItem, RouteState, VisitorState, Waiter, World } from './world';
import { isStillToCome } from './schedule';
import { cooledAt } from './cooling';
import { clockOf, placeNow } from './positions';

/**
 * What decides the future of a world, as a text: two worlds of one plan with the same text go on alike, but for the numbers of
 * their entries and how late it is. Times are said from now on; runs and stays by their order; of where something came from no more
 * than whether it came from an entry. What was called off, and what the kernel keeps so as to pass over ticks, is left out.
 */
export function keyOf(plan: CompiledLevel, world: World): string {
  const { tick } = world;
  const runs = runsOf(world);
  const isOpen = world.tick < 0 ? 'before' : world.ranAway ? 'ran away' : 'under way';
  return JSON.stringify([
    isOpen,
    world.visitors.map((visitor) => visitorKey(plan, world, runs, visitor)),
    Array.from(world.machines, ([id, { clock, motion, lastMotion, sensedClock, riders }]) => [
      id,
      clockOf(plan, world, id),
      sensedClock === clock || motion !== null ? 0 : sensedClock,
      lastMotion === null,
      riders,
      motion && [
        motion.from,
        motion.to,
        motion.startTick - tick,
        motion.ticks,
        motion.entry === null,
        motion.hand,
        motion.waiters.map((waiter) => waiterKey(runs, waiter)),
        motion.stopped,
      ],
    ]),
    world.solid.map(Number).join(''),
    sorted(world.disabled),
    byKey(world.shown),
    sorted(world.seeThrough),
    byKey(world.owners),
    sorted(world.collected),
    Array.from(world.switches, ([id, { on, uses }]) => [id, on, worksOnce(plan, id) ? uses : 0]),
    byKey(world.pressed),
    byKey(world.flags),
    byKey(world.counters),
    byKey(world.texts),
    byKey(world.told, sorted).filter(([, who]) => (who as string[]).length > 0),
    causesKey(plan, world),
    byKey(coolingOf(plan, world)),
    sorted(world.taking),
    runs.inOrder.map(({ chain, run }) => [chain, run.hand, run.source, run.begun, run.steps, run.pending]),
    byKey(world.queued, (triggers) => triggers.map(({ who, what, kind, causes }) => [who, what, kind, causes])).filter(
      ([, triggers]) => (triggers as unknown[]).length > 0,
    ),
    world.watches,
    world.untils.map(({ run, step, text, hand, told }) => [placeOf(runs, run), step, text, hand, told]),
    dueKey(world, runs),
    world.weigh,
    world.arrivals.map(({ visitor, volume, cause }) => [visitor, volume, cause === null]),
  ]);
}

function visitorKey(plan: CompiledLevel, world: World, runs: Runs, one: VisitorState): unknown[] {
  const { tick } = world;
  const behind = Math.max(0, tick - one.asOf);
  const at = placeNow(plan, world, one);
  const { flight, push, forced, route } = one;
  const walksNowhere = one.flight !== null || one.carriedBy !== null || !one.inPlay;
  const idle = walksNowhere || one.held || forced !== null;
  return [
    at.x,
    at.y,
    at.z,
    one.room,
    one.heading,
    one.inPlay,
    one.held,
    one.carriedBy,
    one.carries,
    one.lastHolder,
    one.support,
    flight && [flight.from, flight.velocity, flight.begun - tick, thrownKey(flight.thrown), flight.pushedBy === null],
    push && [push.x, push.y, push.ticks, push.cause === null],
    forced && [
      forced.going === null ? [forced.to, forced.speed] : goingKey(forced.going, walksNowhere ? 0 : behind),
      forced.hand,
      forced.waiters.map((waiter) => waiterKey(runs, waiter)),
    ],
    route && routeKey(route, idle ? 0 : behind),
    one.jumped ? one.sensedAt : 0,
    one.putBy === null,
    one.movedBy === null,
    one.rides,
    one.wish,
    [...one.within.keys()].sort((a, b) => a - b),
    [...one.touching].sort((a, b) => a - b),
  ];
}

function thrownKey(thrown: { by: string; cause: number | null } | null): unknown {
  return thrown && [thrown.by, thrown.cause === null];
}

const instructionKeys = new WeakMap<Instruction, string>();

function instructionKey(instruction: Instruction): string {
  let key = instructionKeys.get(instruction);
  if (key === undefined) {
    key = JSON.stringify({ ...instruction, id: '' });
    instructionKeys.set(instruction, key);
  }
  return key;
}

/** What is left to do of a route. One that has nothing left is like any other that has nothing left. */
function routeKey({ instructions, at, speed, begun, waiting, going }: RouteState, behind: number): unknown {
  const left = instructions.slice(Math.max(0, at));
  if (left.length === 0) return [speed];
  return [
    left.map(instructionKey),
    at < 0,
    speed,
    begun,
    waiting === null ? null : waiting - (going === null ? behind : 0),
    going && goingKey(going, behind),
  ];
}

function goingKey({ points, next, from, distance, speed, ticks, done, blocked }: WalkProgress, behind: number): unknown {
  return [points.slice(next), from, distance, speed, ticks, blocked ? done : done + behind, blocked];
}

function waiterKey(runs: Runs, { run, step }: Waiter): unknown {
  return [placeOf(runs, run), step];
}

/** The runs of all chains in the order in which they began, and the place of each by its number. */
interface Runs {
  inOrder: { chain: string; run: ChainRun }[];
  places: Map<number, number>;
}

function runsOf(world: World): Runs {
  const inOrder = Array.from(world.runs, ([chain, runs]) => runs.map((run) => ({ chain, run })))
    .flat()
    .sort((a, b) => a.run.run - b.run.run);
  return { inOrder, places: new Map(inOrder.map(({ run }, place) => [run.run, place])) };
}

/** The place of a run among those that go on; -1 if it is over. */
function placeOf({ places }: Runs, number: number): number {
  return places.get(number) ?? -1;
}

function worksOnce({ fixtures }: CompiledLevel, id: string): boolean {
  const fixture = fixtures.get(id)!;
  return 'works' in fixture && fixture.works === 'once';
}

/** How often and how long ago each cause has started its chain, as far as it is ever asked. */
function causesKey({ level, causes }: CompiledLevel, { causes: started, tick }: World): unknown[] {
  const found: string[] = [];
  for (const [key, { count, lastTick }] of started) {
    const { id, limit, cooldown, cooldownFor } = causes.get(key.split(' ')[0]!)!;
    // A limit is for all, a cooldown for all or for each visitor.
    const isForAll = key === id;
    const cools = lastTick !== null && isForAll === (cooldownFor === 'all');
    const cool = cools ? Math.max(0, lastTick + ticksOf(cooldown, level.rate) - tick) : 0;
    const counted = limit !== null && isForAll ? count : 0;
    if (counted > 0 || cool > 0) found.push(`${key} ${counted} ${cool}`);
  }
  return found.sort();
}

/** What comes due, in its order, as far as it was not called off. */
function dueKey(world: World, runs: Runs): unknown[] {
  return [...world.schedule.entries()]
    .sort(([a], [b]) => a - b)
    .map(([tick, items]) => [
      tick - world.tick,
      items.filter((item) => isStillToCome(world, item)).map((item) => itemKey(world, runs, item)),
    ])
    .filter(([, items]) => (items as unknown[]).length > 0);
}

function itemKey(world: World, runs: Runs, item: QueueItem): unknown {
  switch (item.do) {
    case 'event':
      return [item.do, happeningKey(item.event)];
    case 'tell':
      return [item.do, happeningKey(item.event)];
    case 'start-step':
    case 'finish-step':
      return [item.do, placeOf(runs, item.run), item.step, 'gaveUp' in item];
    case 'until-held':
      return [item.do, placeOf(runs, item.run), item.step];
    case 'begin-run':
      return [item.do, placeOf(runs, item.run)];
    case 'begin-queued':
      return [item.do, item.chain];
    case 'return':
      return [item.do, item.machine, item.cause === null, item.hand];
    case 'spring-back':
      return [item.do, item.switch, item.hand];
    case 'dwell':
      return [item.do, item.volume, item.visitor];
    case 'cue-end':
      return [item.do, item.cue, item.hand, item.waiter && waiterKey(runs, item.waiter)];
    case 'take':
      // Whether it is still walked to the passage by it: that ends when it is taken.
      return [
        item.do,
        item.passage,
        item.visitor,
        item.event,
        item.holds,
        world.visitors[item.visitor]!.forced?.cause === item.cause,
      ];
    case 'give-back':
      return [item.do, item.visitor];
  }
}

/** For how many ticks passages take nobody yet. */
function coolingOf(plan: CompiledLevel, world: World): Map<string, number> {
  const left = Array.from(world.took, ([key, since]): [string, number] => [key, cooledAt(plan, key, since) - world.tick]);
  return new Map(left.filter(([, ticks]) => ticks > 0));
}

function happeningKey({ kind, who, what, cause, details }: KernelEvent): unknown {
  return [kind, who, what, cause === null, details];
}

function sorted(ids: ReadonlySet<string>): string[] {
  return [...ids].sort();
}

function byKey<V>(map: ReadonlyMap<string, V>, say: (value: V) => unknown = (value) => value): [string, unknown][] {
  return Array.from(map, ([key, value]): [string, unknown] => [key, say(value)]).sort(([a], [b]) => (a < b ? -1 : a > b ? 1 : 0));
}
