import type { Instruction, Place, Vector } from '../../src/index';
import type { Details } from './world';
import { distance, headingTowards, isOver, meetingSpan, meets, put, rotated, unit } from './geometry';
import type { Solid } from './geometry';
import { World } from './world';
import type { Going, Leg, Machine, Person, Volume, Waiting } from './world';

/** Whether a body's feet are on top of a shape: of what was put elsewhere at once nobody is a rider. */
function isOn(body: Solid, shape: Solid): boolean {
  return Math.abs(shape.at.z + shape.height - body.at.z) < 1e-6 && isOver(body, shape);
}

/** How far a body that has moved pushes: along, and up, but nobody into the ground. */
function shift(now: Solid, old: Solid): Vector {
  return { x: now.at.x - old.at.x, y: now.at.y - old.at.y, z: Math.max(0, now.at.z - old.at.z) };
}

/** The turn between two poses of the same box; of what is round by the degrees that it has been turned. */
function turnOf(a: Solid, b: Solid, degrees: number): { cos: number; sin: number } {
  if (a.outline === null || b.outline === null) return unit(degrees);
  const [p, q] = [a.outline[0]!, b.outline[0]!];
  if (p.x === q.x && p.y === q.y) return { cos: 1, sin: 0 };
  const square = p.x * p.x + p.y * p.y;
  return { cos: (p.x * q.x + p.y * q.y) / square, sin: (p.x * q.y - p.y * q.x) / square };
}

/** What moves: machines with what is attached to them and who stands on them, and visitors by every means. */
export abstract class Moves extends World {
  // Machines

  clockAt(machine: Machine, going: Going, tick: number): number {
    const clock = this.exactClock(machine, going, tick);
    const whole = Number(clock.toFixed(0));
    return Math.abs(clock - whole) < 1e-9 ? whole : clock;
  }

  private exactClock(machine: Machine, going: Going, tick: number): number {
    const e = tick - going.begun;
    if (e >= going.ticks) return going.to;
    if (e <= 0) return going.from;
    if (machine.spans.length === 1) return going.from + ((going.to - going.from) * e) / going.ticks;
    let left = (this.time(machine, going.from, going.to) * e) / going.ticks;
    const up = going.to > going.from;
    for (let at = going.from; at !== going.to;) {
      const to = up ? Math.min(going.to, Math.floor(at) + 1) : Math.max(going.to, Math.ceil(at) - 1);
      const span = this.time(machine, at, to);
      if (left < span) return at + ((to - at) * left) / span;
      left -= span;
      at = to;
    }
    return going.to;
  }

  /** The time between two positions, in ticks and parts of ticks. */
  private time({ spans }: Machine, from: number, to: number): number {
    const [low, high] = [Math.min(from, to), Math.max(from, to)];
    let sum = 0;
    spans.forEach((span, i) => (sum += Math.max(0, Math.min(high, i + 1) - Math.max(low, i)) * span));
    return sum;
  }

  private position({ fixture }: Machine, at: number): string {
    if (fixture.kind === 'door') return at === 1 ? 'open' : 'closed';
    return fixture.kind === 'elevator' ? `stop ${at + 1}` : `keyframe ${at}`;
  }

  /** Sends a machine somewhere: whether it moves, and what ended because it was turned back. `raise` raises its motion. */
  send(
    machine: Machine,
    to: number,
    cause: number | null,
    hand: string | null,
    raise = this.raise.bind(this),
    waits: (going: Going) => void = () => undefined,
  ): { moves: boolean; ended: Waiting[] } {
    if (machine.going?.to === to) {
      waits(machine.going);
      return { moves: true, ended: [] };
    }
    if (machine.going === null && machine.clock === to) {
      this.return(machine, cause, hand);
      return { moves: false, ended: [] };
    }
    const before = machine.going;
    if (before !== null) machine.clock = this.clockAt(machine, before, this.tick);
    const ticks = Math.ceil(this.time(machine, machine.clock, to) - 1e-6);
    const delay = before === null ? this.ticks(machine.fixture.startDelay) : 0;
    const going: Going = {
      from: machine.clock,
      to,
      begun: this.tick + delay,
      ticks,
      entry: null,
      hand,
      waiting: [],
      stopped: false,
    };
    machine.going = going;
    waits(going);
    machine.ticket += 1;
    if (ticks + delay === 0) machine.clock = to;
    const ended = before?.waiting ?? [];
    const turned: Details = before === null ? {} : { turnedBack: true, endsSteps: ended.map((one) => one.entry) };
    const details = { to: this.position(machine, to), ticks: ticks + delay, ...turned };
    raise({ kind: 'moving', who: hand, what: machine.fixture.id, cause, details }, (number) => {
      going.entry = number;
      machine.last = number;
      if (machine.going === going && ticks === 0 && going.begun <= this.tick) this.arrive(machine, going);
    });
    return { moves: true, ended };
  }

  /** Puts a machine somewhere at once; gives what waited for its motion. */
  put(machine: Machine, clock: number): Waiting[] {
    const ended = machine.going?.waiting ?? [];
    machine.going = null;
    machine.ticket += 1;
    machine.clock = clock;
    return ended;
  }

  private arrive(machine: Machine, going: Going): void {
    machine.going = null;
    const { fixture, frames } = machine;
    const door = fixture.kind === 'door';
    const details: Details = door ? {} : { at: this.position(machine, going.to) };
    const kind = !door ? 'arrived' : going.to === 1 ? 'opened' : 'closed';
    this.raise({ kind, who: going.hand, what: fixture.id, cause: going.entry, details }, (number) => {
      const last = frames.length - 1;
      if (
        fixture.kind === 'mover' &&
        machine.going === null &&
        fixture.atEnd === 'to-and-fro' &&
        (going.to === last || going.to === 0)
      ) {
        this.send(machine, going.to === last ? 0 : last, number, going.hand);
      } else if (fixture.kind === 'mover' && machine.going === null && fixture.atEnd === 'again' && going.to === last) {
        this.put(machine, 0);
        this.send(machine, last, number, going.hand);
      } else {
        this.return(machine, number, going.hand);
      }
      going.waiting.forEach((one) => one.finish());
    });
  }

  private return(machine: Machine, cause: number | null, hand: string | null): void {
    const { returnAfter } = machine.fixture;
    if (returnAfter === null || machine.going !== null || machine.clock === machine.starts) return;
    machine.ticket += 1;
    const { ticket } = machine;
    this.in(this.ticks(returnAfter), this.returning(machine, ticket, cause, hand), () => machine.ticket === ticket);
  }

  returning(
    machine: Machine,
    ticket: number,
    cause: number | null,
    hand: string | null,
    goOn = (ended: Waiting): unknown => ended.finish(),
  ): () => void {
    return () => {
      if (machine.ticket !== ticket) return;
      if (machine.fixture.returnWhen === 'empty' && !this.isEmpty(machine)) {
        this.in(1, this.returning(machine, ticket, cause, hand), () => machine.ticket === ticket);
        return;
      }
      this.send(machine, machine.starts, cause, hand).ended.forEach(goOn);
    };
  }

  private isEmpty(machine: Machine): boolean {
    const { id, room } = machine.fixture;
    const home = this.shape(
      this.volumes.find((one) => one.id === id)!,
      (one) => (one === machine ? one.starts : one.clock),
    );
    const group = this.groupOf(machine).map((one) => one.id);
    return this.people.every(
      (one) => !one.inPlay || (!group.includes(one.support ?? '-') && !(one.room === room && meets(this.bodyOf(one), home))),
    );
  }

  private groupOf(machine: Machine): Volume[] {
    const group = this.volumes.filter((one) => one.parents.includes(machine));
    const own = group.find((one) => one.id === machine.fixture.id)!;
    return [own, ...group.filter((one) => one !== own)];
  }

  moveMachines(): void {
    for (const machine of this.machines.values()) if (machine.going !== null) this.moveMachine(machine, machine.going);
  }

  private moveMachine(machine: Machine, going: Going): void {
    const clock = this.clockAt(machine, going, this.tick);
    const before = machine.clock;
    if (clock !== before) {
      const group = this.groupOf(machine);
      const old = group.map((one) => this.shape(one));
      machine.clock = clock;
      const meets = this.carryOrMeet(machine, group, old, before, going);
      if (meets !== null) {
        machine.clock = before;
        this.stopMachine(machine, going, meets);
        return;
      }
    }
    going.stopped = false;
    if (this.tick >= going.begun + going.ticks) this.arrive(machine, going);
  }

  private stopMachine(machine: Machine, going: Going, by: Person): void {
    if (!going.stopped)
      this.raise({
        kind: 'blocked',
        who: going.hand,
        what: machine.fixture.id,
        cause: going.entry,
        details: { by: by.visitor.id },
      });
    going.stopped = true;
    going.begun += 1;
    if (machine.fixture.inTheWay !== 'reverse' || going.entry === null) return;
    const back = Number.isInteger(going.from)
      ? going.from
      : going.to > going.from
        ? Math.floor(going.from)
        : Math.ceil(going.from);
    const { ended } = this.send(machine, back, going.entry, going.hand);
    this.queue.push(...ended.map((one) => one.finish));
  }

  private carryOrMeet(machine: Machine, group: Volume[], old: Solid[], from: number, going: Going): Person | null {
    const now = group.map((one) => this.shape(one));
    const there = this.people.filter((one) => one.inPlay && one.carrier === null);
    const rides = (one: Person): number =>
      one.flight !== null
        ? -1
        : group.findIndex(
            (volume, at) => this.isSolidFor(volume, one) && volume.id === one.support && isOn(this.bodyOf(one), old[at]!),
          );
    const pushed: { one: Person; i: number }[] = [];
    for (const one of there) {
      if (rides(one) >= 0) continue;
      const body = this.bodyOf(one);
      const i = group.findIndex(
        (volume, at) =>
          this.isSolidFor(volume, one) && volume.room === one.room && meets(body, now[at]!) && !meets(body, old[at]!),
      );
      if (i < 0) continue;
      const by = shift(now[i]!, old[i]!);
      const away = put(body, { x: one.at.x + by.x, y: one.at.y + by.y, z: one.at.z + by.z });
      const free = !meets(away, now[i]!) && this.stop(one, body, by, one.at.z, body) === null;
      if (machine.fixture.inTheWay !== 'push' || !free) return one;
      pushed.push({ one, i });
    }
    for (const { one, i } of pushed) {
      const by = shift(now[i]!, old[i]!);
      this.place(one, { x: one.at.x + by.x, y: one.at.y + by.y, z: one.at.z + by.z });
      this.carryAll(one, going.entry);
      this.anew(one);
    }
    for (const one of there) {
      const i = rides(one);
      if (i < 0) continue;
      const [a, b] = [old[i]!, now[i]!];
      const { parents } = group[i]!;
      const before = (one: Machine): number => (one === machine ? from : one.clock);
      const turn = turnOf(a, b, this.turned(parents, (one) => one.clock) - this.turned(parents, before));
      // A clock may run while its machine stays where it is.
      if (a.at.x === b.at.x && a.at.y === b.at.y && a.at.z === b.at.z && turn.cos === 1 && turn.sin === 0) continue;
      const { x, y, z } = one.at;
      const turned = rotated({ x: x - a.at.x, y: y - a.at.y }, turn);
      const to = { x: b.at.x + turned.x, y: b.at.y + turned.y, z: z + (b.at.z - a.at.z) };
      this.place(one, to);
      this.carryAll(one, going.entry);
      one.rides.push({ machine, by: { x: to.x - x, y: to.y - y, z: to.z - z } });
      for (const leg of [one.leg, one.forced?.leg ?? null]) {
        if (leg === null) continue;
        const shift = (p: Vector): Vector => ({ x: p.x + (to.x - x), y: p.y + (to.y - y), z: p.z + (to.z - z) });
        leg.from = shift(leg.from);
        leg.points[0] = shift(leg.points[0]!);
      }
    }
    return null;
  }

  /** A motion or a push has moved somebody, and what it carries. */
  carryAll(one: Person, number: number | null): void {
    one.carriedBy = number;
    this.carries(one).forEach((carried) => this.carryAll(carried, number));
  }

  /** Somebody was put where it is, with what it carries: what it crosses until the next Sense, it crosses from there. */
  jump(one: Person): void {
    one.jumped = true;
    one.sensed = one.at;
    this.carries(one).forEach((carried) => this.jump(carried));
  }

  /** Elevators that were left go back, if they do. */
  noticeRiders(): void {
    for (const machine of this.machines.values()) {
      if (machine.fixture.kind !== 'elevator' || machine.fixture.whenLeft !== 'return') continue;
      const riders = this.people.filter((one) => one.inPlay && one.support === machine.fixture.id).length;
      if (machine.riders > 0 && riders === 0 && (machine.going !== null || machine.clock !== machine.starts)) {
        machine.ticket += 1;
        this.returning(machine, machine.ticket, machine.last, null, (ended) => this.queue.push(ended.finish))();
      }
      machine.riders = riders;
    }
  }

  // Visitors

  /** Whether one that blocks was moved in this tick, though it may be back. */
  strode = false;

  place(one: Person, at: Vector): void {
    const far = Math.abs(one.at.x - at.x) + Math.abs(one.at.y - at.y) + Math.abs(one.at.z - at.z);
    if (one.visitor.blocks && far > 1e-9) this.strode = true;
    one.at = at;
    for (const carried of this.carries(one)) {
      carried.room = one.room;
      this.place(carried, { ...at, z: at.z + this.height(one) / 2 });
    }
  }

  settle(one: Person): void {
    const { stepHeight } = this.level;
    const under = this.under(one.room, one, this.bodyOf(one), one.at.z - stepHeight, one.at.z + stepHeight);
    one.support = under?.id ?? null;
    if (under === null) one.flight ??= this.fall(one);
    else if (under.top !== one.at.z) this.place(one, { ...one.at, z: under.top });
  }

  fall(one: Person): NonNullable<Person['flight']> {
    return { from: one.at, velocity: { x: 0, y: 0, z: 0 }, begun: this.tick, by: null, cause: null, push: null };
  }

  movePeople(): void {
    for (const one of this.people) {
      if (!one.inPlay || one.carrier !== null) continue;
      if (one.flight !== null) this.fly(one, one.flight);
      else if (one.push !== null) this.bePushed(one, one.push);
      else if (one.forced !== null) this.goForced(one, one.forced);
      else if (one.held || !this.goOn(one)) this.settle(one);
    }
  }

  private step(one: Person, x: number, y: number): string | null {
    const { stepHeight } = this.level;
    const { at } = one;
    const by = { x: x - at.x, y: y - at.y, z: 0 };
    one.wish = by;
    const body = this.bodyOf(one);
    const under = this.under(one.room, one, put(body, { ...at, x, y }), at.z - stepHeight, at.z + stepHeight);
    const lifted = put(body, { ...at, z: Math.max(at.z, under?.top ?? at.z) });
    const stop = this.stop(one, lifted, by, at.z + stepHeight, body);
    if (stop !== null) {
      const share = stop.from - 1e-6 / Math.sqrt(by.x * by.x + by.y * by.y);
      if (share > 0) this.place(one, { x: at.x + by.x * share, y: at.y + by.y * share, z: at.z });
      this.settle(one);
      return one.at.z > at.z && one.flight === null ? this.step(one, x, y) : stop.id;
    }
    this.place(one, { x, y, z: under?.top ?? at.z });
    one.support = under?.id ?? null;
    if (under === null) one.flight = this.fall(one);
    return null;
  }

  legTo(one: Person, to: Place, speed: number): Leg | null {
    const spot = this.spot(to, one);
    if (spot === null || spot.room !== one.room) return null;
    const leg: Leg = { points: this.way(one, spot.at), from: one.at, length: 0, speed, ticks: 0, done: 0, blocked: false };
    this.beginLeg(one, leg);
    return leg;
  }

  beginLeg(one: Person, leg: Leg): void {
    const to = leg.points[0]!;
    leg.from = one.at;
    leg.length = Math.sqrt((to.x - one.at.x) * (to.x - one.at.x) + (to.y - one.at.y) * (to.y - one.at.y));
    leg.ticks = this.ticks(leg.length / leg.speed);
    leg.done = 0;
    one.heading = headingTowards(to.x - one.at.x, to.y - one.at.y) ?? one.heading;
  }

  /** One tick of going: whether it has arrived, and whether the tick was used. */
  private go(one: Person, leg: Leg): { arrived: boolean; used: boolean } {
    while (leg.ticks === 0) {
      if (leg.points.length === 1) return { arrived: true, used: false };
      leg.points.shift();
      this.beginLeg(one, leg);
    }
    const to = leg.points[0]!;
    const share = Math.min(1, ((leg.done + 1) * leg.speed) / (this.level.rate * leg.length));
    const { from } = leg;
    const isLast = leg.done + 1 === leg.ticks;
    const at = isLast || share === 1 ? to : { x: from.x + (to.x - from.x) * share, y: from.y + (to.y - from.y) * share };
    const stop = this.step(one, at.x, at.y);
    if (stop !== null) {
      if (!leg.blocked) this.raise({ kind: 'blocked', who: one.visitor.id, what: stop });
      leg.blocked = true;
      return { arrived: false, used: true };
    }
    leg.blocked = false;
    leg.done += 1;
    if (leg.done < leg.ticks) return { arrived: false, used: true };
    if (leg.points.length === 1) return { arrived: true, used: true };
    leg.points.shift();
    this.beginLeg(one, leg);
    return { arrived: false, used: true };
  }

  private goForced(one: Person, forced: NonNullable<Person['forced']>): void {
    const to = { ...forced.to, room: '', of: '', axes: 'room', height: 'datum' } as const;
    forced.leg ??= this.legTo(one, to, forced.speed);
    if (forced.leg === null) return this.settle(one);
    const { arrived, used } = this.go(one, forced.leg);
    if (!used) this.settle(one);
    if (!arrived) return;
    one.forced = null;
    this.raise({ kind: 'arrived', who: forced.hand, what: one.visitor.id, cause: forced.cause }, () =>
      forced.waiting.forEach((waiting) => waiting.finish()),
    );
  }

  /** One tick of a route; false if the visitor stood still. */
  private goOn(one: Person): boolean {
    if (one.late > 0) {
      one.late -= 1;
      return false;
    }
    for (let todo = one.todo[0]; todo !== undefined; todo = one.todo[0]) {
      if (todo.do === 'wait') {
        one.waits ??= this.ticks(todo.seconds);
        const waits = one.waits > 0;
        if (waits) one.waits -= 1;
        if (one.waits === 0) this.pass(one);
        if (waits) return false;
        continue;
      }
      if (todo.do !== 'go-to') {
        this.handle(one, todo);
        this.pass(one);
        return false;
      }
      one.leg ??= this.legTo(one, todo.to, one.speed);
      one.onLeg = one.leg !== null;
      if (one.leg === null) {
        const details = { problem: 'no such place in this room' };
        this.raise({ kind: 'blocked', who: one.visitor.id, what: todo.to.of || todo.to.room || null, details });
        this.pass(one);
        return false;
      }
      const { arrived, used } = this.go(one, one.leg);
      if (!arrived) return true;
      this.pass(one);
      this.raise({ kind: 'arrived', who: one.visitor.id, what: one.visitor.id });
      if (used) return true;
    }
    return false;
  }

  private pass(one: Person): void {
    one.todo.shift();
    one.leg = null;
    one.onLeg = false;
    one.waits = null;
  }

  private bePushed(one: Person, push: NonNullable<Person['push']>): void {
    const { rate } = this.level;
    this.step(one, one.at.x + push.x / rate, one.at.y + push.y / rate);
    this.carryAll(one, push.step);
    push.ticks -= 1;
    if (push.ticks <= 0) one.push = null;
    this.anew(one);
  }

  /** The way begins anew from where the visitor is. */
  anew(one: Person): void {
    one.leg = null;
    if (!one.forced?.leg) return;
    one.forced.to = one.forced.leg.points.at(-1)!;
    one.forced.leg = null;
  }

  private fly(one: Person, flight: NonNullable<Person['flight']>): void {
    const g = this.level.gravity;
    const t = (this.tick - flight.begun) / this.level.rate;
    const { from, velocity: v } = flight;
    const { at } = one;
    let to: Vector = { x: from.x + v.x * t, y: from.y + v.y * t, z: from.z + v.z * t - (g * t * t) / 2 };
    one.wish = { x: to.x - at.x, y: to.y - at.y, z: to.z - at.z };
    const body = this.bodyOf(one);
    if (this.stop(one, body, one.wish, at.z, body) !== null) {
      to = { x: at.x, y: at.y, z: to.z };
      let up = v.z - g * t;
      if (to.z > at.z && this.stop(one, body, { x: 0, y: 0, z: to.z - at.z }, at.z, body) !== null) {
        to = { ...to, z: at.z };
        up = 0;
      }
      one.flight = { ...flight, from: to, velocity: { x: 0, y: 0, z: up }, begun: this.tick };
    }
    if (flight.push !== null) this.carryAll(one, flight.push);
    const landing = to.z < at.z ? this.under(one.room, one, put(body, { ...to, z: at.z }), to.z, at.z) : null;
    this.place(one, landing === null ? to : { ...to, z: landing.top });
    if (landing !== null) {
      one.support = landing.id;
      one.flight = null;
      if (flight.by !== null) this.raise({ kind: 'arrived', who: flight.by, what: one.visitor.id, cause: flight.cause });
    }
    if (one.wish.x !== 0 || one.wish.y !== 0) this.anew(one);
  }

  // Hands

  private handle(one: Person, todo: Exclude<Instruction, { do: 'go-to' | 'wait' }>): void {
    if (todo.do === 'turn') {
      one.heading = todo.heading;
      return;
    }
    const what = todo.do === 'use' ? todo.fixture : todo.prop;
    const held = (details: Details): void => {
      this.write({ kind: 'held', who: one.visitor.id, what, details: { event: 'use', use: todo.do, ...details } });
    };
    const event = { kind: 'use', who: one.visitor.id, what, details: { use: todo.do } } as const;
    const mm = (metres: number): number => Math.round(metres * 1000) / 1000;
    if (todo.do === 'use') {
      const fixture = this.level.fixtures.find((own) => own.id === what);
      const volume = this.volumes.find((own) => own.id === what && own.fixture !== null);
      if (fixture === undefined || volume === undefined)
        return held({ reason: 'out-of-reach', problem: fixture === undefined ? 'no such fixture' : 'it has no body' });
      const reach = fixture.kind === 'switch' ? fixture.reach : 1;
      const far = distance(this.bodyOf(one), this.shape(volume));
      if (fixture.room !== one.room || far > reach) return held({ reason: 'out-of-reach', metres: mm(far), reach });
      this.raise(event, (number, off) => {
        if (!off) this.used(fixture.id, one, number);
      });
      return;
    }
    const prop = this.person(what);
    if (todo.do !== 'carry') {
      if (prop === undefined || prop.carrier !== one) return held({ reason: 'not-carried' });
      prop.carrier = null;
      prop.jumped = true;
      prop.sensed = prop.at;
      if (todo.do === 'drop') {
        this.place(prop, one.at);
        this.jump(prop);
        prop.support = one.support;
        this.anew(prop);
        this.raise(event);
      } else {
        const flight = {
          from: prop.at,
          velocity: todo.velocity,
          begun: this.tick,
          by: one.visitor.id,
          cause: null as number | null,
          push: null,
        };
        prop.flight = flight;
        this.anew(prop);
        this.raise(event, (number) => {
          if (prop.flight?.by) prop.flight.cause = number;
        });
      }
      return;
    }
    if (prop === undefined || prop === one) return held({ reason: 'out-of-reach', problem: 'no such prop' });
    if (prop.carrier !== null) return held({ reason: 'out-of-reach', carriedBy: prop.carrier.visitor.id });
    for (let at = one.carrier; at !== null; at = at.carrier)
      if (at === prop) return held({ reason: 'out-of-reach', carriedBy: what });
    const far = distance(this.bodyOf(one), this.bodyOf(prop));
    if (!prop.inPlay || prop.room !== one.room) return held({ reason: 'out-of-reach', problem: 'it is not here' });
    if (far > 1) return held({ reason: 'out-of-reach', metres: mm(far), reach: 1 });
    prop.carrier = one;
    prop.lastHolder = one.visitor.id;
    prop.support = null;
    prop.flight = null;
    prop.push = null;
    this.place(prop, { ...one.at, z: one.at.z + this.height(one) / 2 });
    this.jump(prop);
    this.raise(event);
  }

  abstract used(id: string, by: Person, number: number): void;

  /** Whether a shape that goes straight on, for a kilometre, comes into another. */
  towards(body: Solid, by: Vector, shape: Solid): boolean {
    const length = Math.sqrt(by.x * by.x + by.y * by.y + by.z * by.z);
    if (length < 1e-9) return false;
    const more = 1000 / length;
    return meetingSpan(body, { x: by.x * more, y: by.y * more, z: by.z * more }, shape) !== null;
  }

  turnedBy(x: number, y: number, degrees: number): { x: number; y: number } {
    return rotated({ x, y }, unit(degrees));
  }
}
