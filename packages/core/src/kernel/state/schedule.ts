import type { WorldContext } from './context';
import type { ChainRun, QueueItem, World } from './world';

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
