import * as z from 'zod';
import { zoneShape } from '../vocabulary/forms';
import { extent, group, heading, id, length, metres, name, reference, someSeconds, tag, vector } from '../vocabulary/quantities';

/** A coordinate space of its own: a floor plan with extents and a ground height. */
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
  leftEmpty: z.enum(['by-house-rule', 'keeps', 'starts-over']).default('by-house-rule').meta({
    description: 'what becomes of its fixtures, zones, creatures and props when the last player has left it',
  }),
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
  group,
});
export type Solid = z.infer<typeof solid>;

/**
 * A trigger volume. `at` is the middle of its base, and of a ball its middle; a box is turned by `heading` about that
 * point. Attached to a fixture, it stands there when that fixture is at its own `at`, and moves with it.
 */
export const zone = z.strictObject({
  id,
  name,
  room: reference,
  at: vector,
  heading: heading.default(0),
  shape: zoneShape,
  enabled: z.boolean().default(true),
  swept: z.boolean().default(false).meta({ description: 'fires for those who cross it between two ticks' }),
  dwell: someSeconds.nullable().default(null).meta({ description: 'seconds inside after which it raises dwell' }),
  attachedTo: reference.default(''),
  tags: z.array(tag).max(64).default([]),
  group,
});
export type Zone = z.infer<typeof zone>;
