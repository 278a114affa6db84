import * as z from 'zod';
import { extent, length } from './quantities';

/** The body of a visitor. */
export const body = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('box'), size: extent }),
  z.strictObject({ kind: z.literal('pillar'), radius: length, height: length }),
]);
export type Body = z.infer<typeof body>;

/** The shape of a zone: a box, a ball about its middle, or an upright pillar. */
export const zoneShape = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('box'), size: extent }),
  z.strictObject({ kind: z.literal('ball'), radius: length }),
  z.strictObject({ kind: z.literal('pillar'), radius: length, height: length }),
]);
export type ZoneShape = z.infer<typeof zoneShape>;
