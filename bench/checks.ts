import { findAll, parseLevel } from '@nettlewick/core';
import type { Level } from '@nettlewick/core';
import type { Finding } from './finding';
import { brief, median } from './median';

/** So many chains, and things they act on. */
const MANY = 4000;

const at = (x: number, y: number) => ({ x, y, z: 0 });
const all = <T>(make: (i: number) => T): T[] => Array.from({ length: MANY }, (_, i) => make(i));

function levelOf(parts: Record<string, unknown>): Level {
  const parsed = parseLevel({
    format: 'nettlewick-level',
    version: 4,
    name: 'Crowded',
    rooms: [{ id: 'yard', name: 'Yard', extents: { west: -500, south: -500, east: 500, north: 500 } }],
    zones: [{ id: 'pad', name: 'Pad', room: 'yard', at: at(0, 0), shape: { kind: 'box', size: { x: 2, y: 2, z: 2 } } }],
    visitors: [
      { id: 'ann', name: 'Ann', kind: 'player', room: 'yard', at: at(0, 0), body: { kind: 'pillar', radius: 0.3, height: 1.8 } },
    ],
    ...parts,
  });
  if (!parsed.ok) throw new Error(JSON.stringify(parsed.faults.slice(0, 3)));
  return parsed.level;
}

const chain = (i: number, step: object): object => ({
  id: `chain-${i}`,
  name: `Chain ${i}`,
  causes: [{ id: `cause-${i}`, on: i % 2 === 0 ? 'enter' : 'leave', of: 'pad' }],
  steps: [{ id: `step-${i}`, ...step }],
});

const onOneZone = (): Level =>
  levelOf({
    fixtures: [{ id: 'gate', name: 'Gate', room: 'yard', kind: 'door', at: at(5, 0) }],
    chains: all((i) => chain(i, { kind: i % 2 === 0 ? 'open' : 'close', door: 'gate' })),
  });

const acts = [
  { kind: 'open', door: '' },
  { kind: 'close', door: '' },
  { kind: 'hide', fixture: '' },
  { kind: 'make-solid', fixture: '' },
  { kind: 'send', elevator: '', stop: 2 },
  { kind: 'disable', thing: '' },
];
const withOneTag = (): Level =>
  levelOf({
    fixtures: all((i) => ({
      id: `thing-${i}`,
      name: `Thing ${i}`,
      room: 'yard',
      kind: ['door', 'elevator', 'barrier'][i % 3],
      at: at(i % 60, Math.floor(i / 60)),
      tags: ['all'],
    })),
    chains: all((i) => chain(i, { ...acts[i % acts.length]!, tagged: 'all' })),
  });

/**
 * Everything that can be found without rehearsing, of a level in which 4,000 chains hang on one zone, and of one in which 4,000 things
 * share a tag that 4,000 chains act on. The peer reads the same level from its text: each thing looked at once.
 */
export function checks(): Finding {
  const measured = [onOneZone, withOneTag].map((make) => {
    const text = JSON.stringify(make());
    const ours: number[] = [];
    const peer: number[] = [];
    const slices: number[] = [];
    for (let round = 0; round < 9; round++) {
      const read = time(() => parseLevel(JSON.parse(text)));
      peer.push(read.took);
      if (!read.value.ok) throw new Error('The level has faults');
      const finding = findAll(read.value.level);
      let whole = 0;
      let longest = 0;
      for (let over = false; !over;) {
        const slice = time(() => finding.next());
        over = slice.value.done === true;
        whole += slice.took;
        longest = Math.max(longest, slice.took);
      }
      ours.push(whole);
      slices.push(longest);
    }
    return { ours: median(ours), peer: median(peer), longest: median(slices) };
  });
  const worst = measured.reduce((a, b) => (b.ours / b.peer > a.ours / a.peer ? b : a));
  return {
    name: 'checks',
    unit: 'ms',
    ours: brief(worst.ours),
    peer: brief(worst.peer),
    peerName: 'reading the same level from its text',
    ratio: brief(worst.peer / worst.ours),
    'one zone, ms': brief(measured[0]!.ours),
    'one tag, ms': brief(measured[1]!.ours),
    'longest slice, ms': brief(Math.max(...measured.map(({ longest }) => longest))),
  };
}

function time<T>(work: () => T): { took: number; value: T } {
  const began = performance.now();
  const value = work();
  return { took: performance.now() - began, value };
}
