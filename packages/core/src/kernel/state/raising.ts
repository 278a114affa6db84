import type { StatePart } from '../../conditions/vocabulary';
import type { NewEntry } from '../../ledger/entry';
import type { WorldContext, ReportingContext, EventContext } from './context';
import { chosenRule } from './orders';
import type { EventFollowUp, KernelEvent, Waiter } from './world';

/** Writes one entry and gives its number, counted from 1. */
export function write(ctx: ReportingContext, writing: NewEntry): number {
  const { state, listener } = ctx;
  state.entries += 1;
  listener.entry(state.entries, state.tick, writing);
  return state.entries;
}

/** Puts something that happened at the end of the queue. */
export function raise(ctx: WorldContext, event: KernelEvent, after?: EventFollowUp): void {
  ctx.state.queue.push(after === undefined ? { do: 'event', event } : { do: 'event', event, after });
}

/** What a step raises: it goes to the end of the queue, or where the house drains immediately, runs now. */
export function raiseFromStep(ctx: EventContext, event: KernelEvent, after?: EventFollowUp): void {
  if (chosenRule(ctx.orders, 'draining') === 'queued') raise(ctx, event, after);
  else ctx.drainNow(event, after);
}

/** Lets steps that waited for something go on, when their turn in the queue comes. */
export function finishLater({ state }: WorldContext, waiters: readonly Waiter[]): void {
  for (const { chain, run, step } of waiters) state.queue.push({ do: 'finish-step', chain, run, step });
}

/** A part of the state that conditions read has changed. */
export function touch({ state }: WorldContext, part: StatePart): void {
  state.versions[part] += 1;
}
