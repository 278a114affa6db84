import type { Gate } from './gate';

/** Gate 4: the chain is enabled. */
export const enabledGate: Gate = ({ chain }) => (chain === undefined || chain.enabled ? null : { reason: 'chain-off' });
