import type { Plate } from '../../kinds/fixtures';
import type { WorldContext } from '../state/context';
import type { Sensed } from './meetings';
import { insideOf } from '../state/world';
import type { Arrival } from '../state/world';
import { raise, touch } from '../state/raising';

/**
 * Lets the plates weigh: presses and releases, in listing order. `leaves` and `enters` are those of this Sense. A press is that
 * of who came last: by an enter of this Sense, else by an arrival since the last weighing; a release that of who left last.
 */
export function weigh(ctx: WorldContext, leaves: readonly Sensed[], enters: readonly Sensed[]): void {
  const { state, plan } = ctx;
  if (!state.weigh) return;
  state.weigh = false;
  const arrivals = state.arrivals.splice(0);
  for (const plate of plan.plates) {
    const number = plan.volumeOf.get(plate.id)!;
    const on = insideOf(state, number);
    const load = loadOf(ctx, plate);
    const pressed = on.size > 0 && load >= plate.threshold - 1e-9;
    if (pressed === state.pressed.get(plate.id)) continue;
    state.pressed.set(plate.id, pressed);
    touch(ctx, 'fixtures');
    const came = (pressed ? enters : leaves).findLast((sensed) => sensed.volume === number);
    const arrived = pressed && came === undefined ? arrivals.findLast((one) => isStill(ctx, one, number)) : undefined;
    const who = came?.visitor.order ?? arrived?.visitor ?? Math.max(-1, ...on);
    raise(ctx, {
      kind: pressed ? 'press' : 'release',
      who: who < 0 ? null : state.visitors[who]!.id,
      what: plate.id,
      cause: came?.happening.cause ?? arrived?.cause ?? null,
      details: { load, threshold: plate.threshold },
    });
  }
}

/** Whether an arrival was on a plate, on which its visitor still is. */
function isStill({ state }: WorldContext, { visitor, volume }: Arrival, number: number): boolean {
  return volume === number && insideOf(state, number).has(visitor);
}

/** The kilograms on a plate, with what those carry who are on it; or how many they are. */
export function loadOf({ state, plan }: WorldContext, plate: Plate): number {
  const on = insideOf(state, plan.volumeOf.get(plate.id)!);
  if (plate.by === 'heads') return on.size;
  if (on.size === 0) return 0;
  let load = 0;
  // What is carried weighs only with its carrier.
  for (const visitor of state.visitors) {
    if (on.has(visitor.carriedBy ?? visitor.order)) load += plan.visitors[visitor.order]!.visitor.mass;
  }
  return load;
}
