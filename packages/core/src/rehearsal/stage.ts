/**
 * What a step tells the kernel when it has run: it is done, or it goes on until a tick or until a motion of a fixture
 * ends.
 */
export type Outcome = { done: true } | { ticks: number } | { motionOf: string };

export const done: Outcome = { done: true };

/** What a step may ask of the rehearsal while it runs. */
export interface Stage {
  ticksOf(seconds: number): number;
  /** Changes a part of the level's state at once, and raises `changed` if it was otherwise. */
  change(part: 'flags' | 'texts' | 'shown', id: string, to: boolean | string): void;
  /** Sends a door to an end, 0 closed, 1 open. */
  moveDoor(id: string, end: 0 | 1): Outcome;
}
