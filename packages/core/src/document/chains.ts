import * as z from 'zod';
import { cause } from '../kinds/causes/cause';
import { step } from '../kinds/steps';
import { condition, id, name, seconds } from '../vocabulary/quantities';

/** One or more causes, gates, and steps. */
export const chain = z.strictObject({
  id,
  name,
  enabled: z.boolean().default(true),
  causes: z.array(cause).max(1000).default([]),
  guard: condition.default(''),
  whileRunning: z.enum(['ignore', 'restart', 'queue', 'overlap']).default('ignore'),
  delay: seconds.default(0),
  givesUp: z.boolean().default(false).meta({
    description: 'whether the delayed start is given up when the visitor leaves first',
  }),
  steps: z.array(step).max(1000).default([]),
});
export type Chain = z.infer<typeof chain>;

/** A condition over the state, which raises an event when it turns true or false. */
export const watch = z.strictObject({
  id,
  name,
  when: condition.default(''),
  fromStart: z.boolean().default(false).meta({ description: 'raises became-true at the start if it is true then' }),
});
export type Watch = z.infer<typeof watch>;
