import type { Verdict } from '../../vocabulary/verdict';
import type { Cause } from '../causes/cause';
import type { Details } from '../../ledger/ledger';
import type { HeldReason } from '../../vocabulary/entries';
import type { VisitorKind } from '../../vocabulary/visitor-kinds';

/** What gates ask of a visitor. */
export interface Counted {
  id: string;
  kind: VisitorKind;
  tags: readonly string[];
}

/** What a gate of a chain is asked about. */
export interface Passing {
  chain: { whileRunning: 'ignore' | 'restart' | 'queue' | 'overlap' };
  cause: Cause;
  /** The visitor in hand, if there is one. */
  visitor: Counted | undefined;
  /** For a signal: why it is not for this cause, if it is not. */
  unaddressed: Details | null;
  /** Who owns the thing that the event comes from. */
  owner: string | null;
  /** For enter and leave: whether somebody else who counts is inside. */
  others(): boolean;
  enabled: boolean;
  tick: number;
  rate: number;
  /** How often this cause has started the chain, and at which tick last (for this visitor, if its cooldown is for each). */
  count: number;
  lastTick: number | null;
  guard(): Verdict;
  runs: boolean;
}

/** Why a gate stays shut, with the fields that say so; null when it lets through. */
export type Shut = { reason: HeldReason; details: Details } | null;

/** One gate of a chain: its meaning, in one function. */
export type Gate = (passing: Passing) => Shut;
