import type { Gate } from './gate';

/** Gate 8: a chain that runs already ignores what would start it, if that is its way. */
export const runningGate: Gate = ({ chain }) =>
  chain?.runs === true && chain.whileRunning === 'ignore' ? { reason: 'running' } : null;
