import type { HeldDetails } from '../../ledger/entry';
import type { EntryKind } from '../../vocabulary/entries';
import type { Verdict } from '../../vocabulary/verdict';
import type { VisitorKind } from '../../vocabulary/visitor-kinds';
import type { Cause } from '../causes/cause';

/** What gates ask of a visitor. */
export interface GateVisitor {
  id: string;
  kind: VisitorKind;
  tags: readonly string[];
}

/** What passes the gates: of an event, a cause and a chain those that are concerned. A gate that asks for another lets through. */
export interface GateInput {
  /** An event as a whole, before anybody hears of it. */
  event?: {
    kind: EntryKind;
    /** Whether the thing that it comes from is enabled, and whether its visitor raises overlaps. */
    enabled: boolean;
    raised: boolean;
  };
  /** A cause that hears an event. */
  heard?: {
    cause: Cause;
    /** The visitor in hand, if there is one. */
    visitor: GateVisitor | undefined;
    /** For a signal: why it is not for this cause, if it is not. */
    unaddressed: Extract<HeldDetails, { reason: 'filtered' }> | null;
    /** Who owns the thing that the event comes from. */
    owner: string | null;
    /** For enter and leave: whether somebody else who counts is inside. */
    others(): boolean;
    tick: number;
    rate: number;
    /** How often this cause has started the chain, and at which tick last (for this visitor, if its cooldown is for each). */
    count: number;
    lastTick: number | null;
  };
  /** The chain that is to start. */
  chain?: {
    enabled: boolean;
    guard(): Verdict;
    runs: boolean;
    whileRunning: 'ignore' | 'restart' | 'queue' | 'overlap';
  };
}

/** Why a gate stays shut, with the fields that say so; null when it lets through. */
export type GateFailure = HeldDetails | null;

/** One gate: its meaning, in one function. */
export type Gate = (passing: GateInput) => GateFailure;
