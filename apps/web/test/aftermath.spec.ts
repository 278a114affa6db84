import { change, remove, emptyLevel, placePiece, setPieces, applied } from '@nettlewick/core';
import type { Level } from '@nettlewick/core';
import { EditImpactWorker } from '../src/app/workers/aftermath';

/** A door that opens when somebody comes near, and a walk through it. */
function yard(): Level {
  const level = emptyLevel('Yard');
  const piece = setPieces.find(({ id }) => id === 'door-for-visitors')!;
  let made = 0;
  const where = { room: level.rooms[0]!.id, at: { x: 0, y: 0 } };
  const placed = applied(level, placePiece(level, piece, where, {}, (prefix) => `${prefix}-y${(made += 1)}`).edit);
  const place = { y: 0, z: 0, room: '', of: '', axes: 'room' as const, height: 'datum' as const };
  const instructions = [
    { id: 'g1', do: 'go-to' as const, to: { ...place, x: -1 } },
    { id: 'w1', do: 'wait' as const, seconds: 2 },
    { id: 'g2', do: 'go-to' as const, to: { ...place, x: 5 } },
  ];
  const walk = placed.walks[0]!;
  const entry = { kind: 'opened' as const, who: '', what: placed.fixtures[0]!.id, chain: '', reason: '' };
  const expectations = [{ id: 'e1', label: '', expect: 'happens' as const, entry }];
  return { ...placed, walks: [{ ...walk, routes: [{ visitor: 'player-1', instructions }], expectations }] };
}

it('an edit is followed by what it changed in what fires, in words, and by what is expected and not met', () => {
  const level = yard();
  const room = new EditImpactWorker();
  room.open(level);
  expect(room.look()).toMatchObject({ changes: [], more: 0, unmet: [], fires: true, seen: { findings: [] } });

  const door = level.fixtures[0]!;
  room.edit([change('fixtures', door, { timing: { by: 'seconds', seconds: 1.3 } } as never)]);
  expect(room.look().changes).toContainEqual({ says: 'Door is open, 0.5 s later', walks: ['walk-1'] });

  room.edit([change('chains', level.chains[0]!, { enabled: false })]);
  const { changes, unmet, fires, seen } = room.look();
  expect(changes.map(({ says }) => says)).toContain('no longer: Door is open');
  expect(unmet).toEqual([{ walk: 'walk-1', count: 1 }]);
  // Whoever stands before it does not come away again: nothing is set off any more.
  expect(fires).toBe(false);
  // What Check lists of the walks comes from the same runs.
  expect(seen.findings.map(({ kind }) => kind)).toEqual(expect.arrayContaining(['unmet-expectation', 'never-starts']));
});

it('edits that go on with each other are told as one, against how it was before the first of them', () => {
  const level = yard();
  const room = new EditImpactWorker();
  room.open(level);
  room.look();
  const door = level.fixtures[0]!;
  const slower = { ...door, timing: { by: 'seconds', seconds: 1.3 } } as typeof door;
  room.edit([change('fixtures', door, { timing: { by: 'seconds', seconds: 1.3 } } as never)]);
  room.look();
  room.edit([change('fixtures', slower, { timing: { by: 'seconds', seconds: 1.8 } } as never)]);
  expect(room.look(true).changes).toContainEqual({ says: 'Door is open, 1 s later', walks: ['walk-1'] });
  const slowest = { ...door, timing: { by: 'seconds', seconds: 1.8 } } as typeof door;
  room.edit([change('fixtures', slowest, { timing: (door as { timing: unknown }).timing } as never)]);
  expect(room.look(true).changes).toEqual([]);
});

it('what was deleted is called by the name it had, never by an id', () => {
  const level = yard();
  const room = new EditImpactWorker();
  room.open(level);
  room.look();
  room.edit([remove(level, 'fixtures', level.fixtures[0]!.id)]);
  const said = room.look().changes.map(({ says }) => says);
  expect(said).toContain('no longer: Door is open');
  expect(said.join(' ')).not.toMatch(/missing|fixture-|door-/);
});
