import { z } from 'zod';
import { step } from '../steps';
import { anyone, filter } from './filters';
import { condition, id, name, reference, seconds } from './quantities';

/** What a chain can listen to. */
export const causeEvents = [
  'enter',
  'leave',
  'dwell',
  'bump',
  'use',
  'on',
  'off',
  'press',
  'release',
  'moving',
  'opened',
  'closed',
  'arrived',
  'signal',
  'changed',
  'became-true',
  'became-false',
  'chain-finished',
  'teleported',
  'warped',
  'claimed',
  'collected',
  'spawned',
  'removed',
  'cue-started',
  'cue-finished',
] as const;
export type CauseEvent = (typeof causeEvents)[number];

/** What sets a chain off: an event of one thing, for whom, how often, and how soon again. */
export const cause = z.strictObject({
  id,
  on: z.enum(causeEvents),
  of: reference,
  hears: reference.default('').meta({
    description: 'for signals: the thing that hears it, by whose tags and place it is addressed; empty: only signals to everyone',
  }),
  filter: filter.default(anyone),
  counts: z.enum(['each', 'first-and-last']).default('each').meta({
    description: 'for enter and leave: each visitor, or only the first one in and the last one out',
  }),
  limit: z
    .number()
    .int()
    .min(0)
    .max(1_000_000)
    .nullable()
    .default(null)
    .meta({ description: 'how many times this cause may start the chain; 0 never, null without end' }),
  cooldown: seconds.default(0),
  cooldownFor: z.enum(['all', 'visitor']).default('all'),
});
export type Cause = z.infer<typeof cause>;

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
