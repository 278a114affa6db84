import type { StatePart } from '../../conditions/vocabulary';
import type { NewEntry } from '../../ledger/entry';
import type { WorldContext, ToldContext, EventContext } from './context';
import { chosenRule } from './orders';
import type { EventFollowUp, KernelEvent, Waiter } from './world';

/** Writes one entry and gives its number, counted from 1. */
export function write(rehearsing: ToldContext, writing: NewEntry): number {
  const { state, told } = rehearsing;
  state.entries += 1;
  told.entry(state.entries, state.tick, writing);
  return state.entries;
}

/** Puts something that happened at the end of the queue. */
export function raise(rehearsing: WorldContext, event: KernelEvent, after?: EventFollowUp): void {
  rehearsing.state.queue.push(after === undefined ? { do: 'event', event } : { do: 'event', event, after });
}

/** What a step raises: it goes to the end of the queue, or where the house drains immediately, runs now. */
export function raiseFromStep(rehearsing: EventContext, event: KernelEvent, after?: EventFollowUp): void {
  if (chosenRule(rehearsing.orders, 'draining') === 'queued') raise(rehearsing, event, after);
  else rehearsing.drainNow(event, after);
}

/** Lets steps that waited for something go on, when their turn in the queue comes. */
export function finishLater({ state }: WorldContext, waiters: readonly Waiter[]): void {
  for (const { chain, run, step } of waiters) state.queue.push({ do: 'finish-step', chain, run, step });
}

/** A part of the state that conditions read has changed. */
export function touch({ state }: WorldContext, part: StatePart): void {
  state.versions[part] += 1;
}
