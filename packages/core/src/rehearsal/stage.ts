import type { Outcome } from '../steps/step-kind';

/** What a step may ask of the rehearsal while it runs. */
export interface Stage {
  ticksOf(seconds: number): number;
  /** Changes a part of the level's state at once, and raises `changed` if it was otherwise. */
  change(part: 'flags' | 'texts' | 'shown', id: string, to: boolean | string): void;
  /** Sends a door to an end, 0 closed, 1 open. */
  moveDoor(id: string, end: 0 | 1): Outcome;
}
