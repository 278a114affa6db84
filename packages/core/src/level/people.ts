import { z } from 'zod';
import { extent, heading, id, mass, name, reference, seconds, speed, tag, vector } from './quantities';

export const visitorKinds = ['player', 'creature', 'prop'] as const;
export type VisitorKind = (typeof visitorKinds)[number];

/**
 * What moves and overlaps. `at` is where its feet stand; its body is an upright box that keeps to the room's axes
 * whatever its heading.
 */
export const visitor = z.strictObject({
  id,
  name,
  kind: z.enum(visitorKinds),
  room: reference,
  at: vector,
  heading: heading.default(0),
  body: z.discriminatedUnion('kind', [z.strictObject({ kind: z.literal('box'), size: extent })]),
  mass: mass.default(70),
  tags: z.array(tag).max(64).default([]),
  speed: speed.default(1.4),
  raisesOverlaps: z.boolean().default(true),
});
export type Visitor = z.infer<typeof visitor>;

/** A fact about the level that is either on or off. */
export const flag = z.strictObject({ id, name, on: z.boolean().default(false) });
export type Flag = z.infer<typeof flag>;

/** What a visitor is told to do, one thing after another. */
export const instruction = z.discriminatedUnion('do', [
  z.strictObject({ id, do: z.literal('go-to'), to: vector }),
  z.strictObject({ id, do: z.literal('wait'), seconds }),
  z.strictObject({ id, do: z.literal('carry'), prop: reference }),
  z.strictObject({ id, do: z.literal('drop'), prop: reference }),
]);
export type Instruction = z.infer<typeof instruction>;

export const route = z.strictObject({ visitor: reference, instructions: z.array(instruction).max(10_000) });
export type Route = z.infer<typeof route>;

/** A timed route for each of some visitors. A rehearsal runs it until everything has settled, or for `atMost` seconds. */
export const walk = z
  .strictObject({
    id,
    name,
    atMost: seconds.min(0.1).max(3600).default(120),
    routes: z.array(route).max(1000).default([]),
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
