import * as z from 'zod';
import { visitorKinds } from './visitor-kinds';
import { reference, tag } from './quantities';

/** Who counts. What is empty asks for nothing. */
export const filter = z
  .strictObject({
    kinds: z.array(z.enum(visitorKinds)).max(3).default([]),
    anyOf: z.array(tag).max(64).default([]),
    allOf: z.array(tag).max(64).default([]),
    noneOf: z.array(tag).max(64).default([]),
    named: reference.default('').meta({ description: 'one visitor, and nobody else' }),
    ownerOnly: z.boolean().default(false).meta({ description: 'only who owns the thing that the event comes from' }),
  })
  .meta({ id: 'Filter' });
export type Filter = z.infer<typeof filter>;

/** Anyone. */
export const anyone: Filter = filter.parse({});
