import type { Conditions, Fixture, HouseRules, Instruction, Level, Place, Vector, Visitor, Walk } from '../../src/index';
import { variations } from '../../src/kernel/state/jitter';
import { TOUCH, ball, box, isOver, meetingSpan, meets, pillar, put, rotated, turnedBody, unit } from './geometry';
import type { Solid } from './geometry';
import { courseOfTravel, eased } from './travelling';
import { wayOf } from './ways';

/*
 * A second kernel, written from docs/order.md: every pair is tested at every tick, nothing is indexed or skipped, and what
 * is to happen is a function. It shares the schema, the parsed conditions and the random source with the first one, and
 * nothing else: it has a geometry, ways, easings and step meanings of its own. Their ledgers have to be equal. It stands in
 * four layers: the world, what moves in it, the chains, and the ticks.
 */

/** What an entry says, in plain fields. */
export type Details = Record<string, string | number | boolean | null | string[] | number[]>;

/** One line of the ledger. */
export interface Entry {
  number: number;
  tick: number;
  seconds: number;
  kind: string;
  who: string | null;
  what: string | null;
  chain: string | null;
  step: string | null;
  cause: number | null;
  details: Details;
}

/** The ledger as JSON lines. */
export const textOf = (entries: readonly Entry[]): string => entries.map((entry) => JSON.stringify(entry) + '\n').join('');

export type Written = Partial<Omit<Entry, 'number' | 'tick' | 'seconds'>> & { kind: Entry['kind'] };
export type Job = () => unknown;
export type Then = (number: number, held: boolean) => void;
export class TooMuch extends Error {}

/** A step that something makes wait: ends it, with the number of its entry. */
export interface Waiting {
  entry: number;
  finish: Job;
}

export interface Machine {
  fixture: Extract<Fixture, { kind: 'door' | 'elevator' | 'mover' }>;
  frames: { by: Vector; turn: number }[];
  spans: number[];
  starts: number;
  clock: number;
  sensed: number;
  going: Going | null;
  ticket: number;
  last: number | null;
  riders: number;
}

export interface Going {
  from: number;
  to: number;
  begun: number;
  ticks: number;
  entry: number | null;
  hand: string | null;
  waiting: Waiting[];
  stopped: boolean;
}

export interface Leg {
  points: Vector[];
  from: Vector;
  length: number;
  speed: number;
  ticks: number;
  done: number;
  blocked: boolean;
}

export interface Person {
  visitor: Visitor;
  at: Vector;
  room: string;
  heading: number;
  inPlay: boolean;
  held: boolean;
  carrier: Person | null;
  lastHolder: string | null;
  support: string | null;
  flight: { from: Vector; velocity: Vector; begun: number; by: string | null; cause: number | null; push: number | null } | null;
  push: { x: number; y: number; ticks: number; step: number } | null;
  forced: { to: Vector; speed: number; leg: Leg | null; hand: string | null; cause: number; waiting: Waiting[] } | null;
  todo: Instruction[];
  late: number;
  waits: number | null;
  leg: Leg | null;
  /** Whether the first instruction is a leg that has been begun. */
  onLeg: boolean;
  speed: number;
  sensed: Vector;
  jumped: boolean;
  putBy: number | null;
  carriedBy: number | null;
  /** What has taken it along since the last Sense, and how far. */
  rides: { machine: Machine; by: Vector }[];
  wish: Vector | null;
  bumping: Set<string>;
}

/** Something that is entered and left, or that blocks: a zone or a fixture with a body. */
export interface Volume {
  id: string;
  order: number;
  room: string;
  fixture: Fixture | null;
  base: Solid;
  parents: Machine[];
  swept: boolean;
  dwell: number | null;
}

export abstract class World {
  tick = 0;
  readonly entries: Entry[] = [];
  readonly queue: Job[] = [];
  readonly rules: HouseRules;
  readonly machines = new Map<string, Machine>();
  readonly people: Person[];
  readonly volumes: Volume[] = [];
  readonly solids: { id: string; room: string; shape: Solid }[];
  readonly solid = new Map<string, boolean>();
  readonly enabled = new Map<string, boolean>();
  /** When a passage has begun to take somebody last, and whom it is taking. */
  readonly took = new Map<string, number>();
  readonly taking = new Set<string>();
  readonly shown = new Map<string, boolean>();
  readonly seeThrough = new Map<string, boolean>();
  readonly owners = new Map<string, string>();
  readonly collected = new Set<string>();
  readonly switches = new Map<string, { on: boolean; uses: number; ticket: number }>();
  readonly pressed = new Map<string, boolean>();
  readonly facts = new Map<string, boolean | number | string>();
  /** `volume person` to the number of the stay. */
  readonly inside = new Map<string, number>();
  readonly conditions: Conditions;
  hand: string | null = null;
  /** What comes later; `live` says whether it has not been called off since. */
  later: { tick: number; job: Job; live: (() => boolean) | null }[] = [];
  /** Who was put where quietly since the plates were weighed. */
  arrivals: { volume: string; one: Person; cause: number | null }[] = [];

  constructor(
    readonly level: Level,
    readonly walk: Walk,
    rules: Partial<HouseRules>,
    seed: number,
  ) {
    this.solids = level.solids.map((one) => ({ id: one.id, room: one.room, shape: box(one.at, one.size, one.heading) }));
    this.rules = { ...level.rules, ...rules };
    for (const fact of level.flags) this.facts.set(fact.id, fact.on);
    for (const fact of [...level.counters, ...level.texts]) this.facts.set(fact.id, fact.value);
    for (const zone of level.zones) this.enabled.set(zone.id, zone.enabled);
    for (const fixture of level.fixtures) {
      this.enabled.set(fixture.id, fixture.enabled);
      this.shown.set(fixture.id, fixture.shown);
      this.seeThrough.set(fixture.id, fixture.seeThrough);
      if (fixture.kind === 'plate') this.pressed.set(fixture.id, false);
      if (fixture.kind === 'switch') this.switches.set(fixture.id, { on: fixture.on, uses: 0, ticket: 0 });
      if (fixture.kind === 'bell-pull') this.switches.set(fixture.id, { on: false, uses: 0, ticket: 0 });
      if (fixture.kind === 'sign' || fixture.kind === 'marker') this.facts.set(fixture.id, fixture.text);
      if (fixture.kind === 'door' || fixture.kind === 'elevator' || fixture.kind === 'mover')
        this.machines.set(fixture.id, this.machineOf(fixture));
    }
    for (const zone of level.zones) {
      const { shape } = zone;
      const base =
        shape.kind === 'box'
          ? box(zone.at, shape.size, zone.heading)
          : shape.kind === 'ball'
            ? ball(zone.at, shape.radius)
            : pillar(zone.at, shape.radius, shape.height);
      this.addVolume(zone.id, zone.room, null, base, zone.attachedTo, zone.swept, zone.dwell);
    }
    for (const fixture of level.fixtures) {
      if (!('size' in fixture)) continue;
      this.solid.set(fixture.id, 'solid' in fixture && fixture.solid);
      const { at, size } = fixture;
      const form = 'form' in fixture ? fixture.form : 'box';
      const base =
        form === 'box'
          ? box(at, size, fixture.heading)
          : form === 'pillar'
            ? pillar(at, size.x / 2, size.z)
            : ball({ ...at, z: at.z + size.x / 2 }, size.x / 2);
      this.addVolume(fixture.id, fixture.room, fixture, base, fixture.id, false, fixture.dwell);
    }
    const varied = variations(walk, seed, level.rate);
    this.people = level.visitors.map((visitor) => {
      const number = walk.routes.findIndex((one) => one.visitor === visitor.id);
      return {
        visitor,
        at: visitor.at,
        room: visitor.room,
        heading: visitor.heading,
        inPlay: visitor.inPlay,
        held: false,
        carrier: null,
        lastHolder: null,
        support: null,
        flight: null,
        push: null,
        forced: null,
        todo: [...(walk.routes[number]?.instructions ?? [])],
        late: varied[number]?.delay ?? 0,
        waits: null,
        leg: null,
        onLeg: false,
        speed: visitor.speed * (varied[number]?.speed ?? 1),
        sensed: visitor.at,
        jumped: true,
        putBy: null,
        carriedBy: null,
        rides: [],
        wish: null,
        bumping: new Set(),
      };
    });
    this.conditions = this.conditionsOf();
  }

  abstract conditionsOf(): Conditions;
  abstract raise(event: Written, then?: Then): void;

  private machineOf(fixture: Machine['fixture']): Machine {
    const none = { x: 0, y: 0, z: 0 };
    const common = { fixture, going: null, ticket: 0, last: null, riders: 0 };
    if (fixture.kind === 'door') {
      const starts = fixture.open ? 1 : 0;
      const { by, turn, seconds } = courseOfTravel(fixture);
      const frames = [
        { by: none, turn: 0 },
        { by, turn },
      ];
      return { ...common, frames, spans: [this.ticks(seconds)], starts, clock: starts, sensed: starts };
    }
    if (fixture.kind === 'mover') {
      const frames = [{ by: none, turn: 0 }, ...fixture.keyframes];
      return {
        ...common,
        frames,
        spans: fixture.keyframes.map((one) => this.ticks(one.seconds)),
        starts: 0,
        clock: 0,
        sensed: 0,
      };
    }
    const spans = fixture.stops.slice(1).map((stop, i) => {
      const { x, y, z } = fixture.stops[i]!;
      const far = Math.sqrt((stop.x - x) ** 2 + (stop.y - y) ** 2 + (stop.z - z) ** 2);
      return this.ticks(fixture.timing.by === 'seconds' ? fixture.timing.seconds : far / fixture.timing.speed);
    });
    const starts = fixture.startsAt - 1;
    return { ...common, frames: fixture.stops.map((by) => ({ by, turn: 0 })), spans, starts, clock: starts, sensed: starts };
  }

  private addVolume(
    id: string,
    room: string,
    fixture: Fixture | null,
    base: Solid,
    movesWith: string,
    swept: boolean,
    dwell: number | null,
  ): void {
    const parents: Machine[] = [];
    for (let at = movesWith; at !== '';) {
      const machine = this.machines.get(at);
      if (machine !== undefined) parents.push(machine);
      at = this.level.fixtures.find((one) => one.id === at)?.attachedTo ?? '';
    }
    this.volumes.push({
      id,
      order: this.volumes.length,
      room,
      fixture,
      base,
      parents,
      swept,
      dwell: dwell === null ? null : this.ticks(dwell),
    });
  }

  ticks(seconds: number): number {
    return Math.max(0, Math.ceil(seconds * this.level.rate - 1e-6));
  }

  write({ kind, who = null, what = null, chain = null, step = null, cause = null, details = {} }: Written): number {
    const number = this.entries.length + 1;
    const seconds = Math.round((this.tick / this.level.rate) * 1e6) / 1e6;
    this.entries.push({ number, tick: this.tick, seconds, kind, who, what, chain, step, cause, details });
    return number;
  }

  in(ticks: number, job: Job, live: (() => boolean) | null = null): void {
    if (ticks === 0) this.queue.push(job);
    else this.later.push({ tick: this.tick + ticks, job, live });
  }

  person(id: string | null): Person | undefined {
    return this.people.find((one) => one.visitor.id === id);
  }

  carries(one: Person): Person[] {
    return this.people.filter((other) => other.carrier === one);
  }

  /** The things that references can lead to, with what each is called in them. */
  wordOf(id: string): string | undefined {
    const { level } = this;
    const is = (list: { id: string }[]): boolean => list.some((one) => one.id === id);
    const of = [...level.fixtures, ...level.visitors].find((one) => one.id === id);
    if (of !== undefined) return of.kind;
    if (is(level.rooms)) return 'room';
    if (is(level.solids)) return 'solid';
    if (is(level.zones)) return 'zone';
    if (is(level.flags)) return 'flag';
    if (is(level.counters)) return 'counter';
    if (is(level.texts)) return 'text';
    if (is(level.signals)) return 'signal';
    if (is(level.chains)) return 'chain';
    if (is(level.watches)) return 'watch';
    return is(level.walks) ? 'walk' : undefined;
  }

  bodyOf({ visitor, at }: Person): Solid {
    const { body } = visitor;
    return body.kind === 'box' ? box(at, body.size, 0) : pillar(at, body.radius, body.height);
  }

  height(one: Person): number {
    return this.bodyOf(one).height;
  }

  /** A point moved by what moves a volume: its machines one after the other, the nearest first. */
  carry(parents: Machine[], point: Vector, clock: (one: Machine) => number): Vector {
    let { x, y, z } = point;
    for (const machine of parents) {
      const { by, turn } = this.poseOf(machine, clock(machine));
      if (turn !== 0) {
        const pivot = this.pivotOf(machine);
        const turned = rotated({ x: x - pivot.x, y: y - pivot.y }, unit(turn));
        [x, y] = [pivot.x + turned.x, pivot.y + turned.y];
      }
      [x, y, z] = [x + by.x, y + by.y, z + by.z];
    }
    return { x, y, z };
  }

  turned(parents: Machine[], clock: (one: Machine) => number): number {
    return parents.reduce((sum, machine) => sum + this.poseOf(machine, clock(machine)).turn, 0);
  }

  /** Whether a machine is elsewhere by its own motion than at the last Sense. */
  hasMoved(machine: Machine): boolean {
    const [now, then] = [this.poseOf(machine, machine.clock), this.poseOf(machine, machine.sensed)];
    return now.by.x !== then.by.x || now.by.y !== then.by.y || now.by.z !== then.by.z || now.turn !== then.turn;
  }

  private poseOf({ frames, fixture }: Machine, clock: number): { by: Vector; turn: number } {
    const i = Math.min(Math.floor(clock), frames.length - 1);
    const [a, b] = [frames[i]!, frames[Math.min(i + 1, frames.length - 1)]!];
    const u = eased(fixture.easing, clock - i);
    const mix = (p: number, q: number): number => p + (q - p) * u;
    return { by: { x: mix(a.by.x, b.by.x), y: mix(a.by.y, b.by.y), z: mix(a.by.z, b.by.z) }, turn: mix(a.turn, b.turn) };
  }

  private pivotOf({ fixture }: Machine): { x: number; y: number } {
    if (fixture.kind !== 'door') return fixture.at;
    const { cos, sin } = unit(fixture.heading);
    const side = (fixture.swing.hinge === 'west' ? -1 : 1) * (fixture.size.x / 2);
    return { x: fixture.at.x + side * cos, y: fixture.at.y + side * sin };
  }

  shape({ base, parents }: Volume, clock = (one: Machine): number => one.clock): Solid {
    if (parents.length === 0) return base;
    return turnedBody(put(base, this.carry(parents, base.at, clock)), unit(this.turned(parents, clock)));
  }

  isThere({ fixture, id }: Volume): boolean {
    return fixture?.kind !== 'door' || fixture.manner !== 'vanish' || this.machines.get(id)!.clock !== 1;
  }

  isSolid(volume: Volume): boolean {
    return this.solid.get(volume.id) === true && this.isThere(volume);
  }

  /** Whether it lets somebody through as if it were passable: its owner, or who has one of its tags. */
  lets({ fixture, id }: Volume, one: Person): boolean {
    if (fixture === null || !('letsThrough' in fixture)) return false;
    const { owner, tags } = fixture.letsThrough;
    return (owner && this.owners.get(id) === one.visitor.id) || one.visitor.tags.some((tag) => tags.includes(tag));
  }

  isSolidFor(volume: Volume, one: Person | null): boolean {
    return this.isSolid(volume) && (one === null || !this.lets(volume, one));
  }

  isPassableFor(volume: Volume, one: Person): boolean {
    return this.solid.get(volume.id) !== true || this.lets(volume, one);
  }

  /** Everything in a room that holds and blocks somebody, in listing order: solids, then solid fixtures. */
  blocks(room: string, who: Person | null): { id: string; shape: Solid }[] {
    const solids = this.solids.filter((one) => one.room === room);
    const fixtures = this.volumes.filter((one) => one.room === room && this.isSolidFor(one, who));
    return [...solids, ...fixtures.map((one) => ({ id: one.id, shape: this.shape(one) }))];
  }

  under(room: string, who: Person | null, body: Solid, lowest: number, highest: number): { id: string; top: number } | null {
    const tops = this.blocks(room, who)
      .filter(({ shape }) => isOver(body, shape))
      .map(({ id, shape }) => ({ id, top: shape.at.z + shape.height }));
    const ground = this.level.rooms.find((one) => one.id === room)?.ground;
    if (ground !== undefined) tops.push({ id: '', top: ground });
    let best: { id: string; top: number } | null = null;
    for (const one of tops) {
      if (one.top > highest + TOUCH || one.top < lowest - TOUCH) continue;
      if (best === null || one.top > best.top + TOUCH) best = one;
    }
    return best;
  }

  /** Those who stand in somebody's way: in play and on their own feet. */
  inTheWayOf(who: Person): Person[] {
    return this.people.filter(
      (one) => one !== who && one.visitor.blocks && one.inPlay && one.carrier === null && one.room === who.room,
    );
  }

  stop(who: Person, body: Solid, by: Vector, over: number, start: Solid): { id: string; from: number } | null {
    let first: { id: string; from: number } | null = null;
    const others = this.inTheWayOf(who).map((one) => ({ id: one.visitor.id, shape: this.bodyOf(one) }));
    for (const { id, shape } of [...this.blocks(who.room, who), ...others]) {
      if (shape.at.z + shape.height <= over + TOUCH) continue;
      const stretch = meetingSpan(body, by, shape);
      if (stretch !== null && !meets(start, shape) && (first === null || stretch.from < first.from - 1e-9))
        first = { id, from: stretch.from };
    }
    return first;
  }

  /** The shortest way around the solids that are met on the way, or the straight line. */
  way(one: Person, to: Vector): Vector[] {
    const solids = this.solids.filter((solid) => solid.room === one.room).map((solid) => solid.shape);
    const { ground, extents } = this.level.rooms.find((room) => room.id === one.room)!;
    return wayOf({ solids, ground, step: this.level.stepHeight, extents }, this.bodyOf(one), to);
  }

  /** Where a thing stands: its room, its place and its heading. */
  stand(id: string): { room: string; at: Vector; heading: number } | null {
    const person = this.person(id);
    if (person !== undefined) return { room: person.room, at: person.at, heading: person.heading };
    const solid = this.level.solids.find((one) => one.id === id);
    if (solid !== undefined) return solid;
    const thing = [...this.level.zones, ...this.level.fixtures].find((one) => one.id === id);
    if (thing === undefined) return null;
    const parents =
      this.volumes.find((one) => one.id === id)?.parents ??
      this.volumes.find((one) => one.id === thing.attachedTo)?.parents ??
      [];
    const now = (one: Machine): number => one.clock;
    return { room: thing.room, at: this.carry(parents, thing.at, now), heading: thing.heading + this.turned(parents, now) };
  }

  spot(place: Place, person: Person): { room: string; at: Vector; heading: number | null } | null {
    const base = place.of === '' ? null : this.stand(place.of);
    if (place.of !== '' && base === null) return null;
    const room = base?.room ?? (place.room || person.room);
    const known = this.level.rooms.find((one) => one.id === room);
    if (known === undefined) return null;
    let at: Vector = { x: place.x, y: place.y, z: place.z };
    if (base !== null) {
      const { x, y } = rotated(at, unit(place.axes === 'own' ? base.heading : 0));
      at = { x: base.at.x + x, y: base.at.y + y, z: base.at.z + at.z };
    }
    if (place.height === 'ground') {
      const below = this.under(room, null, pillar(at, 1e-6, 1), -Infinity, base?.at.z ?? Infinity);
      at = { ...at, z: (below?.top ?? known.ground) + place.z };
    }
    return { room, at, heading: base?.heading ?? null };
  }

  key(id: string, hand: string | null): string {
    const each = [...this.level.flags, ...this.level.counters, ...this.level.texts].some(
      (one) => one.id === id && one.per === 'visitor',
    );
    return each ? `${id} ${hand ?? ''}` : id;
  }

  fact(id: string, hand: string | null): boolean | number | string {
    return this.facts.get(this.key(id, hand)) ?? this.facts.get(id) ?? '';
  }
}
