import { z } from 'zod';
import { step } from '../steps';
import { visitorKinds } from './people';
import { id, name, reference, seconds, tag } from './quantities';

export const causeEvents = ['enter', 'leave', 'press', 'release', 'opened', 'closed', 'arrived'] as const;
export type CauseEvent = (typeof causeEvents)[number];

/** Who counts. An empty list asks for nothing. */
export const filter = z.strictObject({
  kinds: z.array(z.enum(visitorKinds)).max(3).default([]),
  anyOf: z.array(tag).max(64).default([]),
  allOf: z.array(tag).max(64).default([]),
  noneOf: z.array(tag).max(64).default([]),
});
export type Filter = z.infer<typeof filter>;

/** What sets a chain off: an event of one thing, for whom, how often, and how soon again. */
export const cause = z.strictObject({
  id,
  on: z.enum(causeEvents),
  of: reference,
  filter: filter.default({ kinds: [], anyOf: [], allOf: [], noneOf: [] }),
  limit: z
    .number()
    .int()
    .min(0)
    .max(1_000_000)
    .nullable()
    .default(null)
    .meta({ description: 'how many times this cause may start the chain; 0 never, null without end' }),
  cooldown: seconds.default(0),
});
export type Cause = z.infer<typeof cause>;

/** One test of a guard: the flag must be on (or off) at the moment the chain would start. */
export const flagTest = z.strictObject({ flag: reference, is: z.boolean() });
export type FlagTest = z.infer<typeof flagTest>;

/** One or more causes, gates, and steps. A chain that is told again while it runs ignores it. */
export const chain = z.strictObject({
  id,
  name,
  enabled: z.boolean().default(true),
  causes: z.array(cause).max(1000).default([]),
  guard: z.array(flagTest).max(100).default([]),
  steps: z.array(step).max(1000).default([]),
});
export type Chain = z.infer<typeof chain>;
