import { cause, listOfAll, orNull, part, same, token } from './fields';
import type { Field, Fields } from './fields';
import type { ChainRun, Trigger, Until, Waiter, World } from './world';

/** How runs of chains, and what waits for them or for their sake, are copied and enter the key of a world. */

/** The number of a run: in the key its place among those that go on. */
export const runNumber: Field<object, number> = {
  why: 'Those that are over are all alike.',
  key: (run, { placeOf }) => placeOf(run),
  restore: (keyed) => runAt(keyed as number),
};

/** The number of the run at a place in a world that is read back; 0, which is nobody's, for one that is over. */
function runAt(place: number): number {
  return place + 1;
}

/** The chain of a run, which is found by its number. */
export const chainOfRun: Field<{ run: number }, string> = {
  isCompared: true,
  why: 'The run says of which chain it is.',
  restore: (_keyed, { chainOf }, { run }) => chainOf(run! - 1),
};

/** Of a step that waits it is asked only which it is. */
export const waiterFields: Fields<Waiter> = { run: runNumber, chain: chainOfRun, step: same(), entry: cause(1) };

export const untilFields: Fields<Until> = {
  run: runNumber,
  chain: chainOfRun,
  step: same(),
  text: same(),
  triggeredBy: same(),
  resumeQueued: same(),
};

export const triggerFields: Fields<Trigger> = {
  entry: cause(1),
  who: same(),
  what: same(),
  kind: same(),
  causes: same(),
};

const runFields: Fields<ChainRun> = {
  run: token('Its place among the others says it.'),
  entry: cause(1),
  triggeredBy: same(),
  source: same(),
  begun: same(),
  steps: { copy: (steps) => steps.slice(), ...same<ChainRun['steps']>() },
  pending: { copy: (pending) => pending.slice(), ...same<number[]>() },
};

const run = part(runFields);

/** The runs of all chains: in the key in the order in which they began. */
export const runs: Field<World, World['runs']> = {
  of: runFields as Fields<never>,
  copy: (all) => new Map(Array.from(all, ([chain, own]) => [chain, listOfAll(run).copy!(own)])),
  key: (all, seen) => runsInOrder(all).map(({ chain, run: one }) => [chain, run.key!(one, seen, one)]),
  restore: (keyed, from) => {
    const all: World['runs'] = new Map();
    (keyed as [string, unknown][]).forEach(([chain, one], place) => {
      const own = { ...run.restore(one, from, {}), run: runAt(place) };
      all.set(chain, [...(all.get(chain) ?? []), own]);
    });
    return all;
  },
};

/** All runs that go on, in the order in which they began. */
export function runsInOrder(all: World['runs']): { chain: string; run: ChainRun }[] {
  return Array.from(all, ([chain, own]) => own.map((run) => ({ chain, run })))
    .flat()
    .sort((a, b) => a.run.run - b.run.run);
}

export const waiterOrNone = orNull(part(waiterFields));
