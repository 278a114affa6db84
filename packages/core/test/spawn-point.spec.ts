import { createThing, emptyLevel, kernel, parseLevel } from '../src/index';
import type { Fixture } from '../src/index';
import { at, cause, chain, fixture, goTo, levelOf, run, step, visitor, walk, zone } from './build';

describe('A spawn point', () => {
  const to = { ...at(0, 0), of: 'loft-corner' };

  it('is where whoever is taken to it arrives, facing its way, also while it rides on a lift', () => {
    const { entries } = run({
      fixtures: [
        fixture('elevator', 'Sack hoist', 6, 0, { stops: [at(0, 0), at(0, 0, 3)] }),
        fixture('spawn-point', 'Loft corner', 6, 0.5, { at: at(6, 0.5, 0.2), heading: 90, attachedTo: 'sack-hoist' }),
      ],
      zones: [zone('Sill', 2, 0)],
      visitors: [visitor('Miller', 0, 0)],
      chains: [
        chain(
          'Up',
          [cause('enter', 'sill')],
          [step('send', { elevator: 'sack-hoist', stop: 2 }), step('teleport', { to, arrivesFacing: 'take' })],
        ),
      ],
      walks: [walk({ miller: [goTo(2, 0)] })],
    });
    // The step waits for the lift, so that the spot is a floor higher by then.
    const arrived = entries.filter(({ kind }) => kind === 'teleported');
    expect(arrived.map(({ details }) => details)).toMatchObject([{ x: 6, y: 0.5, z: 3.2, heading: 90 }]);
  });

  it('sets nothing off, and is in nobody’s way', () => {
    const across = (spots: unknown[]) =>
      run({ fixtures: spots as Fixture[], visitors: [visitor('Goose', 0, 0)], walks: [walk({ goose: [goTo(6, 0)] })] }).entries;
    expect(across([fixture('spawn-point', 'Lane end', 3, 0)])).toEqual(across([]));
  });

  it('was a line in a list of its room in older documents: it comes along, with its room, its id and its heading', () => {
    const level = levelOf({ fixtures: [fixture('sign', 'Gate board', 1, 1)] });
    const { rooms, ...rest } = structuredClone(level);
    const spawns = [
      { id: 'lane', name: 'Lane end', at: at(-4, 2), heading: 45 },
      { id: 'ladder', name: 'Ladder', at: at(1, 1, 3) },
    ];
    const older = { ...rest, version: 3, rooms: rooms.map((room) => ({ ...room, spawns })) };
    const read = parseLevel(older);
    if (!read.ok) throw new Error(JSON.stringify(read.faults));
    expect(read.level.rooms).toEqual(rooms);
    expect(
      read.level.fixtures.map(({ id, name, kind, room, at: where, heading }) => [id, name, kind, room, where, heading]),
    ).toEqual([
      ['gate-board', 'Gate board', 'sign', rooms[0]!.id, at(1, 1), 0],
      ['lane', 'Lane end', 'spawn-point', rooms[0]!.id, at(-4, 2), 45],
      ['ladder', 'Ladder', 'spawn-point', rooms[0]!.id, at(1, 1, 3), 0],
    ]);
    expect(parseLevel({ ...older, version: 2 })).toEqual(read);
    // Of today's version the list is none of a room's.
    expect(parseLevel({ ...older, version: 4 })).toMatchObject({ ok: false });
    const error = parseLevel({ ...older, rooms: [{ ...older.rooms[0], spawns: [{ id: 'lane', name: 'Lane end' }] }] });
    expect(error.ok ? [] : error.faults.map(({ path }) => path)).toEqual(['/rooms/0/spawns/0/at']);
  });

  it('is drawn like any other thing', () => {
    const level = emptyLevel('Mill');
    const made = createThing(level, 'spawn-point', 'spot', level.rooms[0]!.id, at(1, 2)) as Fixture;
    expect(made).toMatchObject({ name: 'Spawn point', kind: 'spawn-point', at: at(1, 2) });
    expect(kernel.compileLevel({ ...level, fixtures: [made] }).volumes).toEqual([]);
  });
});
