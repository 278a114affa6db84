import { emptyLevel, parseLevel } from '@nettlewick/core';
import type { Finding } from './finding';
import { brief, median } from './median';

/** The same number of fixtures, none attached, and in one long tail into a ring: the worst there is for finding rings. */
function documentOf(count: number, attached: boolean): unknown {
  const fixtures = Array.from({ length: count }, (_, i) => ({
    ...{ id: `s-${i}`, name: `S ${i}`, kind: 'sign', room: 'room-1', at: { x: 0, y: 0, z: 0 } },
    attachedTo: attached ? `s-${Math.min(i + 1, count - 1)}` : '',
  }));
  return { ...emptyLevel('Tail'), fixtures };
}

/**
 * How long a document of 100,000 fixtures that are attached in one tail into a ring takes to be checked, against one of 10,000
 * (the peer): ten times the things should take about ten times as long.
 */
export function attachments(): Finding {
  const time = (document: unknown): number => {
    const begun = performance.now();
    parseLevel(document);
    return performance.now() - begun;
  };
  const [large, small, free] = [documentOf(100_000, true), documentOf(10_000, true), documentOf(100_000, false)];
  const ours: number[] = [];
  const peer: number[] = [];
  const loose: number[] = [];
  for (let round = -2; round < 7; round++) {
    const [a, b, c] = [time(large), time(small), time(free)];
    if (round < 0) continue;
    ours.push(a);
    peer.push(b);
    loose.push(c);
  }
  return {
    name: 'attachments',
    unit: 'ms to check a document',
    ours: brief(median(ours)),
    peer: brief(median(peer)),
    peerName: 'the same with 10,000 fixtures',
    ratio: brief(median(ours) / median(peer)),
    'times as long as with none attached': brief(median(ours) / median(loose)),
  };
}
