import * as z from 'zod';
import { body } from '../vocabulary/forms';
import { place } from '../vocabulary/places';
import { visitorKinds } from '../vocabulary/visitor-kinds';
import { group, heading, id, mass, name, reference, seconds, speed, tag, vector, whole, wording } from '../vocabulary/quantities';

/**
 * What moves and overlaps. `at` is where its feet stand; a box body keeps to the room's axes whatever its heading.
 */
export const visitor = z.strictObject({
  id,
  name,
  kind: z.enum(visitorKinds),
  room: reference,
  at: vector,
  heading: heading.default(0),
  body,
  mass: mass.default(70),
  tags: z.array(tag).max(64).default([]),
  speed: speed.default(1.4),
  raisesOverlaps: z.boolean().default(true),
  travels: z.boolean().default(true).meta({ description: 'whether a warp takes it along to another room' }),
  blocks: z.boolean().default(false).meta({ description: 'whether it stands in the way of others' }),
  inPlay: z.boolean().default(true).meta({ description: 'false: it is not there until a step spawns it' }),
  group,
});
export type Visitor = z.infer<typeof visitor>;

const per = z.enum(['level', 'visitor']).default('level').meta({
  description: 'level: one value for all; visitor: a value for each visitor, read for the triggering visitor',
});

/** A fact that is either on or off. */
export const flag = z.strictObject({ id, name, on: z.boolean().default(false), per });
export type Flag = z.infer<typeof flag>;

/** A whole number that steps set and add to. */
export const counter = z.strictObject({ id, name, value: whole.default(0), per });
export type Counter = z.infer<typeof counter>;

/** A text that steps write. */
export const text = z.strictObject({ id, name, value: wording.default(''), per });
export type Text = z.infer<typeof text>;

/** A named message. */
export const signal = z.strictObject({ id, name });
export type Signal = z.infer<typeof signal>;

/** What a visitor is told to do, one thing after another. */
export const instruction = z
  .discriminatedUnion('do', [
    z.strictObject({ id, do: z.literal('go-to'), to: place }),
    z.strictObject({ id, do: z.literal('wait'), seconds }),
    z.strictObject({ id, do: z.literal('use'), fixture: reference }),
    z.strictObject({ id, do: z.literal('carry'), prop: reference }),
    z.strictObject({ id, do: z.literal('drop'), prop: reference }),
    z.strictObject({ id, do: z.literal('throw'), prop: reference, velocity: vector }),
    z.strictObject({ id, do: z.literal('turn'), heading }),
  ])
  .meta({ id: 'Instruction' });
export type Instruction = z.infer<typeof instruction>;

export const route = z.strictObject({ visitor: reference, instructions: z.array(instruction).max(10_000) });
export type Route = z.infer<typeof route>;
