import * as z from 'zod';
import { reference, vector } from './quantities';

/**
 * Where something goes: absolute, or with `of` relative to a thing, by an offset in room axes or in the thing's own
 * heading. Its height counts from the room's zero, or from the highest standable surface below the point.
 */
export const place = vector
  .extend({
    room: reference.default('').meta({ description: 'the room of an absolute place; empty: the room of who goes there' }),
    of: reference.default('').meta({ description: 'the thing it is relative to; empty: absolute' }),
    axes: z.enum(['room', 'own']).default('room'),
    height: z.enum(['datum', 'ground']).default('datum'),
  })
  .meta({ id: 'Place' });
export type Place = z.infer<typeof place>;

/** The origin of the room of who goes there. */
export const origin: Place = place.parse({ x: 0, y: 0, z: 0 });

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
