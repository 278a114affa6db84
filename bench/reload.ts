import { levelSchema, parseLevelText, rehearse } from '@nettlewick/core';
import { field } from './field';
import type { Finding } from './finding';
import { brief, median } from './median';

/**
 * From the text of a document of 10,000 zones and 2,000 chains to its first tick, against `JSON.parse` of that text and the
 * check of its schema (the peer). The ratio is how many times longer ours takes.
 */
export async function reload(): Promise<Finding> {
  const level = field(10_000, 10, 60, {
    flags: [{ id: 'lamp', name: 'Lamp' }],
    chains: Array.from({ length: 2000 }, (_, i) => ({
      id: `chain-${i}`,
      name: `Chain ${i}`,
      causes: [{ id: `cause-${i}`, on: 'enter', of: `zone-${i}` }],
      guard: `flag("lamp") || inside("visitor-${i % 10}", "zone-${i}")`,
      steps: [{ id: `step-${i}`, kind: 'set-flag', flag: 'lamp', to: true }],
    })),
  });
  const text = JSON.stringify(level);
  const ours: number[] = [];
  const peer: number[] = [];
  for (let round = 0; round < 24; round++) {
    const from = performance.now();
    const parsed = parseLevelText(text);
    if (!parsed.ok) throw new Error('The field has faults');
    rehearse(parsed.level, { ...parsed.level.walks[0]!, atMost: 1 / parsed.level.rate });
    const middle = performance.now();
    levelSchema.parse(JSON.parse(text));
    if (round < 6) continue;
    ours.push(middle - from);
    peer.push(performance.now() - middle);
  }
  const [a, b] = [median(ours), median(peer)];
  return {
    name: 'reload',
    unit: 'milliseconds',
    ours: brief(a),
    peer: brief(b),
    peerName: 'JSON.parse and the schema check',
    ratio: brief(a / b),
  };
}
