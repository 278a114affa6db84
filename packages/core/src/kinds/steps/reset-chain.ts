import { chainStep } from './chain-step';

/** Stops a chain, and forgets how often and when it was started; raises `changed` of it. */
export const resetChain = {
  ...chainStep('reset-chain', 'reset', (stage, id) => stage.resetChain(id)),
  raises: { start: ['changed' as const] },
};
