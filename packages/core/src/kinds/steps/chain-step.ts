import * as z from 'zod';
import { referenceSlot } from '../../vocabulary/phrase';
import { reference } from '../../vocabulary/quantities';
import { done } from './stage';
import type { StepContext } from './stage';
import { noDelay, stepBase, stepKind } from './step-kind';

const chains = ['chain'] as const;

/** A step that does one thing to a chain. */
export function chainStep<K extends string>(kind: K, verb: string, act: (stage: StepContext, id: string) => void) {
  return stepKind(z.strictObject({ ...stepBase, kind: z.literal(kind), chain: reference }), {
    label: `${verb} a chain`,
    accepts: chains,
    create: (ownId, target) => ({ id: ownId, kind, ...noDelay, chain: target }),
    references: (step) => [{ path: '/chain', to: step.chain, accepts: chains }],
    phrase: (step) => [`${verb} `, referenceSlot('/chain', `chain to ${verb}`, step.chain, chains)],
    lasts: () => 0,
    run: (_step, stage, [id]) => {
      act(stage, id!);
      return done;
    },
  });
}
