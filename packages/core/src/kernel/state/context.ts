import type { Conditions } from '../../conditions/conditions';
import type { WorldListener } from './listener';
import type { OrderPolicy } from './orders';
import type { CompiledLevel } from './plan';
import type { EventFollowUp, KernelEvent, World } from './world';

/** What a function of the kernel works on: each takes the least of these that it needs. */

/** A world of a level: to read it, and to change its state without a word. */
export interface WorldContext {
  plan: CompiledLevel;
  state: World;
}

/** A world whose entries and poses go to a listener. */
export interface ReportingContext extends WorldContext {
  listener: WorldListener;
}

/** A world in which events are raised, in the order that a house gives them. */
export interface EventContext extends ReportingContext {
  orders: OrderPolicy;
  /** Drains one event at once, where the house drains immediately. */
  drainNow(event: KernelEvent, after?: EventFollowUp): void;
}

/** A world in which chains run and conditions are evaluated, for the visitor that triggered them. */
export interface KernelContext extends EventContext {
  conditions: Conditions;
  /** The visitor that triggered what is evaluated: `hand()` in conditions. */
  triggeredBy: string | null;
  /** As of which version of the state each watch was asked last. */
  watchVersions: Map<string, number>;
}
