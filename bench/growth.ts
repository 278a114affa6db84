import { Ledger, kernel } from '@nettlewick/core';
import { field } from './field';
import type { Finding } from './finding';
import { brief } from './median';

const TICKS = 3000;
const VISITORS = 200;

/**
 * What a tick costs as a level grows at constant density: 1,000 zones (the peer) and 100,000, with the same number of
 * visitors. The level is arranged before: only the ticks are timed, by turns, and the fastest of each, for what else runs on the machine
 * only ever adds. The ratio is how many times more one costs.
 */
export function growth(): Finding {
  const cost = (zones: number): (() => number) => {
    const level = field(zones, VISITORS, TICKS);
    const orders = kernel.rulePolicy(level.rules);
    return () => {
      const plan = kernel.compileLevel(level);
      const world = kernel.start(plan, level.walks[0]!);
      const ledger = new Ledger(level.rate);
      const told = {
        ...kernel.noopListener,
        entry: (_number, at, writing) => void ledger.write(at, writing),
      } satisfies kernel.WorldListener;
      kernel.tick(plan, world, orders, told);
      const from = performance.now();
      while (world.tick < TICKS && kernel.tick(plan, world, orders, told, TICKS) === null);
      return ((performance.now() - from) / TICKS) * 1000;
    };
  };
  const [small, large] = [cost(1000), cost(100_000)];
  const ours: number[] = [];
  const peer: number[] = [];
  // Rounds before those that count, until all is compiled.
  for (let round = -3; round < 11; round++) {
    const [a, b] = [small(), large()];
    if (round < 0) continue;
    peer.push(a);
    ours.push(b);
  }
  const [a, b] = [Math.min(...ours), Math.min(...peer)];
  return {
    name: 'growth',
    unit: 'microseconds a tick',
    ours: brief(a),
    peer: brief(b),
    peerName: 'the same with 1,000 zones',
    ratio: brief(a / b),
  };
}
