import { kindOfStep } from '../kinds/steps';
import { same } from '../vocabulary/same';
import type { Chain } from './chains';

/** Steps between which a chain keeps somebody's control: from the one that takes it to the one that gives it back. */
export interface ControlLock {
  /** The places of both steps in the chain, from 0; `to` is null where it is not given back. */
  from: number;
  to: number | null;
}

/** Where a chain holds the control of visitors and gives it back to the same, in the order of the steps that take it. */
export function controlLocks({ steps }: Chain): ControlLock[] {
  return steps.flatMap((step, from) => {
    if (kindOfStep(step.kind).control !== 'takes') return [];
    const to = steps.findIndex(
      (later, at) =>
        at > from &&
        kindOfStep(later.kind).control === 'gives back' &&
        'who' in step &&
        'who' in later &&
        same(step.who, later.who),
    );
    return [{ from, to: to < 0 ? null : to }];
  });
}
