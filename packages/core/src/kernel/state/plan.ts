import type { Cause } from '../../kinds/causes/cause';
import { isBodied, shapeOfFixture, isMachine, kindOfFixture, motionOf } from '../../kinds/fixtures';
import type { Bodied, Fixture, Plate } from '../../kinds/fixtures';
import { causeEvents } from '../../vocabulary/events';
import type { Played } from '../../kinds/fixtures/fixture-kind';
import type { CauseEvent } from '../../vocabulary/events';
import type { Level } from '../../document/level';
import { lookup } from '../../document/lookup';
import type { Lookup } from '../../document/lookup';
import type { Visitor } from '../../document/people';
import type { Room } from '../../document/places';
import type { Vector } from '../../vocabulary/quantities';
import { bodyAt, boxAt, zoneAt } from '../../space/shapes';
import type { Shape } from '../../space/shapes';
import { Grid, around, footprint } from '../../space/grid';
import type { Footprint } from '../../space/grid';
import { courseOf, fastestOf, reachedBy } from './courses';
import type { MotionPath } from './courses';
import { ticksOf } from '../../vocabulary/ticks';

/** A chain's cause that listens to an event of a thing, by their places in listing order. */
interface Listener {
  chain: number;
  cause: number;
}

/** A zone or a fixture with a body: it is entered and left while it is passable, and blocks while it is solid. */
export interface Volume {
  id: string;
  /** Its place among the volumes: zones, then fixtures, in listing order. */
  number: number;
  room: string;
  /** Where it is when whatever it is attached to is at its own place, and its own motion at its beginning. */
  shape: Shape;
  fixture: Bodied | null;
  /** The machine it is or is attached to, directly or over others; null if it never moves. */
  movedBy: string | null;
  /** The courses that move it, its own first. */
  over: MotionPath[];
  /** Where it was of late, by the clock of the one machine that moves it: most of the time machines stand still. */
  known: Posed[];
  swept: boolean;
  /** Whom it lets through while it is solid: who owns it, and visitors by their order; null for nobody. */
  lets: { owner: boolean; tagged: ReadonlySet<number> } | null;
  /** Whether it is gone while its machine is in its last position. */
  vanishes: boolean;
  /** Ticks inside after which it raises dwell; null for never. */
  dwell: number | null;
}

/** Where something is while the clock of its machine stands so. */
interface Posed {
  clock: number;
  shape: Shape;
}

interface SolidBlock {
  id: string;
  room: string;
  shape: Shape;
}

interface Body {
  visitor: Visitor;
  /** Its shape with its feet at the origin. */
  shape: Shape;
}

/** What never changes in a rehearsal: the level, arranged for the questions that the kernel asks. */
export interface CompiledLevel {
  level: Level;
  things: Lookup;
  rooms: Map<string, Room>;
  fixtures: Map<string, Fixture>;
  volumes: Volume[];
  volumeOf: Map<string, number>;
  /** All volumes by room, and those of fixtures, which may be solid. */
  volumeGrids: Map<string, Grid>;
  fixtureGrids: Map<string, Grid>;
  solids: SolidBlock[];
  /** The shapes of the solids, by number. */
  blocks: Shape[];
  solidGrids: Map<string, Grid>;
  courses: Map<string, MotionPath>;
  /** Elevators that go back when they are left. */
  leavers: MotionPath[];
  plates: Plate[];
  cues: Map<string, Played>;
  chains: Map<string, number>;
  /** The causes of all chains, by id. */
  causes: Map<string, Cause>;
  /** Listeners by event and thing, in listing order. */
  listeners: Map<CauseEvent, Map<string, Listener[]>>;
  /** The same, the chains the other way round. */
  listenersReversed: Map<CauseEvent, Map<string, Listener[]>>;
  /** Things of which some cause counts only the first one in and the last one out. */
  countedThings: Set<string>;
  /** What is kept for each visitor, with the value it begins with. */
  perVisitor: Map<string, boolean | number | string>;
  visitors: Body[];
  /** Those that stand in the way of others, by their orders. */
  blockers: number[];
  visitorOf: Map<string, number>;
  /** Ways that were found: nothing that they lead around ever moves. */
  ways: Map<string, Vector[]>;
}

const arranged = new WeakMap<Level, CompiledLevel>();

/** Arranges a level for all its rehearsals, once: a level value is never changed in place. */
export function compileLevel(level: Level): CompiledLevel {
  let plan = arranged.get(level);
  if (plan === undefined) {
    plan = arrange(level);
    arranged.set(level, plan);
  }
  return plan;
}

function arrange(level: Level): CompiledLevel {
  const listeners = listenersOf(level);
  const plan: CompiledLevel = {
    level,
    things: lookup(level),
    rooms: new Map(level.rooms.map((room) => [room.id, room])),
    fixtures: new Map(level.fixtures.map((fixture) => [fixture.id, fixture])),
    volumes: [],
    volumeOf: new Map(),
    volumeGrids: new Map(),
    fixtureGrids: new Map(),
    blocks: [],
    solids: level.solids.map(({ id, room, at, size, heading }) => ({ id, room, shape: boxAt(at, size, heading) })),
    solidGrids: new Map(),
    courses: new Map(),
    leavers: [],
    plates: level.fixtures.filter((fixture): fixture is Plate => kindOfFixture(fixture.kind).weighs !== undefined),
    cues: new Map(
      level.fixtures.flatMap((fixture) => {
        const played = kindOfFixture(fixture.kind).plays?.(fixture);
        return played === undefined ? [] : [[fixture.id, played]];
      }),
    ),
    chains: new Map(level.chains.map((chain, index) => [chain.id, index])),
    causes: new Map(level.chains.flatMap(({ causes }) => causes.map((cause) => [cause.id, cause]))),
    listeners,
    listenersReversed: reversed(listeners),
    countedThings: new Set(
      level.chains.flatMap(({ causes }) => causes.flatMap((one) => (one.counts === 'first-and-last' ? [one.of] : []))),
    ),
    perVisitor: perVisitor(level),
    visitors: level.visitors.map((visitor) => ({ visitor, shape: bodyAt(visitor.body, { x: 0, y: 0, z: 0 }) })),
    blockers: level.visitors.flatMap(({ blocks }, order) => (blocks ? [order] : [])),
    visitorOf: new Map(level.visitors.map((visitor, order) => [visitor.id, order])),
    ways: new Map(),
  };
  for (const zone of level.zones) {
    const dwell = zone.dwell === null ? null : ticksOf(zone.dwell, level.rate);
    const movedBy = machineOver(plan, zone.attachedTo);
    addVolume(plan, {
      id: zone.id,
      number: plan.volumes.length,
      room: zone.room,
      shape: zoneAt(zone.shape, zone.at, zone.heading),
      fixture: null,
      movedBy,
      over: none,
      known: [],
      swept: zone.swept,
      lets: null,
      vanishes: false,
      dwell,
    });
  }
  for (const fixture of level.fixtures) {
    if (!isBodied(fixture)) continue;
    const dwell = fixture.dwell === null ? null : ticksOf(fixture.dwell, level.rate);
    const movedBy = isMachine(fixture) ? fixture.id : machineOver(plan, fixture.attachedTo);
    const shape = shapeOfFixture(fixture);
    const vanishes = isMachine(fixture) && motionOf(fixture).vanishes?.(fixture) === true;
    addVolume(plan, {
      id: fixture.id,
      number: plan.volumes.length,
      room: fixture.room,
      shape,
      fixture,
      movedBy,
      over: none,
      known: [],
      swept: false,
      lets: letsThrough(fixture, level),
      vanishes,
      dwell,
    });
  }
  for (const fixture of level.fixtures) if (isMachine(fixture)) plan.courses.set(fixture.id, courseOf(fixture, level.rate));
  plan.leavers = [...plan.courses.values()].filter(({ machine }) => motionOf(machine).returnsWhenLeft?.(machine) === true);
  arrangeReaches(plan);
  plan.blocks = plan.solids.map((solid) => solid.shape);
  plan.solids.forEach((solid, number) => gridOf(plan.solidGrids, solid.room).add(number, footprint(solid.shape)));
  return plan;
}

function letsThrough(fixture: Bodied, { visitors }: Level): Volume['lets'] {
  if (!('letsThrough' in fixture)) return null;
  const { owner, tags } = fixture.letsThrough;
  if (!owner && tags.length === 0) return null;
  const has = ({ tags: own }: Visitor): boolean => own.some((one) => tags.includes(one));
  return { owner, tagged: new Set(visitors.flatMap((one, order) => (has(one) ? [order] : []))) };
}

function perVisitor({ flags, counters, texts }: Level): CompiledLevel['perVisitor'] {
  const found: CompiledLevel['perVisitor'] = new Map();
  for (const flag of flags) if (flag.per === 'visitor') found.set(flag.id, flag.on);
  for (const fact of [...counters, ...texts]) if (fact.per === 'visitor') found.set(fact.id, fact.value);
  return found;
}

function addVolume(plan: CompiledLevel, volume: Volume): void {
  plan.volumes.push(volume);
  plan.volumeOf.set(volume.id, volume.number);
}

/** A visitor of the document by its id; undefined for nobody. */
export function visitorOf({ visitorOf, visitors }: CompiledLevel, id: string | null): Visitor | undefined {
  const order = id === null ? undefined : visitorOf.get(id);
  return order === undefined ? undefined : visitors[order]!.visitor;
}

/** The nearest machine that something attached to `to` moves with. */
export function machineOver(plan: Pick<CompiledLevel, 'fixtures'>, to: string): string | null {
  if (to === '') return null;
  const seen = new Set<string>();
  for (let at = plan.fixtures.get(to); at !== undefined && !seen.has(at.id); at = plan.fixtures.get(at.attachedTo)) {
    if (isMachine(at)) return at.id;
    seen.add(at.id);
  }
  return null;
}

/** Puts volumes into the grids of their rooms, with all the ground that they ever cover, and into the groups of machines. */
function arrangeReaches(plan: CompiledLevel): void {
  for (const volume of plan.volumes) {
    const parents = coursesOver(plan, volume);
    volume.over = parents;
    let where: Footprint = footprint(volume.shape);
    for (const course of parents) where = reachedBy(course, where);
    gridOf(plan.volumeGrids, volume.room).add(volume.number, where);
    if (volume.fixture !== null) gridOf(plan.fixtureGrids, volume.room).add(volume.number, where);
    for (const course of parents) {
      course.group.push(volume.number);
      const known = course.reach.get(volume.room);
      course.reach.set(volume.room, known === undefined ? where : around(known, where));
    }
  }
  for (const [id, course] of plan.courses) {
    const own = plan.volumeOf.get(id)!;
    course.group.sort((a, b) => Number(b === own) - Number(a === own) || a - b);
    course.fastest = fastestOf(course);
  }
}

/** Of all that never moves, which is most: the same list for each. */
const none: MotionPath[] = [];

/** The courses that move a volume, its own first. */
function coursesOver(plan: CompiledLevel, volume: Volume): MotionPath[] {
  let at = volume.movedBy;
  if (at === null) return none;
  const found: MotionPath[] = [];
  while (at !== null && !found.some((course) => course.machine.id === at)) {
    const course: MotionPath = plan.courses.get(at)!;
    found.push(course);
    at = machineOver(plan, course.machine.attachedTo);
  }
  return found;
}

function gridOf(grids: Map<string, Grid>, room: string): Grid {
  let grid = grids.get(room);
  if (grid === undefined) {
    grid = new Grid();
    grids.set(room, grid);
  }
  return grid;
}

function listenersOf({ chains }: Level): CompiledLevel['listeners'] {
  const listeners: CompiledLevel['listeners'] = new Map(causeEvents.map((event) => [event, new Map<string, Listener[]>()]));
  chains.forEach((chain, index) => {
    chain.causes.forEach((cause, at) => {
      const things = listeners.get(cause.on)!;
      const listening = things.get(cause.of);
      if (listening === undefined) things.set(cause.of, [{ chain: index, cause: at }]);
      else listening.push({ chain: index, cause: at });
    });
  });
  return listeners;
}

function reversed(listeners: CompiledLevel['listeners']): CompiledLevel['listeners'] {
  const chainsBackward = (all: Listener[]): Listener[] => [...all].sort((a, b) => b.chain - a.chain || a.cause - b.cause);
  return new Map(
    [...listeners].map(([event, things]) => [event, new Map([...things].map(([id, all]) => [id, chainsBackward(all)]))]),
  );
}
