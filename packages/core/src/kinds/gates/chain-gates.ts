import { secondsOf, ticksOf } from '../../vocabulary/ticks';
import type { Gate } from './gate';

/** Gate 4: the chain is enabled. */
export const enabledGate: Gate = ({ enabled }) => (enabled ? null : { reason: 'chain-off', details: {} });

/** Gate 5: the cause has not started the chain as often as it may. */
export const limitGate: Gate = ({ cause, count }) =>
  cause.limit === null || count < cause.limit ? null : { reason: 'used-up', details: { limit: cause.limit, used: count } };

/** Gate 6: long enough since this cause last started the chain. */
export const cooldownGate: Gate = ({ cause, lastTick, tick, rate }) => {
  if (lastTick === null) return null;
  const left = lastTick + ticksOf(cause.cooldown, rate) - tick;
  return left <= 0 ? null : { reason: 'cooling', details: { ticks: left, seconds: secondsOf(left, rate) } };
};

/** Gate 7: the guard holds. Says the values it read. */
export const guardGate: Gate = ({ guard }) => {
  const { holds, read } = guard();
  return holds ? null : { reason: 'condition-false', details: { read } };
};

/** Gate 8: a chain that runs already ignores what would start it, if that is its way. */
export const runningGate: Gate = ({ chain, runs }) =>
  runs && chain.whileRunning === 'ignore' ? { reason: 'running', details: {} } : null;
