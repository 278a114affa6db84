import { chainStep } from './chain-step';

/** Stops a chain, and forgets how often and when it was started; raises `changed` of it. */
export const resetChain = chainStep('reset-chain', {
  verb: 'reset',
  raises: { start: ['changed'] },
  wish: 'Signals and cues',
  also: 'again rearm limits',
  act: (stage, id) => stage.resetChain(id),
});
