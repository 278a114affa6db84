import * as z from 'zod';
import { boundsOf, condition, seconds } from '../../vocabulary/quantities';
import { stepBase, stepKind } from './step-kind';

/** Waits until a condition holds; with a limit, no longer than that. */
export const waitUntil = stepKind(
  z.strictObject({ ...stepBase, kind: z.literal('wait-until'), until: condition, limit: seconds.nullable().default(null) }),
  {
    label: 'wait until a condition is true',
    wish: 'Timing',
    also: 'pause condition watch',
    begins: () => ({ until: '' }),
    conditions: (step) => [{ path: '/until', text: step.until }],
    phrase: (step) => [
      'wait until ',
      { path: '/until', label: 'condition', value: step.until, input: { kind: 'condition', none: 'no condition' } },
      ', at most ',
      {
        path: '/limit',
        label: 'longest wait',
        value: step.limit,
        input: { kind: 'number', unit: 's', ...boundsOf(seconds), step: 0.1, none: 'for ever' },
      },
    ],
    lasts: (step) => step.limit ?? 0,
    run: (step, stage) => ({ until: step.until, limit: step.limit === null ? null : stage.ticksOf(step.limit) }),
  },
);
