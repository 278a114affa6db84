import type { Instruction } from '../document/people';
import type { Steering } from './steering';
import { roundTo } from '../vocabulary/rounding';
import type { Vector } from '../vocabulary/quantities';

/** How a visitor was before or after a tick: whether it moved by itself, and whether it was doing something but walking. */
interface Seen {
  at: Vector;
  own: boolean;
  busy: boolean;
}

interface Given {
  /** Ticks a second. */
  rate: number;
  /** In metres a second. */
  speed: number;
  /** The route that was left when it began to be steered, and how far that had come. */
  route: readonly Instruction[];
  done: { at: number; waiting: number | null; going: unknown } | null;
  from: Vector;
}

/** Two points closer than this are the same, in metres. */
const SAME_PLACE_M = 1e-9;
/** Way points lie on a grid of so many to the metre. */
const GRID = 1000;

/**
 * Makes a route of how a visitor was steered, tick by tick: a way point where it turned or stopped, a wait for as long as it stood.
 * Time in which it was held, pushed, carried or in the air is left out: a route pauses then anyway.
 */
export class RouteRecorder {
  private readonly made: Instruction[] = [];
  /** Where the route has brought it so far. */
  private from: Vector;
  private at: Vector;
  private stood = 0;
  /** The leg under way: its direction, and its ticks; those at its end in which something was in the way. */
  private leg: { by: { x: number; y: number }; ticks: number; stuck: number } | null = null;
  private toward = '';
  private ids = 0;

  constructor(private readonly given: Given) {
    const { route, done, from } = given;
    this.from = from;
    this.at = from;
    if (done === null) return;
    this.made.push(...route.slice(0, Math.max(0, done.at)));
    const under = route[done.at];
    if (under?.do === 'wait' && done.waiting !== null) {
      const waited = roundTo(under.seconds - done.waiting / given.rate, 6);
      if (waited > 0) this.made.push({ ...under, seconds: waited });
    } else if (under?.do === 'go-to' && done.going !== null) this.made.push(this.goTo(from));
  }

  /** It is steered, before the next tick. */
  steer(steering: Steering): void {
    if ('does' in steering) {
      this.close();
      this.flush();
      this.made.push({ ...steering.does, id: this.id(steering.does.do) });
      return;
    }
    const toward = steering.heads === null ? '' : `${steering.heads.x} ${steering.heads.y}`;
    if (toward !== this.toward) this.close();
    this.toward = toward;
  }

  /** A tick has gone by. */
  ticked(before: Seen, after: Seen): void {
    const moved = Math.abs(after.at.x - before.at.x) > SAME_PLACE_M || Math.abs(after.at.y - before.at.y) > SAME_PLACE_M;
    if (!before.own) {
      this.close();
    } else if (before.busy) {
      // What it does has a tick of its own in the route too.
    } else if (this.toward !== '' && (moved || this.leg !== null)) {
      const by = { x: after.at.x - before.at.x, y: after.at.y - before.at.y };
      if (this.leg !== null && moved && isAslant(by, this.leg.by)) this.close();
      if (this.leg === null) this.begin(before.at, by);
      this.leg!.ticks += 1;
      this.leg!.stuck = moved ? 0 : this.leg!.stuck + 1;
    } else {
      this.stood += 1;
    }
    if (this.leg === null || moved) this.at = after.at;
  }

  /** The instructions; standing at the end is left out. */
  finished(): Instruction[] {
    this.close();
    return this.made;
  }

  private begin(at: Vector, by: { x: number; y: number }): void {
    this.flush();
    // Whatever has moved it meanwhile moves it in the route too.
    if (Math.hypot(at.x - this.from.x, at.y - this.from.y) > 2 / GRID) this.from = at;
    this.leg = { by, ticks: 0, stuck: 0 };
  }

  private flush(): void {
    if (this.stood > 0) this.made.push({ id: this.id('wait'), do: 'wait', seconds: roundTo(this.stood / this.given.rate, 6) });
    this.stood = 0;
  }

  /** Ends the leg under way: its way point is as far as its ticks lead, so that walking there takes as long as it took. */
  private close(): void {
    const { leg, from, at } = this;
    if (leg === null) return;
    this.leg = null;
    const length = Math.hypot(at.x - from.x, at.y - from.y);
    const most = ((leg.ticks - leg.stuck) * this.given.speed) / this.given.rate;
    const share = length === 0 ? 0 : Math.min(1, most / length);
    const to = { x: toGrid(from.x, (at.x - from.x) * share), y: toGrid(from.y, (at.y - from.y) * share), z: toGrid(at.z, 0) };
    if (to.x !== from.x || to.y !== from.y) this.made.push(this.goTo(to));
    this.from = { ...to, z: at.z };
    this.stood += leg.stuck;
  }

  private goTo(to: Vector): Instruction {
    const place = { room: '', of: '', axes: 'room', height: 'datum' } as const;
    return { id: this.id('go'), do: 'go-to', to: { ...to, ...place } };
  }

  private id(of: string): string {
    return `${of}-${(this.ids += 1)}`;
  }
}

/** Whether two moves lead in different directions. */
function isAslant(a: { x: number; y: number }, b: { x: number; y: number }): boolean {
  const lengths = Math.hypot(a.x, a.y) * Math.hypot(b.x, b.y);
  return a.x * b.x + a.y * b.y < (1 - 1e-6) * lengths;
}

/** A number that something is away from another, on the grid, and no farther away. */
function toGrid(from: number, by: number): number {
  const grid = (from + by) * GRID;
  const near = Math.round(grid);
  const on = Math.abs(grid - near) < 1e-6 ? near : by > 0 ? Math.floor(grid) : by < 0 ? Math.ceil(grid) : near;
  return on / GRID + 0;
}
