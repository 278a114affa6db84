import {
  applied,
  deletionOf,
  inOwnUnit,
  invert,
  placeAt,
  settingOf,
  settingOfAll,
  settingOfLevel,
  unitsOf,
  waypointOutside,
} from '../src';
import type { Level, Place } from '../src';
import { lookup } from '../src/document/lookup';
import { levelShape } from '../src/document/level';

const at = (x: number, y = 0) => ({ x, y, z: 0 });
const yard: Level = levelShape.parse({
  format: 'nettlewick-level',
  version: 4,
  name: 'Yard',
  units: { length: { name: 'u', metres: 0.025 }, time: null },
  rooms: [{ id: 'yard', name: 'Mill yard', extents: { west: -9, south: -9, east: 9, north: 9 }, ground: 1 }],
  zones: ['pad', 'step'].map((id, i) => ({
    id,
    name: id,
    room: 'yard',
    at: at(i),
    shape: { kind: 'box', size: { x: 1, y: 1, z: 1 } },
  })),
  fixtures: [{ id: 'gate', name: 'Gate', kind: 'door', room: 'yard', at: at(4), heading: 90 }],
  visitors: [
    { id: 'ann', name: 'Ann', kind: 'player', room: 'yard', at: at(0), body: { kind: 'pillar', radius: 0.3, height: 1.8 } },
  ],
  chains: [{ id: 'rings', name: 'Rings', guard: 'count("step") > 0', causes: [{ id: 'c', on: 'enter', of: 'pad' }] }],
  walks: [
    {
      id: 'walk',
      name: 'Walk',
      routes: [
        {
          visitor: 'ann',
          instructions: [
            { id: 'g', do: 'go-to', to: at(12) },
            { id: 'h', do: 'go-to', to: at(2) },
          ],
        },
      ],
    },
  ],
});

describe('A value is given', () => {
  it('as an edit, which can be taken back; nothing comes of one that is so already', () => {
    const set = settingOf(yard, 'gate', [{ path: '/at/x', value: 5 }]);
    if (!set.ok || set.edit === null) throw new Error('An edit was expected');
    const moved = applied(yard, set.edit);
    expect(moved.fixtures[0]!.at).toEqual(at(5));
    expect(applied(moved, invert(set.edit))).toEqual(yard);
    expect(settingOf(moved, 'gate', [{ path: '/at/x', value: 5 }])).toEqual({ ok: true, edit: null });
  });

  it('unless the document does not allow it, or the name is in use, or the thing is gone: then it says why', () => {
    expect(settingOf(yard, 'ann', [{ path: '/speed', value: -1 }])).toMatchObject({ ok: false });
    expect(settingOf(yard, 'ann', [{ path: '/name', value: 'GATE' }])).toEqual({
      ok: false,
      error: '“Gate” is already in use. Names must be unique in a level (case is ignored).',
    });
    expect(settingOf(yard, 'gone', [{ path: '/at/x', value: 1 }])).toEqual({
      ok: false,
      error: 'This thing is no longer in the level.',
    });
  });

  it('to several things at once: to all, or, where one cannot have it, to none', () => {
    const found = ['pad', 'step'].map((id) => lookup(yard).get(id)!);
    const set = settingOfAll(found, [{ path: '/swept', value: true }]);
    expect(set.ok && set.edit !== null && applied(yard, set.edit).zones.map(({ swept }) => swept)).toEqual([true, true]);
    expect(settingOfAll(found, [{ path: '/dwell', value: -1 }])).toMatchObject({
      ok: false,
      error: expect.stringMatching(/^pad: /),
    });
    expect(settingOfAll(found, [{ path: '/swept', value: false }])).toEqual({ ok: true, edit: null });
  });

  it('to the level itself', () => {
    const set = settingOfLevel(yard, [{ path: '/rules/sameTick', value: 'enters-first' }]);
    expect(set.ok && set.edit !== null && applied(yard, set.edit).rules.sameTick).toBe('enters-first');
    expect(settingOfLevel(yard, [{ path: '/rate', value: 0 }])).toMatchObject({ ok: false });
    expect(settingOfLevel(yard, [{ path: '/rate', value: yard.rate }])).toEqual({ ok: true, edit: null });
  });
});

it('what is deleted leaves what refers to it, in causes and in conditions, and that is said; the last room stays', () => {
  const one = deletionOf(yard, ['pad']);
  expect(one).toMatchObject({ ok: true, said: 'Deleted “pad”. Still referenced by “Rings”. Undo, or fix the errors in Check.' });
  const both = deletionOf(yard, ['pad', 'step', 'nobody']);
  if (!both.ok || both.edit === null) throw new Error('An edit was expected');
  expect(both.said).toContain('2 things');
  expect(applied(applied(yard, both.edit), invert(both.edit))).toEqual(yard);
  expect(deletionOf(yard, ['gate'])).toMatchObject({ ok: true, said: null });
  expect(deletionOf(yard, ['nobody'])).toEqual({ ok: true, edit: null, said: null });
  expect(deletionOf(yard, ['yard', 'pad'])).toMatchObject({ ok: false, error: expect.stringContaining('at least one room') });
});

it('a place that is picked is counted from what it is counted from, and by its axes', () => {
  const place: Place = { x: 0, y: 0, z: 0, room: '', of: '', axes: 'room', height: 'datum' };
  expect(placeAt(yard, place, { x: 1.234, y: 2 }, 'yard', 'ann')).toMatchObject({ x: 1.23, y: 2, z: 1, room: '' });
  expect(placeAt(yard, place, { x: 1, y: 2, z: 3 }, 'loft', 'ann')).toMatchObject({ z: 3, room: 'loft' });
  expect(placeAt(yard, { ...place, of: 'gate' }, { x: 6, y: 1 }, 'yard', 'ann')).toMatchObject({ x: 2, y: 1 });
  expect(placeAt(yard, { ...place, of: 'gate', axes: 'own' }, { x: 6, y: 1 }, 'yard', 'ann')).toMatchObject({ x: 1, y: -2 });
});

it('lengths and times are typed and shown in the level’s own units', () => {
  expect(unitsOf(yard, 'm')).toMatchObject({ u: 0.025, cm: 0.01 });
  expect(unitsOf(yard, 's')).toMatchObject({ tick: 1 / 60, ticks: 1 / 60, min: 60 });
  expect(unitsOf(yard, 'm/s')).toMatchObject({ 'u/s': 0.025, 'u/tick': 1.5, 'm/tick': 60, 'm/s': 1, 'km/h': 1 / 3.6 });
  expect(unitsOf(yard, '°')).toMatchObject({ '°': 1, deg: 1 });
  expect(unitsOf(yard, '')).toEqual({});
  const slot = {
    path: '/at/x',
    label: 'x',
    value: 2.4,
    input: { kind: 'number', unit: 'm', min: 0, max: 9, step: 0.1 },
  } as const;
  expect(inOwnUnit(yard, slot)).toBe('96 u');
  expect(inOwnUnit(yard, { ...slot, input: { ...slot.input, unit: 's' } })).toBe('');
  expect(inOwnUnit(yard, { ...slot, value: 2, input: { ...slot.input, unit: 'm/s' } })).toBe('80 u/s');
});

it('a waypoint outside the room is said to be, one inside is not', () => {
  expect(waypointOutside(yard, 'walk', 0, 0)).toBe(
    'Waypoint 1 is outside Mill yard, which reaches from -9 to 9 m east and from -9 to 9 m north. Nobody gets there.',
  );
  expect(waypointOutside(yard, 'walk', 0, 1)).toBeNull();
  expect(waypointOutside(yard, 'walk', 7, 1)).toBeNull();
});
