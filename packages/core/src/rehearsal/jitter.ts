import { uniformFloat64 } from 'pure-rand/distribution/uniformFloat64';
import { xoroshiro128plus } from 'pure-rand/generator/xoroshiro128plus';
import type { Walk } from '../level/walks';
import { ticksOf } from './ticks';

/** How a route is varied: ticks by which it begins later, and what its visitor's speed is multiplied by. */
export interface Variation {
  delay: number;
  speed: number;
}

/**
 * The variation of each route of a walk, from the seed alone (xoroshiro128+ of D. Blackman and S. Vigna, 2018): two numbers
 * are drawn for each route in listing order, the first for its start, the second for its speed.
 */
export function variations({ jitter, routes }: Walk, seed: number, rate: number): Variation[] {
  const random = xoroshiro128plus(seed);
  return routes.map(() => {
    const [first, second] = [uniformFloat64(random), uniformFloat64(random)];
    return {
      delay: jitter.start === 0 ? 0 : Math.floor(first * (ticksOf(jitter.start, rate) + 1)),
      speed: jitter.speed === 0 ? 1 : Math.round((1 + (2 * second - 1) * jitter.speed) * 1e6) / 1e6,
    };
  });
}
