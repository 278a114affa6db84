import * as z from 'zod';
import { referenceSlot } from '../../vocabulary/phrase';
import { reference } from '../../vocabulary/quantities';
import { done } from './stage';
import type { StepContext } from './stage';
import { stepBase, stepKind } from './step-kind';
import type { StepWords } from './step-kind';

const chains = ['chain'] as const;

/** A step that does one thing to a chain. */
export function chainStep<K extends string>(
  kind: K,
  { verb, act, ...words }: Omit<StepWords, 'label'> & { verb: string; act: (stage: StepContext, id: string) => void },
) {
  return stepKind(z.strictObject({ ...stepBase, kind: z.literal(kind), chain: reference }), {
    ...words,
    label: `${verb} a chain`,
    target: 'chain',
    accepts: chains,
    phrase: (step) => [`${verb} `, referenceSlot('/chain', `chain to ${verb}`, step.chain, chains)],
    lasts: () => 0,
    run: (_step, stage, [id]) => {
      act(stage, id!);
      return done;
    },
  });
}
