import type { Gate } from './gate';

/** Gate 5: the cause has not started the chain as often as it may. */
export const limitGate: Gate = ({ heard }) => {
  const limit = heard?.cause.limit ?? null;
  return limit === null || heard!.count < limit ? null : { reason: 'used-up', limit, used: heard!.count };
};
