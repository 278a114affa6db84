import { cause, fromNow, leftOut, listOfAll, orNull, part, same, token } from './fields';
import type { Fields } from './fields';
import { clockOf } from './positions';
import type { CompiledLevel } from './plan';
import { waiterFields } from './run-fields';
import type { MachineState, Motion, World } from './world';

/** How machines start, are copied, and enter the key of a world. */

/** A machine before the first tick. */
export function startingMachine({ starts }: { starts: number }): MachineState {
  const [clock, sensedClock] = [starts, starts];
  return { clock, sensedClock, motion: null, token: 0, lastMotion: null, wake: Infinity, reckoned: -1, riders: 0 };
}

/** A machine as of the tick of its world: of one that was passed over, the last Sense is made up for. */
export function machineNow(plan: CompiledLevel, world: World, id: string, own: MachineState): MachineState {
  const clock = clockOf(plan, world, id);
  return { ...own, clock, sensedClock: world.tick > world.looked ? clock : own.sensedClock };
}

const motion: Fields<Motion> = {
  machine: same(),
  from: same(),
  to: same(),
  startTick: fromNow(),
  ticks: same(),
  // Between two ticks every motion has been drained, so that it has one.
  entry: cause(1),
  triggeredBy: same(),
  waiters: listOfAll(part(waiterFields)),
  stopped: same(),
};

/** Every field of a machine that was brought to the tick of its world by `machineNow`. */
export const machineFields: Fields<MachineState> = {
  clock: same(),
  sensedClock: {
    why: 'Most stand where they were sensed.',
    key: (sensed, _seen, { clock }) => (sensed === clock ? null : sensed),
    restore: (keyed, _from, { clock }) => (keyed as number | null) ?? clock!,
  },
  motion: orNull(part(motion)),
  token: token('It tells a return that was called off from one that was not.'),
  lastMotion: cause(null),
  // What was reckoned ahead is reckoned again.
  wake: leftOut('It is reckoned again.', ({ tick }) => tick + 1),
  reckoned: leftOut('It is reckoned again.', () => -1),
  riders: same(),
};
