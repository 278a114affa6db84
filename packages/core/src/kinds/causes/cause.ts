import * as z from 'zod';
import { causeEvents } from '../../vocabulary/events';
import { anyone, filter } from '../../vocabulary/filters';
import { count, id, reference, seconds } from '../../vocabulary/quantities';

/** What sets a chain off: an event of one thing, for whom, how often, and how soon again. */
export const cause = z
  .strictObject({
    id,
    on: z.enum(causeEvents),
    of: reference,
    hears: reference.default('').meta({
      description:
        'for signals: the thing that hears it, by whose tags and place it is addressed; empty: only signals to everyone',
    }),
    filter: filter.default(anyone),
    counts: z.enum(['each', 'first-and-last']).default('each').meta({
      description: 'for enter and leave: each visitor, or only the first one in and the last one out',
    }),
    limit: count
      .nullable()
      .default(null)
      .meta({ description: 'how many times this cause may start the chain; 0 never, null without end' }),
    cooldown: seconds.default(0),
    cooldownFor: z.enum(['all', 'visitor']).default('all'),
  })
  .meta({ id: 'Cause' });
export type Cause = z.infer<typeof cause>;
