import type { Journey, Place } from '../../vocabulary/places';
import type { Vector } from '../../vocabulary/quantities';

/**
 * What a step tells the kernel when it has run: it is done, but for what it has set in motion; or it goes on for some ticks,
 * for a cue, or until its condition holds.
 */
export type Outcome =
  | { done: true }
  | { ticks: number }
  /** A cue of so many ticks, and the number of the entry that says it has started. */
  | { cue: string; cause: number; length: number }
  | { until: string; limit: number | null };

export const done: Outcome = { done: true };

/** The parts of the state that a step changes and that raise `changed`. */
export type Part = 'flag' | 'counter' | 'text' | 'shown' | 'seeThrough' | 'solid' | 'enabled';

/** Where a machine is sent: to its last position, its first, the other end, a stop counted from 1, or from the start. */
export type Goal = 'open' | 'closed' | 'other' | 'again' | number;

/** What a step may ask of the rehearsal while it runs. Targets are ids. */
export interface StepContext {
  /** The visitor in hand. */
  triggeredBy: string | null;
  ticksOf(seconds: number): number;
  /** Changes a part of the level's state at once, and raises `changed` if it was otherwise. Whether it was. */
  change(part: Part, id: string, to: boolean | string | number): boolean;
  /** The value of a counter for the visitor in hand. */
  counter(id: string): number;
  /** The text with the name of the visitor in hand where it says {visitor}. */
  worded(text: string): string;
  /** Sends machines somewhere; the step waits for their motions. */
  move(ids: readonly string[], to: Goal): void;
  /** Enters those who are inside of a thing that was just enabled. */
  enterThoseInside(id: string): void;
  signal(id: string, to: { all: true } | { tag: string } | { radius: number }): void;
  cue(id: string): Outcome;
  travel(visitor: string, journey: Journey, warp: boolean): void;
  claim(id: string): void;
  giveUp(id: string): void;
  collect(id: string): void;
  spawn(visitor: string, at: Place | null): void;
  remove(visitor: string): void;
  control(visitor: string, held: boolean): void;
  /** Walks a visitor to a place; the step waits until it is there. */
  walk(visitor: string, to: Place): void;
  push(visitor: string, velocity: Vector, seconds: number): void;
  turn(visitor: string, degrees: number, facing: Place | null): void;
  stopVelocity(visitor: string): void;
  startChain(id: string): void;
  stopChain(id: string): void;
  resetChain(id: string): void;
  resetFixture(id: string): void;
}
