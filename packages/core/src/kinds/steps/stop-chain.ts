import { chainStep } from './chain-step';

/** Ends every run of a chain where it stands. */
export const stopChain = chainStep('stop-chain', 'stop', (stage, id) => stage.stopChain(id));
