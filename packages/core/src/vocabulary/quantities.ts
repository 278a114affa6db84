import * as z from 'zod';

/** Metres along one axis, within a hundred kilometres of the room's origin. */
export const metres = z.number().min(-100_000).max(100_000).meta({ description: 'metres' });

/** A length in metres, at least one millimetre. */
export const length = z.number().min(0.001).max(100_000).meta({ description: 'metres' });

/** A span of time in seconds, up to a day. */
export const seconds = z.number().min(0).max(86_400).meta({ description: 'seconds' });

/** A span of time that is not nothing, in seconds. */
export const someSeconds = seconds.min(0.001);

/** A speed in metres a second. */
export const speed = z.number().min(0.001).max(10_000).meta({ description: 'metres a second' });

/** A whole number that steps set and add to. */
export const whole = z.number().int().min(-1_000_000_000).max(1_000_000_000);

/** How many times, or how many. */
export const count = z.number().int().min(0).max(1_000_000);

/** A stop of an elevator, counted from 1. */
export const stop = z.number().int().min(1).max(100);

/** Ticks a second. */
export const rate = z.number().int().min(1).max(240).meta({ description: 'ticks a second' });

/** A mass in kilograms. */
export const mass = z.number().min(0).max(1_000_000).meta({ description: 'kilograms' });

/** A turn in degrees, anticlockwise. */
export const degrees = z.number().min(-360).max(360);

/** A heading in degrees, anticlockwise from east. */
export const heading = degrees.meta({ description: 'degrees, anticlockwise from east' });

/** A point or a displacement in metres: x east, y north, z up. */
export const vector = z.strictObject({ x: metres, y: metres, z: metres }).meta({ id: 'Vector' });
export type Vector = z.infer<typeof vector>;
/** A point of a plan, in metres east and north. */
export type Point = Pick<Vector, 'x' | 'y'>;

/** The edges of an upright box in metres: x and y before it is turned by its heading, z its height. */
export const extent = z.strictObject({ x: length, y: length, z: length }).meta({ id: 'Extent' });
export type Extent = z.infer<typeof extent>;

/** Stable and unique within the level. References are by id; people see names. */
export const id = z
  .string()
  .regex(/^[a-z0-9][a-z0-9-]{0,63}$/, 'An id is 1 to 64 small letters, digits and hyphens, and starts with a letter or a digit')
  .meta({ description: 'stable id, unique within the level' });

/** Names another thing by its id. Empty while nothing is chosen yet: a half-wired chain can be kept, and shows up as broken. */
export const reference = z
  .string()
  .regex(/^(?:[a-z0-9][a-z0-9-]{0,63})?$/, 'A reference is the id of a thing, or empty while nothing is chosen yet')
  .meta({ description: 'id of another thing; empty while nothing is chosen yet' });

/** How long a name may be, in characters. */
export const NAME_MOST = 80;

/** Readable and unique within the level, compared without case and outer spaces. */
export const name = z
  .string()
  .max(NAME_MOST, `A name has at most ${NAME_MOST} characters`)
  .refine((text) => text.trim() !== '', 'A name needs at least one visible character')
  .refine((text) => !/[\u0000-\u001f\u007f]/.test(text), 'A name may not hold line breaks or control characters')
  .meta({ description: 'readable name, unique within the level without regard to case and outer spaces', minLength: 1 });

/** A text in the level. */
export const wording = z.string().max(500);

/** How long a tag may be, in characters. */
export const TAG_MOST = 40;

/** A tag that filters ask for. Tags are compared letter by letter, case included. */
export const tag = z
  .string()
  .regex(/^\S(?:.{0,38}\S)?$/u, `A tag is 1 to ${TAG_MOST} characters without outer spaces`)
  .meta({ description: 'tag; compared letter by letter' });

/** The group of things that are taken in hand together; empty, or left out, for none. It means nothing when the level is walked. */
export const group = z
  .union([z.literal(''), tag])
  .optional()
  .meta({ description: 'things of the same group are selected together while drawing; rehearsals ignore it' });

/** An expression in the Common Expression Language over the level's state; empty asks for nothing. */
export const condition = z
  .string()
  .max(2000, 'A condition has at most 2000 characters')
  .meta({ description: 'Common Expression Language; empty asks for nothing' });

/** Between what a number has to be, by its schema: the one place where that is said. */
export function boundsOf(schema: z.ZodNumber): { min: number; max: number } {
  return { min: schema.minValue ?? -Infinity, max: schema.maxValue ?? Infinity };
}

/** How many characters a text may have, by its schema. */
export function mostOf(schema: z.ZodString): number {
  return schema.maxLength ?? Infinity;
}

/** Two names count as the same when this is the same. */
export function nameKey(text: string): string {
  return text.trim().normalize('NFC').toLowerCase();
}
