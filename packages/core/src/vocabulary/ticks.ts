import { roundTo } from './rounding';
/** How many ticks a span of seconds lasts: whole, rounded up, and none for 0 s. */
export function ticksOf(seconds: number, rate: number): number {
  return Math.max(0, Math.ceil(seconds * rate - 1e-6));
}

/** The time of a tick in seconds, to the microsecond. */
export function secondsOf(tick: number, rate: number): number {
  return roundTo(tick / rate, 6);
}
