import type { Conditions } from '../conditions/conditions';
import type { StatePart } from '../conditions/vocabulary';
import type { NewEntry } from '../ledger/entry';
import { chosenRule } from './orders';
import type { OrderPolicy } from './orders';
import type { CompiledLevel } from './plan';
import type { EventFollowUp, ChainRun, KernelEvent, QueueItem, World, Waiter } from './world';
import type { WorldListener } from './told';

/** One rehearsal under way. */
export interface KernelContext {
  plan: CompiledLevel;
  state: World;
  orders: OrderPolicy;
  told: WorldListener;
  conditions: Conditions;
  /** The visitor whom conditions find in hand. */
  hand: string | null;
  /** The next tick in which anything can happen, while that is known. */
  coming: number | null;
  /** As of which version of the state each watch was asked last. */
  asked: Map<string, number>;
  /** Drains one event at once, where the house drains immediately. */
  drainNow(event: KernelEvent, after?: EventFollowUp): void;
}

/** Writes one entry and gives its number, counted from 1. */
export function write(rehearsing: KernelContext, writing: NewEntry): number {
  const { state, told } = rehearsing;
  state.entries += 1;
  told.entry(state.entries, state.tick, writing);
  return state.entries;
}

/** Puts something that happened at the end of the queue. */
export function raise(rehearsing: KernelContext, event: KernelEvent, after?: EventFollowUp): void {
  rehearsing.state.queue.push(after === undefined ? { do: 'event', event } : { do: 'event', event, after });
}

/** What a step raises: it goes to the end of the queue, or where the house drains immediately, runs now. */
export function raiseFromStep(rehearsing: KernelContext, event: KernelEvent, after?: EventFollowUp): void {
  if (chosenRule(rehearsing.orders, 'draining') === 'queued') raise(rehearsing, event, after);
  else rehearsing.drainNow(event, after);
}

/** Lets steps that waited for something go on, when their turn in the queue comes. */
export function finishLater({ state }: KernelContext, waiters: readonly Waiter[]): void {
  for (const { chain, run, step } of waiters) state.queue.push({ do: 'finish-step', chain, run, step });
}

/** Schedules an item for `ticks` from now; at least one, for what is due now would not be scheduled. */
export function schedule({ state }: KernelContext, ticks: number, item: QueueItem): void {
  const tick = state.tick + Math.max(1, ticks);
  const due = state.schedule.get(tick);
  if (due !== undefined) {
    due.push(item);
    return;
  }
  state.schedule.set(tick, [item]);
  let at = state.dueTicks.length;
  while (at > 0 && state.dueTicks[at - 1]! < tick) at -= 1;
  state.dueTicks.splice(at, 0, tick);
}

/** The next tick for which something is scheduled; Infinity for none. */
export function nextDue({ state }: KernelContext): number {
  return state.dueTicks.at(-1) ?? Infinity;
}

/** What is scheduled for this tick, taken out, in the order in which it was scheduled. */
export function takeDue({ state }: KernelContext): QueueItem[] {
  const due = state.schedule.get(state.tick);
  if (due === undefined) return [];
  state.schedule.delete(state.tick);
  state.dueTicks.pop();
  return due;
}

/** Whether anything that is scheduled can still happen: what was called off meanwhile cannot. */
export function somethingComes(world: World): boolean {
  for (const items of world.schedule.values()) if (items.some((item) => isStillToCome(world, item))) return true;
  return false;
}

/** Whether an item of the schedule has not been called off. */
export function isStillToCome(state: Omit<World, 'schedule'>, item: QueueItem): boolean {
  const run = (chain: string, number: number): ChainRun | undefined => state.runs.get(chain)?.find((one) => one.run === number);
  switch (item.do) {
    case 'dwell':
      return state.visitors[item.visitor]!.within.get(item.volume) === item.stay;
    case 'return':
      return state.machines.get(item.machine)!.token === item.token;
    case 'spring-back':
      return state.switches.get(item.switch)!.token === item.token;
    case 'begin-run':
    case 'start-step':
      return run(item.chain, item.run) !== undefined;
    case 'finish-step':
      return run(item.chain, item.run)?.steps[item.step] === 'running';
    default:
      return true;
  }
}

/** A part of the state that conditions read has changed. */
export function touch({ state }: KernelContext, part: StatePart): void {
  state.versions[part] += 1;
}
