import { z } from 'zod';
import { extent, heading, id, length, metres, name, reference, vector } from './quantities';

/** A coordinate space of its own: a floor plan with extents, a ground height, and points where visitors may begin. */
export const room = z.strictObject({
  id,
  name,
  extents: z
    .strictObject({ west: metres, south: metres, east: metres, north: metres })
    .refine((box) => box.west < box.east, {
      message: 'The west edge must lie west of the east edge',
      path: ['west'],
    })
    .refine((box) => box.south < box.north, {
      message: 'The south edge must lie south of the north edge',
      path: ['south'],
    }),
  ground: metres.default(0),
  height: length.default(6),
  spawns: z.array(z.strictObject({ id, name, at: vector, heading: heading.default(0) })).default([]),
});
export type Room = z.infer<typeof room>;

/** A block that visitors cannot pass. `at` is the middle of its base. */
export const solid = z.strictObject({
  id,
  name,
  room: reference,
  at: vector,
  size: extent,
  heading: heading.default(0),
  visible: z.boolean().default(true),
});
export type Solid = z.infer<typeof solid>;

/** A trigger volume. `at` is the middle of its base; a box is turned by `heading` about that point. */
export const zone = z.strictObject({
  id,
  name,
  room: reference,
  at: vector,
  heading: heading.default(0),
  shape: z.discriminatedUnion('kind', [z.strictObject({ kind: z.literal('box'), size: extent })]),
  enabled: z.boolean().default(true),
});
export type Zone = z.infer<typeof zone>;
