import * as z from 'zod';
import { entryKinds } from '../vocabulary/entries';
import { route } from './people';
import { condition, count, id, name, reference, seconds } from '../vocabulary/quantities';

/** Which entries of a ledger are meant; what is left empty matches all. */
export const match = z
  .strictObject({
    kind: z.enum(entryKinds),
    who: reference.default(''),
    what: reference.default(''),
    chain: reference.default(''),
    reason: z.string().max(40).default('').meta({ description: 'why it was held or given up, or why the rehearsal ended' }),
  })
  .meta({ id: 'Match' });
export type Match = z.infer<typeof match>;

const label = z.string().max(200).default('').meta({ description: 'a description of the expectation' });

/** What a walk must, and must never, bring about. */
export const expectation = z
  .discriminatedUnion('expect', [
    z.strictObject({ id, label, expect: z.literal('happens'), entry: match }),
    z.strictObject({ id, label, expect: z.literal('before'), entry: match, then: match }),
    z.strictObject({ id, label, expect: z.literal('within'), entry: match, after: match.nullable().default(null), seconds }),
    z.strictObject({ id, label, expect: z.literal('exactly'), entry: match, times: count }),
    z.strictObject({ id, label, expect: z.literal('never'), entry: match }),
    z.strictObject({ id, label, expect: z.literal('at-end'), state: condition }),
  ])
  .meta({ id: 'Expectation' });
export type Expectation = z.infer<typeof expectation>;

/** How long a walk may last. */
export const walkSeconds = seconds.min(0.1).max(3600);

/**
 * A timed route for each of some visitors, and what is expected of it. A rehearsal runs it until everything has settled, or
 * for `atMost` seconds. `jitter` varies it by the seed: how much later a route may begin, and by which part a speed differs.
 */
export const walk = z
  .strictObject({
    id,
    name,
    atMost: walkSeconds.default(120),
    jitter: z
      .strictObject({ start: seconds.max(3600).default(0), speed: z.number().min(0).max(0.9).default(0) })
      .default({ start: 0, speed: 0 }),
    routes: z.array(route).max(10_000).default([]),
    expectations: z.array(expectation).max(1000).default([]),
  })
  .superRefine((value, context) => {
    const seen = new Set<string>();
    value.routes.forEach((one, index) => {
      if (seen.has(one.visitor)) {
        context.addIssue({
          code: 'custom',
          path: ['routes', index, 'visitor'],
          message: 'This visitor has a route in this walk already. Put all of its instructions into one route',
        });
      }
      seen.add(one.visitor);
    });
  });
export type Walk = z.infer<typeof walk>;

/** Whether nobody does anything in a walk: no route has an instruction. */
export function isUndrawn({ routes }: Walk): boolean {
  return routes.every(({ instructions }) => instructions.length === 0);
}
