import { boxAt, overlaps, sweep, travelSeconds } from '../src/index';
import type { Cause, Chain, Details, Door, Entry, Instruction, Level, Step, Vector, Visitor, Walk } from '../src/index';

/**
 * A second kernel, written from docs/order.md alone: every pair is tested at every tick, nothing is indexed or skipped, and
 * what is to happen is a function. It shares only the shapes with the first one. Their ledgers have to be equal.
 */
export function naiveRehearsal(level: Level, walk: Walk): Entry[] {
  return new Naive(level, walk).run();
}

type Written = Partial<Omit<Entry, 'number' | 'tick' | 'seconds'>> & { kind: Entry['kind'] };
type Job = () => void;

interface Going {
  from: number;
  to: number;
  begun: number;
  ticks: number;
  entry: number | null;
  hand: string | null;
  waiting: { entry: number; finish: Job }[];
}

interface DoorNow {
  door: Door;
  clock: number;
  sensed: number;
  going: Going | null;
  ticket: number;
  last: number | null;
}

interface VisitorNow {
  visitor: Visitor;
  at: Vector;
  sensed: Vector;
  jumped: boolean;
  carrier: string | null;
  todo: Instruction[];
  leg: { from: Vector; length: number; ticks: number; done: number } | null;
  blocked: boolean;
}

class TooMuch extends Error {}

class Naive {
  private tick = 0;
  private jobs = 0;
  private readonly entries: Entry[] = [];
  private readonly queue: Job[] = [];
  private later: { tick: number; job: Job }[] = [];
  private readonly doors = new Map<string, DoorNow>();
  private readonly visitors: VisitorNow[];
  private readonly flags = new Map<string, boolean>();
  private readonly texts = new Map<string, string>();
  private readonly shown = new Map<string, boolean>();
  private readonly inside = new Set<string>();
  private readonly pressed = new Set<string>();
  private readonly used = new Map<string, { count: number; tick: number }>();
  private readonly running = new Set<string>();

  constructor(
    private readonly level: Level,
    private readonly walk: Walk,
  ) {
    for (const flag of level.flags) this.flags.set(flag.id, flag.on);
    for (const fixture of level.fixtures) {
      this.shown.set(fixture.id, fixture.shown);
      if (fixture.kind === 'sign') this.texts.set(fixture.id, fixture.text);
      if (fixture.kind !== 'door') continue;
      const clock = fixture.open ? 1 : 0;
      this.doors.set(fixture.id, { door: fixture, clock, sensed: clock, going: null, ticket: 0, last: null });
    }
    this.visitors = level.visitors.map((visitor) => {
      const route = walk.routes.find((one) => one.visitor === visitor.id);
      return {
        visitor,
        at: visitor.at,
        sensed: visitor.at,
        jumped: true,
        carrier: null,
        todo: [...(route?.instructions ?? [])],
        leg: null,
        blocked: false,
      };
    });
  }

  run(): Entry[] {
    this.write({ kind: 'start', what: this.walk.id });
    this.sense();
    this.drain();
    for (;;) {
      this.tick += 1;
      this.jobs = 0;
      const due = this.later.filter((one) => one.tick === this.tick);
      this.later = this.later.filter((one) => one.tick !== this.tick);
      this.queue.push(...due.map((one) => one.job));
      this.drain();
      for (const own of this.doors.values()) this.advance(own);
      for (const own of this.visitors) this.goOn(own);
      this.sense();
      this.drain();
      const why = this.over();
      if (why === null) continue;
      this.write({ kind: 'end', details: why });
      return this.entries;
    }
  }

  private ticks(seconds: number): number {
    return Math.max(0, Math.ceil(seconds * this.level.rate - 1e-6));
  }

  private write({ kind, who = null, what = null, chain = null, step = null, cause = null, details = {} }: Written): number {
    const number = this.entries.length + 1;
    const seconds = Math.round((this.tick / this.level.rate) * 1e6) / 1e6;
    this.entries.push({ number, tick: this.tick, seconds, kind, who, what, chain, step, cause, details });
    return number;
  }

  private drain(): void {
    for (let job = this.queue.shift(); job !== undefined; job = this.queue.shift()) {
      this.jobs += 1;
      if (this.jobs > 10_000) throw new TooMuch('runaway');
      job();
    }
  }

  private in(ticks: number, job: Job): void {
    this.later.push({ tick: this.tick + ticks, job });
  }

  /** Puts an event at the end of the queue; `then` runs when it has its number and its chains have been tried. */
  private raise(event: Written, then: (number: number) => void = () => undefined): void {
    this.queue.push(() => then(this.happen(event)));
  }

  private happen(event: Written): number {
    const listened = ['enter', 'leave', 'press', 'release', 'opened', 'closed', 'arrived'].includes(event.kind);
    const off = [...this.level.zones, ...this.level.fixtures].some((thing) => thing.id === event.what && !thing.enabled);
    const silent = this.level.visitors.some((visitor) => visitor.id === event.who && !visitor.raisesOverlaps);
    if (listened && off) return this.hold(event, 'disabled');
    if (silent && ['enter', 'leave', 'press', 'release'].includes(event.kind)) return this.hold(event, 'silent-visitor');
    const number = this.write(event);
    for (const chain of this.level.chains) {
      for (const cause of chain.causes)
        if (listened && cause.on === event.kind && cause.of === event.what) this.try(chain, cause, event, number);
    }
    return number;
  }

  private hold(event: Written, reason: string): number {
    return this.write({ ...event, kind: 'held', details: { event: event.kind, reason, ...event.details } });
  }

  private try(chain: Chain, cause: Cause, event: Written, number: number): void {
    const because = this.shutBy(chain, cause, event);
    if (because !== null) {
      this.write({
        kind: 'held',
        who: event.who,
        what: event.what,
        chain: chain.id,
        cause: number,
        details: { event: event.kind, ...because },
      });
      return;
    }
    this.used.set(cause.id, { count: (this.used.get(cause.id)?.count ?? 0) + 1, tick: this.tick });
    this.start(chain, event, number);
  }

  private shutBy(chain: Chain, cause: Cause, event: Written): Record<string, string | number | string[]> | null {
    const { kinds, anyOf, allOf, noneOf } = cause.filter;
    const who = this.level.visitors.find((visitor) => visitor.id === event.who);
    const no = (part: string, asked: string, found: string) => ({ reason: 'filtered', part, asked, found });
    if (who === undefined) {
      if (kinds.length + anyOf.length + allOf.length + noneOf.length > 0) return no('visitor', 'a visitor', 'none');
    } else {
      const tags = who.tags.join(', ');
      if (kinds.length > 0 && !kinds.includes(who.kind)) return no('kinds', kinds.join(', '), who.kind);
      if (anyOf.length > 0 && !anyOf.some((tag) => who.tags.includes(tag))) return no('any of the tags', anyOf.join(', '), tags);
      if (allOf.some((tag) => !who.tags.includes(tag))) return no('all of the tags', allOf.join(', '), tags);
      if (noneOf.some((tag) => who.tags.includes(tag))) return no('none of the tags', noneOf.join(', '), tags);
    }
    if (!chain.enabled) return { reason: 'chain-off' };
    const used = this.used.get(cause.id);
    if (cause.limit !== null && (used?.count ?? 0) >= cause.limit)
      return { reason: 'used-up', limit: cause.limit, used: used?.count ?? 0 };
    const left = used === undefined ? 0 : used.tick + this.ticks(cause.cooldown) - this.tick;
    if (left > 0) return { reason: 'cooling', ticks: left, seconds: Math.round((left / this.level.rate) * 1e6) / 1e6 };
    if (chain.guard.some((test) => this.flags.get(test.flag) !== test.is)) {
      const say = (on: boolean | undefined): string => (on === undefined ? 'missing' : on ? 'on' : 'off');
      return {
        reason: 'condition-false',
        read: chain.guard.map((test) => `${test.flag}: asked ${say(test.is)}, was ${say(this.flags.get(test.flag))}`),
      };
    }
    return this.running.has(chain.id) ? { reason: 'running' } : null;
  }

  private start(chain: Chain, event: Written, number: number): void {
    const hand = event.who ?? null;
    const started = this.write({ kind: 'chain-started', who: hand, what: event.what, chain: chain.id, cause: number });
    this.running.add(chain.id);
    const begun = new Set<Step>();
    const told = new Set<Step>();
    const done = new Set<Step>();
    const look = (): void => {
      chain.steps.forEach((step, i) => {
        const before = chain.steps.slice(0, i);
        const ready = i === 0 || (step.start === 'with' ? begun.has(before.at(-1)!) : before.every((one) => done.has(one)));
        if (told.has(step) || !ready) return;
        told.add(step);
        const delay = this.ticks(step.delay);
        const go = (): void => {
          begun.add(step);
          this.step(
            chain,
            step,
            started,
            hand,
            () => done.add(step),
            () => {
              done.add(step);
              look();
            },
          );
        };
        if (delay === 0) go();
        else
          this.in(delay, () => {
            go();
            look();
          });
      });
      if (this.running.has(chain.id) && chain.steps.every((step) => done.has(step)) && !finished) {
        finished = true;
        this.running.delete(chain.id);
        this.write({ kind: 'chain-finished', who: hand, chain: chain.id, cause: started });
      }
    };
    let finished = false;
    look();
  }

  /** Runs a step: `now` if it is finished in the same breath, `after` when it has ended later. */
  private step(chain: Chain, step: Step, started: number, hand: string | null, now: Job, after: Job): void {
    const target =
      'door' in step
        ? step.door
        : 'sign' in step
          ? step.sign
          : 'flag' in step
            ? step.flag
            : 'fixture' in step
              ? step.fixture
              : null;
    const there =
      'door' in step
        ? this.doors.has(step.door)
        : 'sign' in step
          ? this.texts.has(step.sign)
          : 'flag' in step
            ? this.flags.has(step.flag)
            : 'fixture' in step
              ? this.shown.has(step.fixture)
              : true;
    const details: Details = there ? { do: step.kind } : { do: step.kind, problem: 'no such target' };
    const entry = this.write({ kind: 'step', who: hand, what: target, chain: chain.id, step: step.id, cause: started, details });
    if (!there) return now();
    const put = <T extends boolean | string>(map: Map<string, T>, id: string, field: string, to: T): void => {
      const from = map.get(id)!;
      map.set(id, to);
      if (from !== to) this.raise({ kind: 'changed', who: hand, what: id, cause: entry, details: { field, from, to } });
    };
    switch (step.kind) {
      case 'set-flag':
        put(this.flags, step.flag, 'on', step.to);
        return now();
      case 'write-sign':
        put(this.texts, step.sign, 'text', step.text);
        return now();
      case 'show':
      case 'hide':
        put(this.shown, step.fixture, 'shown', step.kind === 'show');
        return now();
      case 'wait':
        if (this.ticks(step.seconds) === 0) return now();
        this.in(this.ticks(step.seconds), after);
        return;
      default: {
        const own = this.doors.get(step.door)!;
        const ended = this.send(own, step.kind === 'open' ? 1 : 0, entry, hand);
        if (own.going === null) now();
        else own.going.waiting.push({ entry, finish: after });
        for (const one of ended) one.finish();
      }
    }
  }

  /** Sends a door to an end; gives the waiting steps of a motion that was turned back. */
  private send(own: DoorNow, end: number, cause: number, hand: string | null): Going['waiting'] {
    if (own.going?.to === end) return [];
    if (own.going === null && own.clock === end) {
      this.returnLater(own, cause, hand);
      return [];
    }
    const turned = own.going;
    if (turned !== null) own.clock = this.clock(turned);
    const ticks = Math.ceil(Math.abs(end - own.clock) * this.ticks(travelSeconds(own.door)) - 1e-6);
    own.ticket += 1;
    const going: Going = { from: own.clock, to: end, begun: this.tick, ticks, entry: null, hand, waiting: [] };
    own.going = going;
    if (ticks === 0) own.clock = end;
    const back: Details = turned === null ? {} : { turnedBack: true, endsSteps: turned.waiting.map((one) => String(one.entry)) };
    const details = { to: end === 1 ? 'open' : 'closed', ticks, ...back };
    this.raise({ kind: 'moving', who: hand, what: own.door.id, cause, details }, (number) => {
      going.entry = number;
      own.last = number;
      if (ticks === 0 && own.going === going) this.arrive(own, going);
    });
    return turned?.waiting ?? [];
  }

  private clock({ from, to, begun, ticks }: Going): number {
    return this.tick >= begun + ticks ? to : from + ((to - from) * (this.tick - begun)) / ticks;
  }

  private advance(own: DoorNow): void {
    const { going } = own;
    if (going === null) return;
    own.clock = this.clock(going);
    if (own.clock === going.to) this.arrive(own, going);
  }

  private arrive(own: DoorNow, going: Going): void {
    own.going = null;
    this.raise(
      { kind: going.to === 1 ? 'opened' : 'closed', who: going.hand, what: own.door.id, cause: going.entry },
      (number) => {
        this.returnLater(own, number, going.hand);
        for (const one of going.waiting) one.finish();
      },
    );
  }

  private returnLater(own: DoorNow, cause: number, hand: string | null): void {
    const home = own.door.open ? 1 : 0;
    if (own.door.returnAfter === null || own.going !== null || own.clock === home) return;
    own.ticket += 1;
    const { ticket } = own;
    const job = (): void => {
      if (own.ticket === ticket) for (const one of this.send(own, home, cause, hand)) one.finish();
    };
    const ticks = this.ticks(own.door.returnAfter);
    if (ticks === 0) this.queue.push(job);
    else this.in(ticks, job);
  }

  private box(door: Door, clock: number) {
    const { at, travel } = door;
    return boxAt({ x: at.x + travel.x * clock, y: at.y + travel.y * clock, z: at.z + travel.z * clock }, door.size, door.heading);
  }

  private body({ visitor }: VisitorNow, at: Vector) {
    return boxAt(at, visitor.body.size, 0);
  }

  private goOn(own: VisitorNow): void {
    for (;;) {
      const [next] = own.todo;
      if (next === undefined) return;
      if (next.do === 'carry' || next.do === 'drop') {
        own.todo.shift();
        this.handle(own, next.do, next.prop);
        return;
      }
      if (own.leg === null) {
        const length =
          next.do === 'wait'
            ? 0
            : Math.sqrt((next.to.x - own.at.x) ** 2 + (next.to.y - own.at.y) ** 2 + (next.to.z - own.at.z) ** 2);
        own.leg = {
          from: own.at,
          length,
          ticks: this.ticks(next.do === 'wait' ? next.seconds : length / own.visitor.speed),
          done: 0,
        };
      }
      const { leg } = own;
      if (leg.ticks > 0 && next.do === 'go-to' && !this.advanceLeg(own, next.to)) return;
      if (leg.ticks > 0 && next.do === 'wait') leg.done += 1;
      if (leg.done < leg.ticks) return;
      own.todo.shift();
      own.leg = null;
      own.blocked = false;
      if (next.do === 'go-to') this.raise({ kind: 'arrived', who: own.visitor.id, what: own.visitor.id });
      if (leg.ticks > 0) return;
    }
  }

  private advanceLeg(own: VisitorNow, to: Vector): boolean {
    const leg = own.leg!;
    const share = Math.min(1, ((leg.done + 1) * own.visitor.speed) / (this.level.rate * leg.length));
    const mix = (a: number, b: number): number => (share === 1 ? b : a + (b - a) * share);
    const at = { x: mix(leg.from.x, to.x), y: mix(leg.from.y, to.y), z: mix(leg.from.z, to.z) };
    const obstacle = this.obstacle(own, at);
    if (obstacle !== null) {
      if (!own.blocked) this.raise({ kind: 'blocked', who: own.visitor.id, what: obstacle });
      own.blocked = true;
      return false;
    }
    own.blocked = false;
    leg.done += 1;
    this.put(own, at, false);
    return true;
  }

  private obstacle(own: VisitorNow, to: Vector): string | null {
    const body = this.body(own, own.at);
    const boxes = [
      ...this.level.solids
        .filter((solid) => solid.room === own.visitor.room)
        .map((solid) => ({ id: solid.id, box: boxAt(solid.at, solid.size, solid.heading) })),
      ...[...this.doors.values()]
        .filter(({ door }) => door.solid && door.room === own.visitor.room)
        .map(({ door, clock }) => ({ id: door.id, box: this.box(door, clock) })),
    ];
    const met = boxes
      .filter(({ box }) => !overlaps(body, box))
      .map(({ id, box }) => ({ id, stretch: sweep(body, to.x - own.at.x, to.y - own.at.y, to.z - own.at.z, box) }))
      .filter(({ stretch }) => stretch !== null);
    return (
      met.reduce<(typeof met)[number] | null>(
        (first, one) => (first === null || one.stretch!.from < first.stretch!.from ? one : first),
        null,
      )?.id ?? null
    );
  }

  private put(own: VisitorNow, at: Vector, jumped: boolean): void {
    const by = { x: at.x - own.at.x, y: at.y - own.at.y, z: at.z - own.at.z };
    own.at = at;
    own.jumped ||= jumped;
    for (const other of this.visitors) {
      if (other.carrier === own.visitor.id)
        this.put(other, { x: other.at.x + by.x, y: other.at.y + by.y, z: other.at.z + by.z }, jumped);
    }
  }

  private handle(own: VisitorNow, what: 'carry' | 'drop', id: string): void {
    const prop = this.visitors.find((one) => one.visitor.id === id);
    const no = (reason: string, more: Record<string, string | number> = {}): void =>
      void this.write({ kind: 'held', who: own.visitor.id, what: id, details: { event: 'use', use: what, reason, ...more } });
    if (what === 'drop') {
      if (prop?.carrier !== own.visitor.id) return no('not-carried');
      prop.carrier = null;
      this.put(prop, { ...own.at }, true);
    } else {
      if (prop === undefined || prop === own) return no('out-of-reach', { problem: 'no such prop' });
      if (prop.carrier !== null) return no('out-of-reach', { carriedBy: prop.carrier });
      const [a, b] = [this.body(own, own.at), this.body(prop, prop.at)];
      const dx = Math.max(0, Math.abs(a.x - b.x) - a.halfX - b.halfX);
      const dy = Math.max(0, Math.abs(a.y - b.y) - a.halfY - b.halfY);
      const dz = Math.max(0, b.z - a.z - a.height, a.z - b.z - b.height);
      const metres = Math.sqrt(dx * dx + dy * dy + dz * dz);
      if (prop.visitor.room !== own.visitor.room || metres > 1)
        return no('out-of-reach', { metres: Math.round(metres * 1000) / 1000, reach: 1 });
      prop.carrier = own.visitor.id;
      this.put(prop, { ...own.at, z: own.at.z + own.visitor.body.size.z / 2 }, true);
    }
    this.raise({ kind: 'use', who: own.visitor.id, what: id, details: { use: what } });
  }

  private sense(): void {
    const still = { x: 0, y: 0, z: 0 };
    const fixed = (thing: { id: string; room: string; at: Vector; heading: number }, size: Vector) => {
      const box = boxAt(thing.at, size, thing.heading);
      return { id: thing.id, room: thing.room, box, earlier: box, shift: still, cause: null as number | null };
    };
    const things = this.level.zones.map((zone) => fixed(zone, zone.shape.size));
    for (const fixture of this.level.fixtures) {
      if (fixture.kind === 'plate') things.push(fixed(fixture, fixture.size));
      if (fixture.kind !== 'door' || fixture.solid) continue;
      const own = this.doors.get(fixture.id)!;
      const [box, earlier] = [this.box(fixture, own.clock), this.box(fixture, own.sensed)];
      const shift = { x: box.x - earlier.x, y: box.y - earlier.y, z: box.z - earlier.z };
      things.push({ id: fixture.id, room: fixture.room, box, earlier, shift, cause: own.clock === own.sensed ? null : own.last });
      own.sensed = own.clock;
    }
    const found = { leave: [] as Written[], enter: [] as Written[], missed: [] as Written[] };
    for (const thing of things) {
      for (const own of this.visitors) {
        if (own.visitor.room !== thing.room) continue;
        const pair = `${thing.id} ${own.visitor.id}`;
        const is = overlaps(this.body(own, own.at), thing.box);
        const was = this.inside.has(pair);
        const [dx, dy, dz] = [
          own.at.x - own.sensed.x - thing.shift.x,
          own.at.y - own.sensed.y - thing.shift.y,
          own.at.z - own.sensed.z - thing.shift.z,
        ];
        const crossed = !own.jumped && sweep(this.body(own, own.sensed), dx, dy, dz, thing.earlier) !== null;
        const kind = is && !was ? 'enter' : !is && was ? 'leave' : !is && crossed ? 'missed' : null;
        if (kind !== null) found[kind].push({ kind, who: own.visitor.id, what: thing.id, cause: thing.cause });
        if (is) this.inside.add(pair);
        else this.inside.delete(pair);
      }
    }
    for (const event of [...found.leave, ...found.enter, ...found.missed]) this.raise(event);
    for (const plate of this.level.fixtures) {
      if (plate.kind !== 'plate') continue;
      const on = (id: string): boolean => this.inside.has(`${plate.id} ${id}`);
      const load = this.visitors.reduce((sum, own) => sum + (on(own.carrier ?? own.visitor.id) ? own.visitor.mass : 0), 0);
      const standing = this.visitors.filter((own) => on(own.visitor.id));
      const is = standing.length > 0 && load >= plate.threshold - 1e-9;
      if (is === this.pressed.has(plate.id)) continue;
      if (is) this.pressed.add(plate.id);
      else this.pressed.delete(plate.id);
      const came = (is ? found.enter : found.leave).findLast((event) => event.what === plate.id);
      const who = came?.who ?? standing.at(-1)?.visitor.id ?? null;
      this.raise({
        kind: is ? 'press' : 'release',
        who,
        what: plate.id,
        cause: came?.cause ?? null,
        details: { load: standing.length === 0 ? 0 : load, threshold: plate.threshold },
      });
    }
    for (const own of this.visitors) {
      own.sensed = own.at;
      own.jumped = false;
    }
  }

  private over(): Record<string, string | string[]> | null {
    const busy = this.walk.routes
      .filter((route) => this.visitors.some((own) => own.visitor.id === route.visitor && own.todo.length > 0))
      .map((route) => route.visitor);
    const still = this.later.length === 0 && [...this.doors.values()].every((own) => own.going === null);
    if (still && busy.length === 0) return { reason: 'settled' };
    if (still && busy.every((id) => this.visitors.find((own) => own.visitor.id === id)!.blocked))
      return { reason: 'stuck', who: busy };
    return this.tick >= this.ticks(this.walk.atMost) ? { reason: 'time is up' } : null;
  }
}
