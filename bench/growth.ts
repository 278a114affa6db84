import { rehearse } from '@nettlewick/core';
import { field } from './field';
import type { Finding } from './finding';
import { brief, median } from './median';

const TICKS = 600;
const VISITORS = 200;

/**
 * What a tick costs as a level grows at constant density: 1,000 zones (the peer) and 100,000, with the same number of
 * visitors. Arranging the level for the rehearsal is left out. The ratio is how many times more a tick costs.
 */
export async function growth(): Promise<Finding> {
  const cost = (zones: number): (() => number) => {
    const level = field(zones, VISITORS, TICKS);
    const walk = level.walks[0]!;
    return () => {
      const from = performance.now();
      rehearse(level, { ...walk, routes: [] });
      const begun = performance.now();
      rehearse(level, walk);
      return ((performance.now() - begun - (begun - from)) / TICKS) * 1000;
    };
  };
  const [small, large] = [cost(1000), cost(100_000)];
  const ours: number[] = [];
  const peer: number[] = [];
  // Rounds before those that count, until all is compiled.
  for (let round = -10; round < 11; round++) {
    const [a, b] = [small(), large()];
    if (round < 0) continue;
    peer.push(a);
    ours.push(b);
  }
  const [a, b] = [median(ours), median(peer)];
  return {
    name: 'growth',
    unit: 'microseconds a tick',
    ours: brief(a),
    peer: brief(b),
    peerName: 'the same with 1,000 zones',
    ratio: brief(a / b),
  };
}
