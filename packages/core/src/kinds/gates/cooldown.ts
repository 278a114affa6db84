import { secondsOf, ticksOf } from '../../vocabulary/ticks';
import type { Gate } from './gate';

/** Gate 6: long enough since this cause last started the chain. */
export const cooldownGate: Gate = ({ heard }) => {
  if (heard === undefined || heard.lastTick === null) return null;
  const left = heard.lastTick + ticksOf(heard.cause.cooldown, heard.rate) - heard.tick;
  return left <= 0 ? null : { reason: 'cooling', ticks: left, seconds: secondsOf(left, heard.rate) };
};
