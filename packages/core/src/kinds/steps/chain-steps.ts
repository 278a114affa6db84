import { z } from 'zod';
import { reference } from '../../vocabulary/quantities';
import { done } from './stage';
import type { Stage } from './stage';
import { referenceSlot } from '../../vocabulary/phrase';
import { noDelay, stepBase, stepKind } from './step-kind';

const chains = ['chain'] as const;

function chainStep<K extends 'start-chain' | 'stop-chain' | 'reset-chain'>(
  kind: K,
  verb: string,
  act: (stage: Stage, id: string) => void,
) {
  return stepKind(z.strictObject({ ...stepBase, kind: z.literal(kind), chain: reference }), {
    label: `${verb} a chain`,
    accepts: chains,
    create: (ownId, target) => ({ id: ownId, kind, ...noDelay, chain: target }),
    references: (step) => [{ path: 'chain', to: step.chain, accepts: chains }],
    phrase: (step) => [`${verb} `, referenceSlot('chain', `chain to ${verb}`, step.chain, chains)],
    lasts: () => 0,
    run: (_step, stage, [id]) => {
      act(stage, id!);
      return done;
    },
  });
}

/** Starts a chain, if it is enabled, its guard holds and it does not run already. */
export const startChain = chainStep('start-chain', 'start', (stage, id) => stage.startChain(id));
/** Ends every run of a chain where it stands. */
export const stopChain = chainStep('stop-chain', 'stop', (stage, id) => stage.stopChain(id));
/** Stops a chain, and forgets how often and when it was started. */
export const resetChain = chainStep('reset-chain', 'reset', (stage, id) => stage.resetChain(id));
