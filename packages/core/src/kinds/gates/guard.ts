import type { Gate } from './gate';

/** Gate 7: the guard holds. Says the values it read. */
export const guardGate: Gate = ({ chain }) => {
  if (chain === undefined) return null;
  const { holds, read } = chain.guard();
  return holds ? null : { reason: 'condition-false', read };
};
