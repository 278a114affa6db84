import type { Journey, Place } from '../level/places';
import type { Vector } from '../level/quantities';

/**
 * What a step tells the kernel when it has run: it is done; or it goes on for some ticks, or until motions of fixtures or
 * walks of visitors have ended, or until its condition holds.
 */
export type Outcome =
  | { done: true }
  | { ticks: number }
  | { motions: string[] }
  | { walks: string[] }
  /** A cue of so many ticks, and the number of the entry that says it has started. */
  | { cue: string; cause: number; length: number }
  | { until: string; limit: number | null };

export const done: Outcome = { done: true };

/** The parts of the state that a step changes and that raise `changed`. */
export type Part = 'flag' | 'counter' | 'text' | 'shown' | 'solid' | 'enabled';

/** What a step may ask of the rehearsal while it runs. Targets are ids. */
export interface Stage {
  /** The visitor in hand. */
  hand: string | null;
  ticksOf(seconds: number): number;
  /** Changes a part of the level's state at once, and raises `changed` if it was otherwise. */
  change(part: Part, id: string, to: boolean | string | number): void;
  /** The value of a counter for the visitor in hand. */
  counter(id: string): number;
  /** The text with the name of the visitor in hand where it says {visitor}. */
  worded(text: string): string;
  /** Sends machines: to their last position (1), their first (0), the other end, a stop counted from 1, or from the start. */
  move(ids: readonly string[], to: 'open' | 'closed' | 'other' | 'again' | number): Outcome;
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
  walk(visitor: string, to: Place): void;
  push(visitor: string, velocity: Vector, seconds: number): void;
  turn(visitor: string, degrees: number, facing: Place | null): void;
  stopVelocity(visitor: string): void;
  startChain(id: string): void;
  stopChain(id: string): void;
  resetChain(id: string): void;
  resetFixture(id: string): void;
}
