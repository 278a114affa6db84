import { uniformFloat64 } from 'pure-rand/distribution/uniformFloat64';
import { xoroshiro128plus } from 'pure-rand/generator/xoroshiro128plus';
import type { Walk } from '../../document/walks';
import { ticksOf } from '../../vocabulary/ticks';
import { roundTo } from '../../vocabulary/rounding';

/** How a route is varied: ticks by which it begins later, and what its visitor's speed is multiplied by. */
export interface Variation {
  delay: number;
  speed: number;
}

/**
 * The variation of each route of a walk, from the seed alone (xoroshiro128+ of D. Blackman and S. Vigna, 2018, begun with the
 * seed mixed by the last steps of A. Appleby's MurmurHash3, so that neighbouring seeds have nothing in common): two numbers
 * are drawn for each route in listing order, the first for its start, the second for its speed.
 */
export function variations({ jitter, routes }: Walk, seed: number, rate: number): Variation[] {
  const random = xoroshiro128plus(mixed(seed));
  return routes.map(() => {
    const [first, second] = [uniformFloat64(random), uniformFloat64(random)];
    return {
      delay: jitter.start === 0 ? 0 : Math.floor(first * (ticksOf(jitter.start, rate) + 1)),
      speed: jitter.speed === 0 ? 1 : roundTo(1 + (2 * second - 1) * jitter.speed, 6),
    };
  });
}

function mixed(seed: number): number {
  let bits = seed | 0;
  bits = Math.imul(bits ^ (bits >>> 16), 0x85ebca6b);
  bits = Math.imul(bits ^ (bits >>> 13), 0xc2b2ae35);
  return bits ^ (bits >>> 16);
}
