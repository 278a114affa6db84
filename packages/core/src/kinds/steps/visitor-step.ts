import * as z from 'zod';
import { done } from './stage';
import type { StepContext } from './stage';
import { stepBase, stepKind, who, whoPhrase } from './step-kind';
import type { StepWords } from './step-kind';

/** A step that does one thing to each of its visitors. `phrase`: what is said before them and after. */
export function forEach<K extends string>(
  kind: K,
  {
    phrase: [before, after],
    act,
    ...words
  }: StepWords & { phrase: [before: string, after: string]; act: (stage: StepContext, id: string) => void },
) {
  return stepKind(z.strictObject({ ...stepBase, kind: z.literal(kind), who }), {
    ...words,
    phrase: (step) => [before, ...whoPhrase(step.who), after],
    lasts: () => 0,
    run: (_step, stage, targets) => {
      for (const id of targets) act(stage, id);
      return done;
    },
  });
}
