import * as z from 'zod';
import { done } from './stage';
import type { StepContext } from './stage';
import { noDelay, stepBase, stepKind, who, whoPhrase, whoReferences } from './step-kind';

/** How a new step that acts on visitors begins: on the one that caused it. */
export const byCause = { ...noDelay, who: { by: 'cause' as const } };

/** A step that does one thing to each of its visitors. */
export function forEach<K extends string>(
  kind: K,
  label: string,
  before: string,
  after: string,
  act: (stage: StepContext, id: string) => void,
) {
  return stepKind(z.strictObject({ ...stepBase, kind: z.literal(kind), who }), {
    label,
    accepts: [],
    create: (ownId) => ({ id: ownId, kind, ...byCause }),
    references: (step) => whoReferences(step.who),
    phrase: (step) => [before, ...whoPhrase(step.who), after],
    lasts: () => 0,
    run: (_step, stage, targets) => {
      for (const id of targets) act(stage, id);
      return done;
    },
  });
}
