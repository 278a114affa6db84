import type { Instruction } from '../document/people';

/** Where to on the ground, as a direction of any length. */
export interface Toward {
  x: number;
  y: number;
}

/** What somebody has a visitor do from now on: head somewhere (or stop), or do one thing. */
export type Steering = { visitor: string } & (
  { heads: Toward | null } | { does: Exclude<Instruction, { do: 'go-to' | 'wait' }> }
);
