import { secondsOf, ticksOf } from '../rehearsal/ticks';
import type { Gate } from './gate';

/** Gate 4: the chain is enabled. */
export const enabledGate: Gate = ({ chain }) => (chain.enabled ? null : { reason: 'chain-off', details: {} });

/** Gate 5: the cause has not started the chain as often as it may. */
export const limitGate: Gate = ({ cause, used }) => {
  const count = used?.count ?? 0;
  return cause.limit === null || count < cause.limit ? null : { reason: 'used-up', details: { limit: cause.limit, used: count } };
};

/** Gate 6: long enough since this cause last started the chain. */
export const cooldownGate: Gate = ({ cause, used, tick, rate }) => {
  if (used === undefined) return null;
  const left = used.lastTick + ticksOf(cause.cooldown, rate) - tick;
  return left <= 0 ? null : { reason: 'cooling', details: { ticks: left, seconds: secondsOf(left, rate) } };
};

/** Gate 7: every flag that the chain asks for is as it asks. Says the values it read. */
export const guardGate: Gate = ({ chain, flag }) => {
  const read = chain.guard.map((test) => ({ ...test, was: flag(test.flag) }));
  if (read.every((test) => test.was === test.is)) return null;
  return {
    reason: 'condition-false',
    details: {
      read: read.map(
        ({ flag: id, is, was }) => `${id}: asked ${is ? 'on' : 'off'}, was ${was === undefined ? 'missing' : was ? 'on' : 'off'}`,
      ),
    },
  };
};

/** Gate 8: a chain that runs already ignores what would start it. */
export const runningGate: Gate = ({ runs }) => (runs ? { reason: 'running', details: {} } : null);
