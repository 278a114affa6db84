import { add, applied, createThing, emptyLevel, kindOfStep, parseLevel } from '@nettlewick/core';
import type { Chain, Level, Stencil, Thing } from '@nettlewick/core';

/**
 * A level of many things in one room, in rows that a designer could walk along: zones for the most part, and solids, plates and
 * doors between them; and chains, every second of which has a guard.
 */
export function crowdedLevel(things: number, chains: number): Level {
  let level: Level = { ...emptyLevel('Salt marsh'), visitors: [], walks: [] };
  const room = level.rooms[0]!.id;
  const across = Math.ceil(Math.sqrt(things * 1.6));
  const kinds: { stencil: Stencil; into: 'zones' | 'solids' | 'fixtures'; share: number }[] = [
    { stencil: 'zone', into: 'zones', share: 0.5 },
    { stencil: 'solid', into: 'solids', share: 0.2 },
    { stencil: 'plate', into: 'fixtures', share: 0.2 },
    { stencil: 'door', into: 'fixtures', share: 0.1 },
  ];
  let at = 0;
  const made: Record<'zones' | 'solids' | 'fixtures', Thing[]> = { zones: [], solids: [], fixtures: [] };
  for (const { stencil, into, share } of kinds) {
    for (let i = 0; i < Math.round(things * share); i++, at++) {
      const x = (at % across) * 3 - (across * 3) / 2;
      const y = Math.floor(at / across) * 3 - (across * 3) / 3.2;
      const thing = createThing(level, stencil, `${stencil}-${i}`, room, { x, y, z: 0 }, { x: 1.5, y: 1.5 });
      made[into].push({ ...thing, name: `${stencil} of the marsh ${i}` });
    }
  }
  level = { ...level, ...made } as Level;
  level = applied(level, add(level, 'flags', { id: 'flag-1', name: 'Tide', on: false, per: 'level' } as Thing));
  level = applied(level, add(level, 'visitors', createThing(level, 'player', 'player-1', room, { x: 0, y: 0, z: 0 })));
  const zones = made.zones.length;
  level = {
    ...level,
    rooms: level.rooms.map((one) => ({
      ...one,
      extents: { west: -2 * across, east: 2 * across, south: -across - 10, north: across + 10 },
    })),
    chains: Array.from({ length: chains }, (_, i) => ({
      id: `chain-${i}`,
      name: `Chain ${i}`,
      causes: [{ id: `cause-${i}`, on: 'enter', of: `zone-${i % zones}` }],
      guard: i % 2 === 0 ? '' : `flag("flag-1") && count("zone-${(i * 7) % zones}") > ${i % 9}`,
      steps: [kindOfStep('set-flag').create(`step-${i}`, 'flag-1')],
    })) as unknown as Chain[],
  };
  const read = parseLevel(level);
  if (!read.ok) throw new Error(`The crowded level has faults: ${JSON.stringify(read.faults[0])}`);
  return read.level;
}
