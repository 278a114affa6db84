import type { Level } from '../document/level';
import type { Route } from '../document/people';
import type { Walk } from '../document/walks';
import {
  copy,
  give,
  handyIn,
  head,
  rulePolicy,
  movesFreely,
  noopListener,
  compileLevel,
  start,
  tellPlaces,
  tick,
  whereIs,
} from '../kernel';
import type { Ended, Reachable, CompiledLevel, WorldListener, VisitorState, World } from '../kernel';
import type { HouseRules } from '../vocabulary/rules';
import { RouteRecorder } from './cleaning';
import type { Steering, Toward } from './steering';

/** How a visitor is being steered: where to, and which part of that a wall has left. */
interface Hand {
  toward: Toward;
  left: 'all' | 'x' | 'y' | 'none';
}

/** A world as it was, with how everybody was steered. */
interface Milestone {
  world: World;
  hands: ReadonlyMap<string, Hand>;
}

/** The time between copies of the world, in seconds: going back repeats at most this much. */
const SNAPSHOT_SECONDS = 5;

/**
 * A rehearsal that is walked as it runs: the kernel, tick by tick, with visitors steered from outside. Others go the routes of the
 * walk, without its jitter: nothing is left to chance. Who is steered leaves its route. The same steering at the same ticks gives the same ledger, so that any moment can be gone
 * back to.
 */
export class Live {
  private readonly plan: CompiledLevel;
  private readonly orders;
  private readonly walk: Walk;
  private world: World;
  private hands = new Map<string, Hand>();
  private steered: { tick: number; steering: Steering }[] = [];
  private milestones: Milestone[] = [];
  private ended: Ended | null = null;

  /** Begins with tick 0, which is reported. */
  constructor(
    level: Level,
    walk: Walk,
    private readonly listener: WorldListener,
    rules: Partial<HouseRules> = {},
  ) {
    this.plan = compileLevel(level);
    this.orders = rulePolicy({ ...level.rules, ...rules });
    this.walk = { ...walk, jitter: { start: 0, speed: 0 } };
    this.world = start(this.plan, this.walk);
    tick(this.plan, this.world, this.orders, listener);
    this.milestones = [this.milestone()];
  }

  /** The tick that has been run last. */
  get tick(): number {
    return this.world.tick;
  }

  /** Whether a tick ran away: then none comes any more. */
  get ranAway(): boolean {
    return this.ended?.reason === 'runaway';
  }

  /** Has a visitor do something from the next tick on. Throws a RangeError if there is no such visitor. */
  steer(steering: Steering): void {
    if (!this.plan.visitorOf.has(steering.visitor)) throw new RangeError(`There is no visitor "${steering.visitor}"`);
    this.steered.push({ tick: this.world.tick, steering });
    this.take(steering);
  }

  /** Runs so many ticks, and tells where everybody is after the last. */
  advance(ticks: number): void {
    for (let i = 0; i < ticks && !this.ranAway; i++) {
      this.one(this.listener);
      if (this.world.tick % (SNAPSHOT_SECONDS * this.plan.level.rate) === 0) this.milestones.push(this.milestone());
    }
    tellPlaces(this.plan, this.world, this.listener);
  }

  /** What a visitor could use, pick up or put down where it is, the nearest first. */
  handy(visitor: string): Reachable {
    return handyIn(this.plan, this.world, visitor);
  }

  /** Goes back to a tick that was run, as if nothing had come after it; everybody who was steered stands. */
  back(to: number): void {
    this.milestones = this.milestones.filter(({ world }) => world.tick <= to);
    this.steered = this.steered.filter(({ tick: at }) => at < to);
    this.again(this.milestones.at(-1)!, to);
    tellPlaces(this.plan, this.world, this.listener);
    for (const visitor of [...this.hands.keys()]) this.steer({ visitor, heads: null });
  }

  /**
   * What was walked, as routes whose ids are of this answer alone: way points where the direction changed, waits, and what was done, for those who were steered; the
   * routes of the walk for all others.
   */
  routes(): Route[] {
    const now = this.tick;
    const kept = { world: this.world, hands: this.hands, ended: this.ended };
    const cleanings = new Map<string, RouteRecorder>();
    this.again(this.milestones[0]!, now, cleanings);
    Object.assign(this, kept);
    const others = this.walk.routes.filter(({ visitor }) => !cleanings.has(visitor));
    return [...others, ...[...cleanings].map(([visitor, cleaning]) => ({ visitor, instructions: cleaning.finished() }))];
  }

  /** Runs again from a milestone up to a tick, without reporting. */
  private again(from: Milestone, to: number, cleanings?: Map<string, RouteRecorder>): void {
    this.world = copy(from.world);
    this.hands = new Map(Array.from(from.hands, ([visitor, hand]) => [visitor, { ...hand }]));
    this.ended = null;
    let next = this.steered.findIndex(({ tick: at }) => at >= from.world.tick);
    if (next < 0) next = this.steered.length;
    while (this.world.tick < to) {
      for (; next < this.steered.length && this.steered[next]!.tick === this.world.tick; next++) {
        const { steering } = this.steered[next]!;
        if (cleanings !== undefined) this.cleaningOf(cleanings, steering.visitor).steer(steering);
        this.take(steering);
      }
      const before = cleanings && new Map(Array.from(cleanings.keys(), (visitor) => [visitor, this.stateOf(visitor)]));
      this.one(noopListener);
      for (const [visitor, cleaning] of cleanings ?? []) cleaning.ticked(before!.get(visitor)!, this.stateOf(visitor));
    }
  }

  private cleaningOf(cleanings: Map<string, RouteRecorder>, visitor: string): RouteRecorder {
    let found = cleanings.get(visitor);
    if (found === undefined) {
      const route = this.walk.routes.find((one) => one.visitor === visitor);
      const { speed } = this.plan.visitors[this.plan.visitorOf.get(visitor)!]!.visitor;
      const rate = this.plan.level.rate;
      found = new RouteRecorder({
        rate,
        speed,
        route: route?.instructions ?? [],
        done: this.of(visitor).route,
        from: this.placeOf(visitor),
      });
      cleanings.set(visitor, found);
    }
    return found;
  }

  private of(visitor: string): VisitorState {
    return this.world.visitors[this.plan.visitorOf.get(visitor)!]!;
  }

  private placeOf(visitor: string): { x: number; y: number; z: number } {
    return whereIs(this.plan, this.world, visitor).at;
  }

  private stateOf(visitor: string): { at: { x: number; y: number; z: number }; own: boolean; busy: boolean } {
    const one = this.of(visitor);
    const does = one.route?.instructions[one.route.at]?.do;
    return { at: this.placeOf(visitor), own: movesFreely(one), busy: does !== undefined && does !== 'go-to' };
  }

  private milestone(): Milestone {
    return { world: copy(this.world), hands: new Map(Array.from(this.hands, ([visitor, hand]) => [visitor, { ...hand }])) };
  }

  private one(listener: WorldListener): void {
    this.ended = tick(this.plan, this.world, this.orders, listener);
    for (const [visitor, hand] of this.hands) this.attend(visitor, hand);
  }

  private take(steering: Steering): void {
    const { visitor } = steering;
    if ('does' in steering) {
      give(this.plan, this.world, visitor, steering.does, 'at-once');
      return;
    }
    if (steering.heads === null) this.hands.delete(visitor);
    else this.hands.set(visitor, { toward: steering.heads, left: 'all' });
    // Its earlier instructions are done first.
    if (!this.stateOf(visitor).busy || this.goesItsRoute(visitor)) head(this.plan, this.world, visitor, steering.heads);
  }

  /** Whether a visitor still does what the walk tells it. */
  private goesItsRoute(visitor: string): boolean {
    const own = this.walk.routes.find((route) => route.visitor === visitor);
    return own !== undefined && this.of(visitor).route?.instructions === own.instructions;
  }

  /** Keeps a visitor on its way: straight on after whatever has interrupted it, and along a wall that it has met aslant. */
  private attend(visitor: string, hand: Hand): void {
    const one = this.of(visitor);
    const { route } = one;
    const going = route?.going ?? null;
    if (!movesFreely(one) || this.stateOf(visitor).busy) return;
    if (going?.blocked === true) {
      const { x, y } = hand.toward;
      if (x === 0 || y === 0 || hand.left === 'none') return;
      hand.left = hand.left === 'all' ? 'x' : hand.left === 'x' ? 'y' : 'none';
      const along = { all: hand.toward, x: { x, y: 0 }, y: { x: 0, y }, none: hand.toward }[hand.left];
      head(this.plan, this.world, visitor, along);
    } else if (going === null) {
      if (head(this.plan, this.world, visitor, hand.toward)) hand.left = 'all';
    }
  }
}
