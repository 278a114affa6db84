import { chainStep } from './chain-step';

/** Starts a chain, if it is enabled, its guard holds and it does not run already. */
export const startChain = {
  ...chainStep('start-chain', 'start', (stage, id) => stage.startChain(id)),
  starts: true as const,
};
