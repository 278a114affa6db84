import type { WorldContext } from './context';

/** More items than this in one tick is a runaway. */
const RUNAWAY_ITEMS = 10_000;
/** Events that run inside of each other, more deeply than this, are a runaway too. */
const RUNAWAY_DEPTH = 200;

/** A tick that does not come to an end. */
export class Runaway extends Error {}

/** Counts an item, an event drained at once among them. Throws a Runaway if there are too many. */
export function count({ state }: WorldContext): void {
  state.itemsThisTick += 1;
  if (state.itemsThisTick > RUNAWAY_ITEMS || state.depth > RUNAWAY_DEPTH) throw new Runaway();
}
