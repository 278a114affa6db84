import { z } from 'zod';
import { id, seconds } from '../level/quantities';
import type { Outcome, Stage } from '../rehearsal/stage';
import type { Phrase, ThingWord } from '../words/phrase';

/** What every step has: when it starts beside the steps before it, and how long after that. */
export const stepBase = {
  id,
  start: z.enum(['after', 'with']).default('after').meta({
    description: 'after: when all steps before it have finished; with: together with the start of the one before it',
  }),
  delay: seconds.default(0),
};

/** How a new step begins. */
export const noDelay = { start: 'after', delay: 0 } as const;

export interface StepBase {
  id: string;
  kind: string;
  start: 'after' | 'with';
  delay: number;
}

/** A reference that a step holds: where in the step, to which id, and what must be there. */
export interface StepReference {
  path: string;
  to: string;
  accepts: readonly ThingWord[];
}

/** The meaning and the words of one kind of step. */
export interface StepMeaning<S> {
  /** What a menu of steps calls it. */
  label: string;
  /** A new step of this kind; `target` is what it acts on, '' where nothing is chosen yet. */
  create(id: string, target: string): S;
  /** What kind of target a menu should offer; empty if it needs none. */
  accepts: readonly ThingWord[];
  references(step: S): StepReference[];
  phrase(step: S): Phrase;
  /** How long it takes in seconds, as far as the document alone can tell; `travelOf` gives a door's full travel time. */
  lasts(step: S, travelOf: (doorId: string) => number): number;
  run(step: S, stage: Stage): Outcome;
}

/** One kind of step: its schema, its meaning, and its words. */
export type StepKind<S, Z = z.ZodType<S>> = StepMeaning<S> & { schema: Z };

/** Declares a kind of step by its schema and the rest. */
export function stepKind<Z extends z.ZodType>(schema: Z, meaning: StepMeaning<z.infer<Z>>): StepKind<z.infer<Z>, Z> {
  return { schema, ...meaning };
}
