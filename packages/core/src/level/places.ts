import { z } from 'zod';
import { extent, heading, id, length, metres, name, reference, seconds, tag, vector } from './quantities';

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
});
export type Solid = z.infer<typeof solid>;

/** The shape of a zone: a box, a ball about its middle, or an upright pillar. */
export const zoneShape = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('box'), size: extent }),
  z.strictObject({ kind: z.literal('ball'), radius: length }),
  z.strictObject({ kind: z.literal('pillar'), radius: length, height: length }),
]);
export type ZoneShape = z.infer<typeof zoneShape>;

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
  dwell: seconds.min(0.001).nullable().default(null).meta({ description: 'seconds inside after which it raises dwell' }),
  attachedTo: reference.default(''),
  tags: z.array(tag).max(64).default([]),
});
export type Zone = z.infer<typeof zone>;

/**
 * Where something goes: absolute, or with `of` relative to a thing, by an offset in room axes or in the thing's own
 * heading. Its height counts from the room's zero, or from the highest standable surface below the point.
 */
export const place = vector.extend({
  room: reference.default('').meta({ description: 'the room of an absolute place; empty: the room of who goes there' }),
  of: reference.default('').meta({ description: 'the thing it is relative to; empty: absolute' }),
  axes: z.enum(['room', 'own']).default('room'),
  height: z.enum(['datum', 'ground']).default('datum'),
});
export type Place = z.infer<typeof place>;

/** How somebody is put elsewhere. */
export const journey = {
  to: place,
  arrivesFacing: z.enum(['keep', 'take', 'towards']).default('keep').meta({
    description: 'keep: as before; take: that of the thing the place is relative to; towards: to face a place',
  }),
  facing: place.nullable().default(null).meta({ description: 'what to face, when it arrives facing towards' }),
  velocity: z.enum(['keep', 'stop', 'turn']).default('stop'),
  arrival: z.enum(['quiet', 'loud']).default('quiet'),
};
export type Journey = z.infer<z.ZodObject<typeof journey>>;
