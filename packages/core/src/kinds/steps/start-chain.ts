import { chainStep } from './chain-step';

/** Starts a chain, if it is enabled, its guard holds and it does not run already. */
export const startChain = chainStep('start-chain', {
  verb: 'start',
  starts: true,
  wish: 'Signals and cues',
  also: 'call trigger run relay',
  act: (stage, id) => stage.startChain(id),
});
