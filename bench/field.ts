import { parseLevel } from '@nettlewick/core';
import type { Level } from '@nettlewick/core';

/** Numbers that look random and are the same every time (a linear congruence of W. H. Press et al., 1992). */
function numbers(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 2 ** 32;
  };
}

/**
 * A field of zones of mixed shapes, one for every 25 square metres, and visitors that walk to and fro among them for some
 * ticks. The same for the same numbers.
 */
export function field(zones: number, visitors: number, ticks: number, more: Record<string, unknown> = {}): Level {
  const random = numbers(zones + visitors);
  const half = Math.sqrt(zones * 25) / 2;
  const spread = (): number => Math.round((random() * 2 - 1) * half * 1000) / 1000;
  const rate = 60;
  const parsed = parseLevel({
    format: 'nettlewick-level',
    version: 2,
    name: 'Nettlewick field',
    rate,
    rooms: [{ id: 'field', name: 'Field', extents: { west: -half - 50, south: -half - 50, east: half + 50, north: half + 50 } }],
    zones: Array.from({ length: zones }, (_, i) => ({
      id: `zone-${i}`,
      name: `Zone ${i}`,
      room: 'field',
      at: { x: spread(), y: spread(), z: 0 },
      heading: Math.round(random() * 180),
      shape: [
        { kind: 'box', size: { x: 1 + random() * 3, y: 1 + random() * 3, z: 2 } },
        { kind: 'ball', radius: 0.5 + random() * 1.5 },
        { kind: 'pillar', radius: 0.5 + random() * 1.5, height: 2 },
      ][i % 3],
    })),
    visitors: Array.from({ length: visitors }, (_, i) => ({
      id: `visitor-${i}`,
      name: `Visitor ${i}`,
      kind: 'player',
      room: 'field',
      at: { x: spread(), y: spread(), z: 0 },
      body: { kind: 'box', size: { x: 0.5, y: 0.5, z: 1.8 } },
      speed: 1 + random() * 3,
    })),
    walks: [
      {
        id: 'walk',
        name: 'Walk',
        atMost: Math.max(1, ticks / rate),
        routes: Array.from({ length: visitors }, (_, i) => ({
          visitor: `visitor-${i}`,
          instructions: Array.from({ length: 12 }, (__, j) => ({
            id: `go-${i}-${j}`,
            do: 'go-to',
            to: { x: spread(), y: spread(), z: 0 },
          })),
        })),
      },
    ],
    ...more,
  });
  if (!parsed.ok) throw new Error(JSON.stringify(parsed.faults.slice(0, 3)));
  return parsed.level;
}

/** A field whose walk fills a ledger: chains answer every enter and leave. */
export function chatter(zones: number, visitors: number, ticks: number): Level {
  return field(zones, visitors, ticks, {
    flags: [{ id: 'lamp', name: 'Lamp' }],
    chains: Array.from({ length: zones }, (_, i) => ({
      id: `chain-${i}`,
      name: `Chain ${i}`,
      causes: [
        { id: `in-${i}`, on: 'enter', of: `zone-${i}` },
        { id: `out-${i}`, on: 'leave', of: `zone-${i}` },
      ],
      steps: [{ id: `step-${i}`, kind: 'set-flag', flag: 'lamp', to: i % 2 === 0 }],
    })),
  });
}
