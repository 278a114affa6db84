import * as z from 'zod';

/** How the level's runtime orders what happens together. The first of each is what a level follows that says nothing. */
export const houseRules = z.strictObject({
  sameTick: z.enum(['leaves-first', 'enters-first']).default('leaves-first'),
  pairs: z.enum(['zone-then-visitor', 'visitor-then-zone', 'nearest-first']).default('zone-then-visitor'),
  draining: z.enum(['queued', 'immediate']).default('queued'),
  listeners: z.enum(['listing', 'reverse']).default('listing'),
  afterTeleport: z.enum(['sense-next-tick', 'sense-at-once']).default('sense-next-tick'),
  startsInside: z.enum(['enters', 'quiet']).default('enters'),
  roomLeftEmpty: z.enum(['keeps', 'starts-over']).default('keeps'),
  watches: z.enum(['end-of-phase', 'at-once']).default('end-of-phase'),
});
export type HouseRules = z.infer<typeof houseRules>;

/** The rules of a level that says nothing. */
export const defaultRules: HouseRules = houseRules.parse({});
