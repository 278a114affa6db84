import { z } from 'zod';
import { close, open } from './door-steps';
import { setFlag } from './set-flag';
import { hide, show } from './show-hide';
import type { StepKind } from './step-kind';
import { wait } from './wait';
import { writeSign } from './write-sign';

/** Every kind of step. A new kind is one file and one line here. */
const table = {
  open,
  close,
  wait,
  'set-flag': setFlag,
  'write-sign': writeSign,
  show,
  hide,
} as const;

export const step = z.discriminatedUnion('kind', [
  open.schema,
  close.schema,
  wait.schema,
  setFlag.schema,
  writeSign.schema,
  show.schema,
  hide.schema,
]);
export type Step = z.infer<typeof step>;
export type StepName = keyof typeof table;

export const stepNames = Object.keys(table) as StepName[];

/** The meaning and the words of a step's kind. */
export function kindOfStep(name: StepName): StepKind<Step> {
  // The table is keyed by the very `kind` that its schema requires, so the narrower type is the right one.
  return table[name] as unknown as StepKind<Step>;
}

export type { StepBase, StepKind, StepReference } from './step-kind';
