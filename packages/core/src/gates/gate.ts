import type { Cause, Chain } from '../level/chains';
import type { Visitor } from '../level/people';
import type { Details, HeldReason } from '../rehearsal/ledger';

/** What a gate of a chain is asked about. */
export interface Passing {
  chain: Chain;
  cause: Cause;
  /** The visitor in hand, if there is one. */
  visitor: Visitor | undefined;
  tick: number;
  rate: number;
  /** How often this cause has started the chain, and at which tick last. */
  used: { count: number; lastTick: number } | undefined;
  flag(id: string): boolean | undefined;
  runs: boolean;
}

/** Why a gate stays shut, with the fields that say so; null when it lets through. */
export type Shut = { reason: HeldReason; details: Details } | null;

/** One gate of a chain: its meaning, in one function. */
export type Gate = (passing: Passing) => Shut;
