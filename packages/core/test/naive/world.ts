import { eased, isBodied, startsSolid, travelOf, travelSeconds } from '../../src/fixtures';
import { BOX, bodyAt, boxAt, direction, overlaps, sweep, zoneAt } from '../../src/index';
import type {
  Conditions,
  Entry,
  Fixture,
  HouseRules,
  Instruction,
  Level,
  Place,
  Shape,
  Vector,
  Visitor,
  Walk,
} from '../../src/index';
import { corners } from '../../src/space/overlap';
import { walkLine } from '../../src/space/ways';
import type { Terrain } from '../../src/space/ways';
import { Grid, around, footprint, meet } from '../../src/space/grid';
import { variations } from '../../src/rehearsal/jitter';

/*
 * A second kernel, written from docs/order.md: every pair is tested at every tick, nothing is indexed or skipped, and what
 * is to happen is a function. It shares the shapes and the expression language with the first one, and nothing of its
 * state. Their ledgers have to be equal. It stands in four layers: the world, what moves in it, the chains, and the ticks.
 */

export type Written = Partial<Omit<Entry, 'number' | 'tick' | 'seconds'>> & { kind: Entry['kind'] };
export type Job = () => void;
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
  flight: { from: Vector; velocity: Vector; begun: number; by: string | null; cause: number | null } | null;
  push: { x: number; y: number; ticks: number } | null;
  forced: { leg: Leg; hand: string | null; cause: number; waiting: Waiting[] } | null;
  todo: Instruction[];
  late: number;
  waits: number | null;
  leg: Leg | null;
  speed: number;
  sensed: Vector;
  jumped: boolean;
  putBy: number | null;
  carriedBy: number | null;
  wish: Vector | null;
  bumping: Set<string>;
}

/** Something that is entered and left, or that blocks: a zone or a fixture with a body. */
export interface Volume {
  id: string;
  order: number;
  room: string;
  fixture: Fixture | null;
  base: Shape;
  parents: Machine[];
  swept: boolean;
  dwell: number | null;
}

const GRAVITY_STEP = 1e-9;

export abstract class World {
  tick = 0;
  readonly entries: Entry[] = [];
  readonly queue: Job[] = [];
  readonly rules: HouseRules;
  readonly machines = new Map<string, Machine>();
  readonly people: Person[];
  readonly volumes: Volume[] = [];
  readonly solids: { id: string; room: string; shape: Shape }[];
  readonly solid = new Map<string, boolean>();
  readonly enabled = new Map<string, boolean>();
  readonly shown = new Map<string, boolean>();
  readonly owners = new Map<string, string>();
  readonly collected = new Set<string>();
  readonly switches = new Map<string, { on: boolean; uses: number; ticket: number }>();
  readonly pressed = new Map<string, boolean>();
  readonly facts = new Map<string, boolean | number | string>();
  /** `volume person` to the number of the stay. */
  readonly inside = new Map<string, number>();
  readonly conditions: Conditions;
  hand: string | null = null;
  later: { tick: number; job: Job }[] = [];

  constructor(
    readonly level: Level,
    readonly walk: Walk,
    rules: Partial<HouseRules>,
    seed: number,
  ) {
    this.solids = level.solids.map((one) => ({ id: one.id, room: one.room, shape: boxAt(one.at, one.size, one.heading) }));
    this.rules = { ...level.rules, ...rules };
    for (const fact of level.flags) this.facts.set(fact.id, fact.on);
    for (const fact of [...level.counters, ...level.texts]) this.facts.set(fact.id, fact.value);
    for (const zone of level.zones) this.enabled.set(zone.id, zone.enabled);
    for (const fixture of level.fixtures) {
      this.enabled.set(fixture.id, fixture.enabled);
      this.shown.set(fixture.id, fixture.shown);
      if (fixture.kind === 'plate') this.pressed.set(fixture.id, false);
      if (fixture.kind === 'switch') this.switches.set(fixture.id, { on: fixture.on, uses: 0, ticket: 0 });
      if (fixture.kind === 'sign' || fixture.kind === 'marker') this.facts.set(fixture.id, fixture.text);
      if (fixture.kind === 'door' || fixture.kind === 'elevator' || fixture.kind === 'mover')
        this.machines.set(fixture.id, this.machineOf(fixture));
    }
    for (const zone of level.zones) {
      const base = zoneAt(zone.shape, zone.at, zone.heading);
      this.addVolume(zone.id, zone.room, null, base, zone.attachedTo, zone.swept, zone.dwell);
    }
    for (const fixture of level.fixtures) {
      if (!isBodied(fixture)) continue;
      this.solid.set(fixture.id, startsSolid(fixture));
      const base = boxAt(fixture.at, fixture.size, fixture.heading);
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
        speed: visitor.speed * (varied[number]?.speed ?? 1),
        sensed: visitor.at,
        jumped: true,
        putBy: null,
        carriedBy: null,
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
      const frames = [
        { by: none, turn: 0 },
        { by: travelOf(fixture), turn: fixture.manner === 'swing' ? fixture.swing.degrees : 0 },
      ];
      return { ...common, frames, spans: [this.ticks(travelSeconds(fixture))], starts, clock: starts, sensed: starts };
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
    base: Shape,
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

  in(ticks: number, job: Job): void {
    if (ticks === 0) this.queue.push(job);
    else this.later.push({ tick: this.tick + ticks, job });
  }

  person(id: string | null): Person | undefined {
    return this.people.find((one) => one.visitor.id === id);
  }

  carries(one: Person): Person[] {
    return this.people.filter((other) => other.carrier === one);
  }

  bodyOf({ visitor, at }: Person): Shape {
    return bodyAt(visitor.body, at);
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
        const { cos, sin } = direction(turn);
        const pivot = this.pivotOf(machine);
        [x, y] = [pivot.x + (x - pivot.x) * cos - (y - pivot.y) * sin, pivot.y + (x - pivot.x) * sin + (y - pivot.y) * cos];
      }
      [x, y, z] = [x + by.x, y + by.y, z + by.z];
    }
    return { x, y, z };
  }

  turned(parents: Machine[], clock: (one: Machine) => number): number {
    return parents.reduce((sum, machine) => sum + this.poseOf(machine, clock(machine)).turn, 0);
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
    const { cos, sin } = direction(fixture.heading);
    const side = (fixture.swing.hinge === 'west' ? -1 : 1) * (fixture.size.x / 2);
    return { x: fixture.at.x + side * cos, y: fixture.at.y + side * sin };
  }

  shape({ base, parents }: Volume, clock = (one: Machine): number => one.clock): Shape {
    if (parents.length === 0) return base;
    const { x, y, z } = this.carry(parents, base, clock);
    const { cos, sin } = direction(this.turned(parents, clock));
    return { ...base, x, y, z, cos: base.cos * cos - base.sin * sin, sin: base.sin * cos + base.cos * sin };
  }

  isThere({ fixture, id }: Volume): boolean {
    return fixture?.kind !== 'door' || fixture.manner !== 'vanish' || this.machines.get(id)!.clock !== 1;
  }

  isSolid(volume: Volume): boolean {
    return this.solid.get(volume.id) === true && this.isThere(volume);
  }

  /** Everything in a room that holds and blocks, in listing order: solids, then solid fixtures. */
  blocks(room: string): { id: string; shape: Shape }[] {
    const solids = this.solids.filter((one) => one.room === room);
    const fixtures = this.volumes.filter((one) => one.room === room && this.isSolid(one));
    return [...solids, ...fixtures.map((one) => ({ id: one.id, shape: this.shape(one) }))];
  }

  under(room: string, body: Shape, lowest: number, highest: number): { id: string; top: number } | null {
    const tops = this.blocks(room)
      .filter(({ shape }) => overlaps({ ...body, z: shape.z, height: shape.height }, shape))
      .map(({ id, shape }) => ({ id, top: shape.z + shape.height }));
    const ground = this.level.rooms.find((one) => one.id === room)?.ground;
    if (ground !== undefined) tops.push({ id: '', top: ground });
    let best: { id: string; top: number } | null = null;
    for (const one of tops) {
      if (one.top > highest + GRAVITY_STEP || one.top < lowest - GRAVITY_STEP) continue;
      if (best === null || one.top > best.top + GRAVITY_STEP) best = one;
    }
    return best;
  }

  stop(room: string, body: Shape, by: Vector, over: number, start: Shape): { id: string; from: number } | null {
    let first: { id: string; from: number } | null = null;
    for (const { id, shape } of this.blocks(room)) {
      if (shape.z + shape.height <= over + GRAVITY_STEP) continue;
      const stretch = sweep(body, by.x, by.y, by.z, shape);
      if (stretch !== null && !overlaps(start, shape) && (first === null || stretch.from < first.from))
        first = { id, from: stretch.from };
    }
    return first;
  }

  /** The shortest way around the solids that are met on the way, or the straight line. */
  way(one: Person, to: Vector): Vector[] {
    const solids = this.level.solids.filter((solid) => solid.room === one.room);
    const blocks = solids.map((solid) => boxAt(solid.at, solid.size, solid.heading));
    const grid = new Grid();
    blocks.forEach((block, i) => grid.add(i, footprint(block)));
    const { ground, extents } = this.level.rooms.find((room) => room.id === one.room)!;
    const terrain = { blocks, grid, ground, step: this.level.stepHeight, extents };
    const body = this.bodyOf(one);
    const straight = walkLine(terrain, null, body, to.x, to.y);
    const known = new Set<number>();
    if (straight.blockedBy !== null) known.add(straight.blockedBy);
    else if (Math.abs(straight.z - to.z) <= this.level.stepHeight + GRAVITY_STEP) return [to];
    const lookAbout = (): boolean => {
      const before = known.size;
      const about = around(footprint(body, 4), footprint({ ...body, x: to.x, y: to.y }, 4));
      blocks.forEach((block, i) => meet(footprint(block), about) && known.add(i));
      return known.size > before;
    };
    if (straight.blockedBy === null) lookAbout();
    while (known.size <= 64) {
      const way = this.wayAround(terrain, known, body, to);
      if (way === null) {
        if (!lookAbout()) return [to];
        continue;
      }
      const before = known.size;
      let at = body;
      for (const point of way) {
        const { blockedBy, z } = walkLine(terrain, null, at, point.x, point.y);
        if (blockedBy !== null) known.add(blockedBy);
        at = { ...at, x: point.x, y: point.y, z };
      }
      if (known.size === before) return way;
    }
    return [to];
  }

  /** The shortest way around some solids, by looking at every way from corner to corner; null if there is none. */
  private wayAround(terrain: Terrain, known: Set<number>, body: Shape, to: Vector): Vector[] | null {
    const near = (z: number): boolean => Math.abs(z - to.z) <= this.level.stepHeight + GRAVITY_STEP;
    const spots = terrain.blocks.flatMap((block, i) => {
      if (!known.has(i)) return [];
      const half = (ux: number, uy: number): number =>
        body.form === BOX ? body.halfX * Math.abs(ux) + body.halfY * Math.abs(uy) : body.halfX;
      const grown = {
        ...block,
        halfX: block.halfX + half(block.cos, block.sin),
        halfY: block.halfY + half(-block.sin, block.cos),
      };
      const { west, south, east, north } = terrain.extents;
      const [wide, deep] = [half(1, 0) + 1e-6, half(0, 1) + 1e-6];
      return [...corners(grown, 0.01), [block.x, block.y] as const]
        .map(([x, y], j) => ({ x, y, corner: i * 5 + j }))
        .filter(({ x, y }) => x - wide >= west && x + wide <= east && y - deep >= south && y + deep <= north);
    });
    interface Walked {
      x: number;
      y: number;
      z: number;
      far: number;
      keys: number[];
      points: Vector[];
      settled: boolean;
    }
    const better = (a: Walked, b: Walked): boolean => {
      if (Math.abs(a.far - b.far) > 1e-6) return a.far < b.far;
      if (a.keys.length !== b.keys.length) return a.keys.length < b.keys.length;
      const i = a.keys.findIndex((key, k) => key !== b.keys[k]);
      return i >= 0 && a.keys[i]! < b.keys[i]!;
    };
    const all: Walked[] = [{ x: body.x, y: body.y, z: body.z, far: 0, keys: [], points: [], settled: false }];
    let goal: Walked | null = null;
    for (;;) {
      let next: Walked | null = null;
      for (const walked of all) if (!walked.settled && (next === null || better(walked, next))) next = walked;
      if (next === null || (goal !== null && better(goal, next))) return goal?.points ?? null;
      next.settled = true;
      const from = { ...body, x: next.x, y: next.y, z: next.z };
      const end = walkLine(terrain, [...known], from, to.x, to.y);
      if (end.blockedBy === null && near(end.z)) {
        const far = next.far + Math.sqrt((to.x - next.x) ** 2 + (to.y - next.y) ** 2);
        const there = { ...next, far, keys: [...next.keys, Infinity], points: [...next.points, to] };
        if (goal === null || better(there, goal)) goal = there;
      }
      for (const { x, y, corner } of spots) {
        const { blockedBy, z } = walkLine(terrain, [...known], from, x, y);
        if (blockedBy !== null) continue;
        const far = next.far + Math.sqrt((x - next.x) ** 2 + (y - next.y) ** 2);
        const reached: Walked = {
          x,
          y,
          z,
          far,
          keys: [...next.keys, corner],
          points: [...next.points, { x, y, z }],
          settled: false,
        };
        const rival = all.find((other) => other.keys.at(-1) === corner && Math.round(other.z * 1e6) === Math.round(z * 1e6));
        if (rival === undefined) all.push(reached);
        else if (!rival.settled && better(reached, rival)) Object.assign(rival, reached);
      }
    }
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
      const { cos, sin } = direction(place.axes === 'own' ? base.heading : 0);
      at = { x: base.at.x + at.x * cos - at.y * sin, y: base.at.y + at.x * sin + at.y * cos, z: base.at.z + at.z };
    }
    if (place.height === 'ground') {
      const point: Shape = { form: 1, x: at.x, y: at.y, z: 0, halfX: 1e-6, halfY: 1e-6, height: 1, cos: 1, sin: 0 };
      const below = this.under(room, point, -Infinity, base?.at.z ?? Infinity);
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
