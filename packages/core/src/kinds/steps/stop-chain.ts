import { chainStep } from './chain-step';

/** Ends every run of a chain where it stands. */
export const stopChain = chainStep('stop-chain', {
  verb: 'stop',
  wish: 'Signals and cues',
  also: 'cancel abort end',
  act: (stage, id) => stage.stopChain(id),
});
