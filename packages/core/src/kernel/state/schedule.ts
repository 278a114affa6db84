import type { WorldContext } from './context';
import { isStillToCome } from './item-fields';
import type { QueueItem, World } from './world';

/** Schedules an item for `ticks` from now; at least one, for what is due now would not be scheduled. */
export function schedule({ state }: WorldContext, ticks: number, item: QueueItem): void {
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
export function nextDue({ state }: WorldContext): number {
  return state.dueTicks.at(-1) ?? Infinity;
}

/** What is scheduled for this tick, taken out, in the order in which it was scheduled. */
export function takeDue({ state }: WorldContext): QueueItem[] {
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
