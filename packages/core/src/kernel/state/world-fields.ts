import { startsAs, startsSolid } from '../../kinds/fixtures';
import { ticksOf } from '../../vocabulary/ticks';
import { cooledAt, pauseOf } from './cooling';
import { cause, copyOf, keyedOf, leftOut, listOfAll, map, part, restoredOf, same, set } from './fields';
import type { Field, Fields, Restoring, Seen } from './fields';
import { isStillToCome, itemFrom, itemKey } from './item-fields';
import { machineFields, machineNow, startingMachine } from './machine-fields';
import type { CompiledLevel } from './plan';
import { readsOf } from './reads';
import { runs, runsInOrder, triggerFields, untilFields } from './run-fields';
import { RESTORED_WALK_ENTRY, asOfNow, startingVisitor, visitorFields } from './visitor-fields';
import type { Arrival, QueueItem, World } from './world';

/**
 * A field of a world: how it starts, how it is copied, and how it enters the key, or why not. What follows from other fields is
 * found from them in a world that is read back.
 */
type WorldField<V> = Field<World, V> & { start: (plan: CompiledLevel) => V; follows?: (world: World) => V };

/** A field that starts like that in every level. */
function starting<V>(start: () => V, field: Field<object, V>): WorldField<V> {
  return { ...field, start };
}

/** What the kernel keeps so as to pass over ticks, or within a tick. */
function kept<V>(why: string, start: (plan: CompiledLevel) => V, copy?: (value: V) => V): WorldField<V> {
  return { ...leftOut(why, ({ plan }) => start(plan), copy), start };
}

/** What is found from the other fields. */
function following<V>(why: string, start: () => V, copy: (value: V) => V, follows: (world: World) => V): WorldField<V> {
  return { ...leftOut(why, start, copy), start, follows };
}

const arrivalFields: Fields<Arrival> = { visitor: same(), volume: same(), cause: cause(null) };
const visitor = part(visitorFields);
const machine = part(machineFields);
const isEmpty = ({ length }: readonly unknown[]): boolean => length === 0;

/** The schedule: in the key by how soon, without what was called off. */
const schedule: Field<World, World['schedule']> = {
  why: 'What was called off is left out.',
  copy: (all) => new Map(Array.from(all, ([tick, items]) => [tick, items.slice()])),
  key: (all, seen) =>
    [...all.entries()]
      .sort(([a], [b]) => a - b)
      .map(([tick, items]): [number, unknown[]] => [
        tick - seen.world.tick,
        items.filter((item) => isStillToCome(seen.world, item)).map((item) => itemKey(item, seen)),
      ])
      .filter(([, items]) => items.length > 0),
  restore: (keyed, from) =>
    new Map(
      (keyed as [number, unknown[]][]).map(([ticks, items]): [number, QueueItem[]] => [
        from.tick + ticks,
        items.map((item) => itemFrom(item, from)),
      ]),
    ),
};

/** How often and how long ago each cause has started its chain, as far as it is ever asked. */
const causes: Field<World, World['causes']> = {
  why: 'What counts towards no limit and no cooldown is left out.',
  copy: (all) => new Map(Array.from(all, ([key, one]) => [key, { ...one }])),
  key: (all, { plan, world }) => {
    const found: [string, number, number][] = [];
    for (const [key, { count, lastTick }] of all) {
      const { id, limit, cooldownFor } = plan.causes.get(key.split(' ')[0]!)!;
      // A limit is for all, a cooldown for all or for each visitor.
      const isForAll = key === id;
      const cools = lastTick !== null && isForAll === (cooldownFor === 'all');
      const cool = cools ? Math.max(0, lastTick + pauseOfCause(plan, key) - world.tick) : 0;
      const counted = limit !== null && isForAll ? count : 0;
      if (counted > 0 || cool > 0) found.push([key, counted, cool]);
    }
    return found.sort(([a], [b]) => (a < b ? -1 : 1));
  },
  restore: (keyed, { plan, tick }) =>
    new Map(
      (keyed as [string, number, number][]).map(([key, count, cool]) => [
        key,
        { count, lastTick: cool === 0 ? null : tick + cool - pauseOfCause(plan, key) },
      ]),
    ),
};

function pauseOfCause({ causes: all, level }: CompiledLevel, key: string): number {
  return ticksOf(all.get(key.split(' ')[0]!)!.cooldown, level.rate);
}

/** Since when passages take nobody: in the key, for how many ticks yet. */
const took: Field<World, World['took']> = {
  why: 'Pauses that are over are left out.',
  copy: (all) => new Map(all),
  key: (all, { plan, world }) =>
    Array.from(all, ([key, since]): [string, number] => [key, cooledAt(plan, key, since) - world.tick])
      .filter(([, ticks]) => ticks > 0)
      .sort(([a], [b]) => (a < b ? -1 : 1)),
  restore: (keyed, { plan, tick }) =>
    new Map((keyed as [string, number][]).map(([key, ticks]) => [key, tick + ticks - pauseOf(plan, key)])),
};

/** Every field of a world. */
export const worldFields: { readonly [K in keyof World]-?: WorldField<World[K]> } = {
  tick: {
    start: () => -1,
    why: 'How late it is does not decide what comes, only whether it has begun.',
    key: (tick) => tick < 0,
    restore: (_keyed, { tick }) => tick,
  },
  ranAway: starting(() => false, same()),
  looked: { start: () => -1, ...leftOut('Everything is said as of now.', ({ tick }) => tick) },
  coming: kept('It is reckoned again.', () => null),
  walk: kept('What is left of a walk is in the routes of its visitors.', () => ''),
  entries: {
    start: () => 0,
    ...leftOut('Numbers of entries are told, and asked for by nothing.', ({ tick }) => (tick < 0 ? 0 : RESTORED_WALK_ENTRY)),
  },
  turn: {
    start: () => -1,
    ...leftOut('Between two ticks it is nobody’s.', ({ plan, tick }) => (tick < 0 ? -1 : plan.visitors.length)),
  },
  visitors: {
    of: visitorFields as Fields<never>,
    start: (plan) => plan.visitors.map(startingVisitor),
    copy: (all) => all.map(visitor.copy!),
    key: (all, seen) => all.map((one) => keyedOf(visitorFields, asOfNow(seen.plan, seen.world, one), seen)),
    restore: (keyed, from) => (keyed as unknown[]).map((one) => restoredOf(visitorFields, one, from)),
  },
  wakes: {
    start: ({ visitors }) => new Float64Array(visitors.length).fill(1),
    ...leftOut(
      'It is reckoned again.',
      ({ plan, tick }) => new Float64Array(plan.visitors.length).fill(Math.max(0, tick) + 1),
      (wakes) => wakes.slice(),
    ),
  },
  again: kept(
    'Between two ticks, whoever is in it has been woken.',
    () => [],
    (again) => again.slice(),
  ),
  machines: {
    of: machineFields as Fields<never>,
    start: ({ courses }) => new Map(Array.from(courses, ([id, course]) => [id, startingMachine(course)])),
    copy: (all) => new Map(Array.from(all, ([id, one]) => [id, machine.copy!(one)])),
    key: (all, seen) =>
      Array.from(all, ([id, one]) => [id, keyedOf(machineFields, machineNow(seen.plan, seen.world, id, one), seen)]),
    restore: (keyed, from) =>
      new Map((keyed as [string, unknown][]).map(([id, one]) => [id, restoredOf(machineFields, one, from)])),
  },
  inMotion: following(
    'The machines say whether they move.',
    () => new Set(),
    (all) => new Set(all),
    ({ machines }) => new Set(Array.from(machines, ([id, { motion }]) => (motion === null ? [] : [id])).flat()),
  ),
  solid: {
    start: ({ volumes }) => volumes.map(({ fixture }) => fixture !== null && startsSolid(fixture)),
    copy: (solid) => solid.slice(),
    key: (solid) => solid.map(Number).join(''),
    restore: (keyed) => Array.from(keyed as string, (one) => one === '1'),
  },
  disabled: {
    start: ({ level }) =>
      new Set([...level.zones, ...level.fixtures, ...level.chains].filter((one) => !one.enabled).map((one) => one.id)),
    ...set(),
  },
  shown: { start: ({ level }) => new Map(level.fixtures.map((one) => [one.id, one.shown])), ...map(same()) },
  seeThrough: {
    start: ({ level }) => new Set(level.fixtures.filter((one) => one.seeThrough).map((one) => one.id)),
    ...set(),
  },
  owners: starting(() => new Map(), map(same())),
  collected: starting(() => new Set(), set()),
  switches: {
    start: ({ level }) =>
      new Map(
        level.fixtures.flatMap((fixture) => {
          const { on } = startsAs(fixture);
          return on === undefined ? [] : [[fixture.id, { on, token: 0, uses: 0 }]];
        }),
      ),
    copy: (all) => new Map(Array.from(all, ([id, one]) => [id, { ...one }])),
    why: 'How often a switch was used counts where it works once; its token tells what was called off, which is not in the key.',
    key: (all, { plan }) => Array.from(all, ([id, { on, uses }]) => [id, on, worksOnce(plan, id) ? uses : 0]),
    restore: (keyed) => new Map((keyed as [string, boolean, number][]).map(([id, on, uses]) => [id, { on, token: 0, uses }])),
  },
  pressed: {
    start: ({ level }) =>
      new Map(
        level.fixtures.flatMap((fixture) => {
          const { pressed } = startsAs(fixture);
          return pressed === undefined ? [] : [[fixture.id, pressed]];
        }),
      ),
    ...map(same()),
  },
  flags: { start: ({ level }) => new Map(level.flags.map((flag) => [flag.id, flag.on])), ...map(same()) },
  counters: { start: ({ level }) => new Map(level.counters.map((one) => [one.id, one.value])), ...map(same()) },
  texts: {
    start: ({ level }) =>
      new Map([
        ...level.texts.map((one): [string, string] => [one.id, one.value]),
        ...level.fixtures.flatMap((fixture): [string, string][] => {
          const { text } = startsAs(fixture);
          return text === undefined ? [] : [[fixture.id, text]];
        }),
      ]),
    ...map(same()),
  },
  inside: following(
    'Visitors say what they are within.',
    () => new Map(),
    (all) => new Map(Array.from(all, ([volume, who]) => [volume, new Set(who)])),
    ({ visitors }) => {
      const inside: World['inside'] = new Map();
      for (const { within, order } of visitors)
        for (const volume of within.keys()) inside.set(volume, (inside.get(volume) ?? new Set()).add(order));
      return inside;
    },
  ),
  // Those that are read back have numbers of their own: see `stayIn`.
  stays: kept('It only numbers the stays.', () => 0),
  insideByEvents: starting(
    () => new Map(),
    map(set<string>(), ({ size }) => size === 0),
  ),
  causes: starting(() => new Map(), causes as Field<object, World['causes']>),
  took: starting(() => new Map(), took as Field<object, World['took']>),
  taking: starting(() => new Set(), set()),
  runs: starting(() => new Map(), runs as Field<object, World['runs']>),
  queued: starting(() => new Map(), map(listOfAll(part(triggerFields)), isEmpty)),
  runsBegun: following(
    'It only numbers the runs.',
    () => 0,
    (all) => all,
    (world) => runsInOrder(world.runs).length,
  ),
  watches: { start: () => [], copy: (watches) => watches.slice(), ...same<boolean[]>() },
  untils: starting(() => [], listOfAll(part(untilFields))),
  queue: kept(
    'Between two ticks it is empty.',
    () => [],
    () => [],
  ),
  schedule: starting(() => new Map(), schedule as Field<object, World['schedule']>),
  dueTicks: following(
    'They are those of the schedule.',
    (): number[] => [],
    (all) => all.slice(),
    (world) => [...world.schedule.keys()].sort((a, b) => b - a),
  ),
  itemsThisTick: kept('Between two ticks nothing is counted.', () => 0),
  depth: kept('Between two ticks nothing is under way.', () => 0),
  versions: kept(
    'They tell whether something is to be asked again, and it is.',
    () => ({ facts: 0, fixtures: 0, inside: 0, visitors: 0, chains: 0 }),
    (versions) => ({ ...versions }),
  ),
  strode: kept('It is asked of the tick under way.', () => -1),
  stirred: { start: () => false, ...leftOut('It lets more be looked at, of which nothing comes.', () => true) },
  weigh: starting(() => true, same()),
  arrivals: starting(() => [], listOfAll(part(arrivalFields))),
};

function worksOnce({ fixtures }: CompiledLevel, id: string): boolean {
  const fixture = fixtures.get(id)!;
  return 'works' in fixture && fixture.works === 'once';
}

/** A world before tick 0, in which nobody has anything to do. */
export function startingWorld(plan: CompiledLevel): World {
  return Object.fromEntries(Object.entries(worldFields).map(([name, { start }]) => [name, start(plan)])) as unknown as World;
}

/**
 * A world of its own that goes on as the first would, entry by entry. Between two ticks only: what waits in the queue is not
 * copied. What is never changed in place (vectors, instructions, items of the schedule) is shared.
 */
export function copy(world: World): World {
  return copyOf(worldFields, world);
}

/**
 * What decides the future of a world, as a text: two worlds of one plan with the same text go on alike, but for the numbers of
 * their entries, what those came from, and how late it is. Times are said from now on; runs and stays by their order. What was
 * called off, what this level cannot read, and what the kernel keeps so as to pass over ticks, is left out.
 */
export function stateKey(plan: CompiledLevel, world: World): string {
  const places = new Map(runsInOrder(world.runs).map(({ run }, place) => [run.run, place]));
  const seen: Seen = { plan, world, reads: readsOf(plan), placeOf: (run) => places.get(run) ?? -1 };
  return JSON.stringify(keyedOf(worldFields, world, seen));
}

/**
 * A world from its key: it goes on as that which had the key. It is at tick 1, or -1 if it has not begun, and its entries are
 * counted anew.
 */
export function fromKey(plan: CompiledLevel, key: string): World {
  const keyed = JSON.parse(key) as unknown[];
  const inKey = Object.entries(worldFields).flatMap(([name, field]) => ('key' in field && field.key !== undefined ? [name] : []));
  const begins = keyed[inKey.indexOf('tick')] === true;
  const chains = (keyed[inKey.indexOf('runs')] as [string, unknown][]).map(([chain]) => chain);
  const from: Restoring = { plan, tick: begins ? -1 : 1, chainOf: (place) => chains[place] ?? '' };
  const world = restoredOf(worldFields as Fields<World>, keyed, from);
  for (const [name, { follows }] of Object.entries(worldFields) as [string, WorldField<unknown>][])
    if (follows !== undefined) Object.assign(world, { [name]: follows(world) });
  return world;
}
