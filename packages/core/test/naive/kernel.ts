import { Conditions } from '../../src/index';
import type { Details, Entry } from './world';
import type { HouseRules, Level, Vector, Walk } from '../../src/index';
import { lookup } from '../../src/document/lookup';
import { TOUCH, distance, meetingSpan, meets, put, told } from './geometry';
import type { Solid } from './geometry';
import { Chains } from './chains';
import { TooMuch } from './world';
import type { Person, Then, Volume, Written } from './world';

/** The ledger of a rehearsal by the second kernel. */
export function naiveRehearsal(
  level: Level,
  walk: Walk,
  { rules = {}, seed = 0 }: { rules?: Partial<HouseRules>; seed?: number } = {},
): Entry[] {
  return new Naive(level, walk, rules, seed).run();
}

interface Met {
  volume: Volume;
  one: Person;
  event: Written & { cause: number | null };
}

class Naive extends Chains {
  private watched: boolean[] = [];

  conditionsOf(): Conditions {
    const machine = (id: string) => this.machines.get(id)!;
    return new Conditions(lookup(this.level), (asked, [a = '', b = '']) => {
      switch (asked) {
        case 'flag':
        case 'counter':
        case 'text':
          return this.fact(a, this.hand);
        case 'flagOf':
        case 'counterOf':
        case 'textOf':
          return this.fact(a, b);
        case 'on':
          return this.switches.get(a)!.on;
        case 'pressed':
          return this.pressed.get(a)!;
        case 'load':
          return this.load(a);
        case 'open':
          return machine(a).going === null && machine(a).clock === 1;
        case 'closed':
          return machine(a).going === null && machine(a).clock === 0;
        case 'stop':
          return machine(a).going === null && Number.isInteger(machine(a).clock) ? machine(a).clock + 1 : 0;
        case 'moving':
          return machine(a).going !== null;
        case 'shown':
          return this.shown.get(a)!;
        case 'seeThrough':
          return this.seeThrough.get(a)!;
        case 'solid':
          return this.isSolid(this.volumes.find((one) => one.id === a)!);
        case 'enabled':
          return this.enabled.get(a) ?? !this.chainOff.has(a);
        case 'collected':
          return this.collected.has(a);
        case 'owner':
          return this.owners.get(a) ?? '';
        case 'inside':
          return this.inside.has(`${b} ${a}`);
        case 'count':
          return this.people.filter((one) => this.inside.has(`${a} ${one.visitor.id}`)).length;
        case 'heading':
          return told(this.person(a)?.heading ?? 0);
        case 'inPlay':
          return this.person(a)?.inPlay ?? false;
        case 'room':
          return this.person(a)?.inPlay ? this.person(a)!.room : '';
        case 'carrier':
          return this.person(a)?.carrier?.visitor.id ?? '';
        case 'held':
          return this.person(a)?.held ?? false;
        case 'running':
          return this.runs.some((run) => run.chain.id === a);
        case 'hand':
          return this.hand ?? '';
        case 'tagged':
          return this.withTag(a).map(({ id }) => id);
        case 'visitors':
          return this.people.filter((one) => this.inside.has(`${a} ${one.visitor.id}`)).map((one) => one.visitor.id);
        case 'players':
          return this.inPlayOf('player');
        case 'creatures':
          return this.inPlayOf('creature');
        case 'props':
          return this.inPlayOf('prop');
        case 'hasTag':
          return this.withTag(b).some(({ id }) => id === a);
        case 'kind':
          return this.person(a)?.visitor.kind ?? '';
      }
    });
  }

  private withTag(tag: string): { id: string }[] {
    const { zones, fixtures, visitors } = this.level;
    return [...zones, ...fixtures, ...visitors].filter((one) => one.tags.includes(tag));
  }

  private inPlayOf(kind: string): string[] {
    return this.people.filter((one) => one.inPlay && one.visitor.kind === kind).map((one) => one.visitor.id);
  }

  run(): Entry[] {
    let why = this.ranAway(() => this.tickZero());
    while (why === null) {
      this.tick += 1;
      why = this.ranAway(() => this.phases()) ?? this.over();
    }
    this.write({ kind: 'end', details: why });
    return this.entries;
  }

  private ranAway(phases: () => void): Details | null {
    this.jobs = 0;
    try {
      phases();
      return null;
    } catch (error) {
      if (!(error instanceof TooMuch)) throw error;
      this.write({ kind: 'runaway' });
      return { reason: 'runaway' };
    }
  }

  private tickZero(): void {
    const start = this.write({ kind: 'start', what: this.walk.id });
    for (const one of this.people) if (one.inPlay) this.settle(one);
    for (const one of this.people) one.sensed = one.at;
    this.watched = this.level.watches.map(
      (watch) => !watch.fromStart && watch.when.trim() !== '' && this.holds(watch.when, null).holds,
    );
    for (const machine of this.machines.values())
      if (machine.fixture.kind === 'mover' && machine.fixture.running) this.send(machine, machine.frames.length - 1, start, null);
    this.noticeRiders();
    this.sense(this.people);
    this.drainAndWatch();
  }

  private phases(): void {
    this.strode = false;
    const due = this.later.filter((one) => one.tick === this.tick);
    this.later = this.later.filter((one) => one.tick !== this.tick);
    this.queue.push(...due.map((one) => one.job));
    this.drainAndWatch();
    this.moveMachines();
    this.movePeople();
    this.noticeRiders();
    this.sense(this.people);
    this.drainAndWatch();
  }

  private drainAndWatch(): void {
    do this.drain();
    while (this.watch());
  }

  private drain(): void {
    for (let job = this.queue.shift(); job !== undefined; job = this.queue.shift()) {
      this.count();
      job();
      if (this.rules.watches === 'at-once') this.watch();
    }
  }

  watch(): boolean {
    let changed = false;
    this.level.watches.forEach((watch, i) => {
      const now = watch.when.trim() !== '' && this.holds(watch.when, null).holds;
      if (now === this.watched[i]) return;
      this.watched[i] = now;
      changed = true;
      this.raise({ kind: now ? 'became-true' : 'became-false', what: watch.id });
    });
    for (const until of this.untils) {
      if (until.seen || !this.holds(until.text, until.run.hand).holds) continue;
      until.seen = true;
      changed = true;
      this.queue.push(() => {
        if (!this.untils.includes(until)) return;
        until.seen = false;
        if (this.holds(until.text, until.run.hand).holds) until.finish();
      });
    }
    return changed;
  }

  private over(): Details | null {
    const late = this.tick >= this.ticks(this.walk.atMost) ? { reason: 'time is up' } : null;
    if (this.later.some((one) => one.live?.() ?? true) || [...this.machines.values()].some((one) => one.going !== null))
      return late;
    if (this.people.some((one) => one.jumped)) return late;
    const here = this.people.filter((one) => one.inPlay);
    if (here.some((one) => one.flight !== null || one.push !== null)) return late;
    const busy = here.filter((one) => one.forced !== null || one.todo.length > 0);
    if (busy.length === 0) return { reason: 'settled' };
    const stuck = busy.every(
      (one) =>
        one.carrier !== null ||
        (one.forced === null && one.held) ||
        (one.forced === null ? one.leg : one.forced.leg)?.blocked === true,
    );
    if (busy.length > 0 && this.strode) return late;
    return stuck ? { reason: 'stuck', who: busy.map((one) => one.visitor.id) } : late;
  }

  // Sense

  senseOnly(people: Person[]): void {
    this.sense(people);
  }

  private sense(people: Person[]): void {
    const leaves: Met[] = [];
    const enters: Met[] = [];
    const crossed: Met[] = [];
    for (const one of people) {
      for (const volume of this.volumes) {
        const met = this.compare(one, volume);
        if (met !== null) ({ leave: leaves, enter: enters, missed: crossed })[met].push(this.met(met, one, volume));
      }
    }
    const quiet = this.tick === 0 && people === this.people && this.rules.startsInside === 'quiet';
    const leave = (): void =>
      this.ordered(leaves).forEach(({ volume, one, event }) => {
        this.inside.delete(`${volume.id} ${one.visitor.id}`);
        this.raise(event, this.thenPulled(volume.id, one));
      });
    if (this.rules.sameTick === 'leaves-first') leave();
    for (const { volume, one, event } of this.ordered(enters)) {
      this.beInside(volume.id, one);
      if (quiet) this.sayInside(volume.id, one, 1);
      else this.raise(event, this.thenEntered(volume.id, one));
    }
    if (this.rules.sameTick === 'enters-first') leave();
    for (const { volume, one, event } of this.ordered(crossed)) {
      if (!volume.swept) {
        this.raise(event);
        continue;
      }
      this.raise({ ...event, kind: 'enter', details: { swept: true } }, this.thenEntered(volume.id, one));
      this.raise({ ...event, kind: 'leave', details: { swept: true } }, this.thenPulled(volume.id, one));
    }
    this.ordered(people.flatMap((one) => this.bumps(one))).forEach(({ event }) => this.raise(event));
    this.weigh(leaves, quiet ? [] : enters);
    for (const one of people) {
      one.sensed = one.at;
      one.jumped = false;
      one.putBy = null;
      one.carriedBy = null;
      one.rides = [];
      one.wish = null;
    }
    if (people === this.people) for (const machine of this.machines.values()) machine.sensed = machine.clock;
  }

  private thenEntered(id: string, one: Person): Then {
    return (number, held) => {
      if (!held) this.entered(id, one, number);
    };
  }

  private thenPulled(id: string, one: Person): Then {
    return (number, held) => {
      if (!held) this.pulled(id, one, number, false);
    };
  }

  private compare(one: Person, volume: Volume): 'enter' | 'leave' | 'missed' | null {
    const was = this.inside.has(`${volume.id} ${one.visitor.id}`);
    const there = one.inPlay && volume.room === one.room && this.isPassableFor(volume, one) && this.isThere(volume);
    const shape = this.shape(volume);
    if (there && meets(this.bodyOf(one), shape)) return was ? null : 'enter';
    if (was) return 'leave';
    if (!there) return null;
    const earlier = this.shape(volume, (machine) => machine.sensed);
    const by = this.apart(one.at, one.sensed, shape, earlier);
    if (by.x === 0 && by.y === 0 && by.z === 0) return null;
    return meetingSpan(put(this.bodyOf(one), one.sensed), by, earlier) === null ? null : 'missed';
  }

  /** How far something has moved beside a shape that has moved too. */
  private apart(now: Vector, before: Vector, shape: Solid, earlier: Solid): Vector {
    return {
      x: now.x - before.x - (shape.at.x - earlier.at.x),
      y: now.y - before.y - (shape.at.y - earlier.at.y),
      z: now.z - before.z - (shape.at.z - earlier.at.z),
    };
  }

  private met(kind: Written['kind'], one: Person, volume: Volume): Met {
    const mover = volume.parents.find((machine) => this.hasMoved(machine));
    const cause = one.putBy ?? (mover === undefined ? one.carriedBy : mover.last);
    return { volume, one, event: { kind, who: one.visitor.id, what: volume.id, cause } };
  }

  private ordered(met: Met[]): Met[] {
    const far = ({ volume, one }: Met): number => {
      const shape = this.shape(volume);
      const dx = one.at.x - shape.at.x;
      const dy = one.at.y - shape.at.y;
      const dz = one.at.z + this.height(one) / 2 - (shape.at.z + shape.height / 2);
      return Math.round(Math.sqrt(dx * dx + dy * dy + dz * dz) * 1e9) / 1e9;
    };
    const zones = (a: Met, b: Met): number => a.volume.order - b.volume.order;
    const visitors = (a: Met, b: Met): number => this.people.indexOf(a.one) - this.people.indexOf(b.one);
    return met.sort((a, b) => {
      if (this.rules.pairs === 'visitor-then-zone') return visitors(a, b) || zones(a, b);
      if (this.rules.pairs === 'nearest-first') return far(a) - far(b) || zones(a, b) || visitors(a, b);
      return zones(a, b) || visitors(a, b);
    });
  }

  private stays = 0;

  beInside(id: string, one: Person): void {
    const stay = (this.stays += 1);
    const key = `${id} ${one.visitor.id}`;
    this.inside.set(key, stay);
    const { dwell } = this.volumes.find((own) => own.id === id)!;
    if (dwell === null) return;
    const stays = (): boolean => this.inside.get(key) === stay;
    const dwells = (): void => this.happen({ kind: 'dwell', who: one.visitor.id, what: id }, () => undefined);
    this.in(dwell, () => stays() && dwells(), stays);
  }

  private bumps(one: Person): Met[] {
    if (!one.inPlay || one.carrier !== null || one.jumped) {
      one.bumping.clear();
      return [];
    }
    return this.volumes.flatMap((volume) => {
      const canBump = volume.fixture !== null && volume.room === one.room && this.isSolidFor(volume, one);
      const shape = canBump ? this.shape(volume) : null;
      const body = this.bodyOf(one);
      if (shape === null || distance(body, shape) > 0.01 + 1e-9) {
        one.bumping.delete(volume.id);
        return [];
      }
      if (one.bumping.has(volume.id)) return [];
      if (shape.at.z + shape.height <= one.at.z + this.level.stepHeight + TOUCH) return [];
      const none = { x: 0, y: 0, z: 0 };
      let by = one.wish ?? none;
      if (!one.rides.some((ride) => volume.parents.includes(ride.machine))) {
        for (const ride of one.rides) by = { x: by.x + ride.by.x, y: by.y + ride.by.y, z: by.z + ride.by.z };
        by = this.apart(
          by,
          none,
          shape,
          this.shape(volume, (machine) => machine.sensed),
        );
      }
      if (!this.towards(body, by, shape)) return [];
      one.bumping.add(volume.id);
      return [this.met('bump', one, volume)];
    });
  }

  private load(id: string): number {
    const plate = this.level.fixtures.find((one) => one.id === id)!;
    const on = this.people.filter((one) => this.inside.has(`${id} ${one.visitor.id}`));
    if (plate.kind === 'plate' && plate.by === 'heads') return on.length;
    let load = 0;
    for (const one of this.people) if (on.includes(one.carrier ?? one)) load += one.visitor.mass;
    return load;
  }

  private weigh(leaves: Met[], enters: Met[]): void {
    for (const plate of this.level.fixtures) {
      if (plate.kind !== 'plate') continue;
      const on = this.people.filter((one) => this.inside.has(`${plate.id} ${one.visitor.id}`));
      const load = this.load(plate.id);
      const pressed = on.length > 0 && load >= plate.threshold - 1e-9;
      if (pressed === this.pressed.get(plate.id)) continue;
      this.pressed.set(plate.id, pressed);
      const came = (pressed ? enters : leaves).filter(({ volume }) => volume.id === plate.id).at(-1);
      // Whoever was put here since plates were weighed, and is here still, had come before those who enter now.
      const putHere = this.arrivals.filter(({ volume, one }) => pressed && volume === plate.id && on.includes(one)).at(-1);
      const last = came?.one ?? putHere?.one ?? on.at(-1);
      const cause = came === undefined ? (putHere?.cause ?? null) : came.event.cause;
      const details = { load, threshold: plate.threshold };
      this.raise({ kind: pressed ? 'press' : 'release', who: last?.visitor.id ?? null, what: plate.id, cause, details });
    }
    this.arrivals = [];
  }

  // What fixtures do by themselves

  entered(id: string, one: Person, number: number): void {
    const fixture = this.level.fixtures.find((own) => own.id === id);
    this.pulled(id, one, number, true);
    if (fixture?.kind === 'collectible' && fixture.takenBy.includes(one.visitor.kind)) this.collect(id, number, one.visitor.id);
    if ((fixture?.kind === 'teleporter' || fixture?.kind === 'warp') && fixture.takes === 'who-enters')
      this.take(fixture, one, 'enter', number);
  }

  /** A bell-pull is on while anybody who pulls it is inside of it: asked when an enter or a leave of it was heard. */
  private pulled(id: string, one: Person, number: number, entered: boolean): void {
    const rope = this.level.fixtures.find((own) => own.id === id);
    if (rope?.kind !== 'bell-pull') return;
    const pulls = this.people.some(
      ({ visitor }) =>
        visitor.raisesOverlaps &&
        (rope.pulledBy.length === 0 || rope.pulledBy.includes(visitor.kind)) &&
        this.inside.has(`${id} ${visitor.id}`),
    );
    const own = this.switches.get(id)!;
    // An enter turns it on, a leave off.
    if (own.on === pulls || pulls !== entered) return;
    own.on = pulls;
    own.ticket += 1;
    this.emit({ kind: pulls ? 'on' : 'off', who: one.visitor.id, what: id, cause: number });
  }

  private take(
    fixture: Extract<Level['fixtures'][number], { kind: 'teleporter' | 'warp' }>,
    one: Person,
    event: string,
    number: number,
  ): void {
    const { id, before, after } = fixture;
    const who = one.visitor.id;
    const hold = (why: Details): void =>
      void this.write({ kind: 'held', who, what: id, cause: number, details: { event, ...why } });
    const shut = this.filtered(fixture.filter, one, id);
    if (shut !== null) return hold(shut);
    const taken = `${id} ${who}`;
    const pausing = fixture.cooldownFor === 'all' ? id : taken;
    const left = (this.took.get(pausing) ?? -Infinity) + this.ticks(fixture.cooldown) - this.tick;
    if (left > 0) return hold({ reason: 'cooling', ticks: left, seconds: Math.round((left / this.level.rate) * 1e6) / 1e6 });
    if (this.taking.has(taken)) return;
    if (!one.inPlay || one.carrier !== null)
      return hold({ reason: 'impossible', problem: one.inPlay ? 'carried' : 'not in play' });
    this.took.set(pausing, this.tick);
    const control = (held: boolean): void => {
      if (one.held === held) return;
      one.held = held;
      this.emit({ kind: 'changed', who, what: who, cause: number, details: { field: 'held', from: !held, to: held } });
    };
    const play = (cue: string): void => {
      const found = this.level.fixtures.find((own) => own.id === cue);
      if (found?.kind !== 'cue') return;
      const { medium, speaker, line } = found;
      const ticks = this.ticks(found.seconds);
      const spoken: Details = medium === 'speech' ? { ...(speaker === '' ? {} : { speaker }), line } : {};
      this.emit({ kind: 'cue-started', who, what: cue, cause: number, details: { medium, ticks, ...spoken } });
      this.in(ticks, () => this.happen({ kind: 'cue-finished', who, what: cue, cause: number }, () => undefined));
    };
    const holds = before.holds && !one.held;
    if (holds) control(true);
    play(before.cue);
    const go = (waited: boolean): void => {
      this.taking.delete(taken);
      if (waited && one.forced?.cause === number) {
        this.queue.push(...one.forced.waiting.map((waiting) => waiting.finish));
        one.forced = null;
      }
      const gone = waited && event === 'enter' && !this.inside.has(taken);
      const to = fixture.twin === '' ? fixture.to : { ...fixture.to, of: fixture.twin };
      const problem = gone ? 'left before' : this.travel(one, { ...fixture, to }, fixture.kind === 'warp', number, who);
      if (problem !== null) hold({ reason: 'impossible', problem });
      else play(after.cue);
      if (problem !== null && !waited) this.took.delete(pausing);
      if (!holds) return;
      const wait = problem === null ? this.ticks(after.seconds) : 0;
      if (wait === 0) control(false);
      else this.in(wait, () => control(false));
    };
    const ticks = this.ticks(before.seconds);
    if (ticks === 0) return go(false);
    this.taking.add(taken);
    if (before.drifts) {
      const { at } = this.stand(id)!;
      const far = Math.sqrt((at.x - one.at.x) ** 2 + (at.y - one.at.y) ** 2);
      if (far > 0) this.walkThere(one, at, (far / Math.max(1, ticks - 1)) * this.level.rate, number);
    }
    this.in(ticks, () => go(true));
  }

  /** Walks somebody to where a passage stands. */
  private walkThere(one: Person, at: Vector, speed: number, cause: number): void {
    this.queue.push(...(one.forced?.waiting ?? []).map((waiting) => waiting.finish));
    one.forced = null;
    one.leg = null;
    const to = { ...at, room: one.room, of: '', axes: 'room', height: 'datum' } as const;
    const leg = this.legTo(one, to, speed);
    if (leg !== null) one.forced = { to: leg.points.at(-1)!, speed, leg, hand: one.visitor.id, cause, waiting: [] };
  }

  used(id: string, by: Person, number: number): void {
    const fixture = this.level.fixtures.find((own) => own.id === id)!;
    if ((fixture.kind === 'teleporter' || fixture.kind === 'warp') && fixture.takes === 'who-uses')
      this.take(fixture, by, 'use', number);
    if (fixture.kind !== 'switch') return;
    const own = this.switches.get(id)!;
    const who = by.visitor.id;
    const putOn = (on: boolean): void => {
      const now = this.switches.get(id)!;
      if (now.on === on) return;
      now.on = on;
      this.emit({ kind: on ? 'on' : 'off', who, what: id, cause: number });
    };
    if (fixture.works === 'once' && own.uses > 0) {
      const details = { event: 'use', reason: 'used-up', limit: 1, used: own.uses };
      this.write({ kind: 'held', who, what: id, cause: number, details });
      return;
    }
    own.uses += 1;
    const ticket = (own.ticket += 1);
    if (fixture.works !== 'momentary') return putOn(!own.on);
    if (own.on === fixture.on) putOn(!own.on);
    const due = (): boolean => this.switches.get(id)!.ticket === ticket;
    this.in(this.ticks(fixture.springsBackAfter), () => due() && putOn(fixture.on), due);
  }
}
