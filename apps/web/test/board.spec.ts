import { createThing, describe as say, emptyLevel, valueAt, withValue } from '@nettlewick/core';
import type { Level, Slot } from '@nettlewick/core';
import fc from 'fast-check';
import { corners, momentFigures, previewFigures, startFigures } from '../src/app/board/figures';
import { footingOf, handlesOf, headingTo, resized } from '../src/app/board/handles';
import { Viewport } from '../src/app/board/viewport';
import { readNumber, readTags } from '../src/app/sentence/reading';

const yard = emptyLevel('Yard');
const zoned = (heading: number): Level => {
  const zone = {
    ...createThing(yard, 'zone', 'z', 'room-1', { x: 1, y: 2, z: 0 }, { x: 4, y: 2 }),
    heading,
  } as Level['zones'][number];
  return { ...yard, zones: [zone] };
};
const number = fc.double({ min: -40, max: 40, noNaN: true });

it('goes from the plan to the screen and back, and zooms about the pointer', () => {
  fc.assert(
    fc.property(number, number, fc.double({ min: 0.2, max: 5, noNaN: true }), (x, y, factor) => {
      const viewport = new Viewport();
      const screen = viewport.toScreen({ x, y });
      expect(viewport.toPlan(screen).x).toBeCloseTo(x, 6);
      viewport.zoom(factor, screen);
      expect(viewport.toPlan(screen).y).toBeCloseTo(y, 6);
    }),
  );
});

it('shows the whole of what it fits', () => {
  const viewport = new Viewport();
  viewport.fit({ west: 10, east: 90, south: -5, north: 5 });
  const { west, east, south, north } = viewport.seen();
  expect(west < 10 && east > 90 && south < -5 && north > 5).toBe(true);
});

it('keeps the opposite corner where it is while one is pulled, at any heading', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: -180, max: 180 }),
      fc.constantFrom('south-west', 'south-east', 'north-east', 'north-west'),
      number,
      number,
      (heading, handle, x, y) => {
        const level = zoned(heading);
        const footing = footingOf(level, 'z')!;
        const order = ['south-west', 'south-east', 'north-east', 'north-west'];
        const opposite = (order.indexOf(handle) + 2) % 4;
        const before = corners(footing.thing.at, footing.size!, heading)[opposite]!;
        const changed = resized(footing, handle, { x, y }, 0.05)!;
        const after = corners(changed.at, changed.size, heading)[opposite]!;
        expect(after.x).toBeCloseTo(before.x, 3);
        expect(after.y).toBeCloseTo(before.y, 3);
        expect(changed.size.x).toBeGreaterThanOrEqual(0.05);
      },
    ),
  );
});

it('gives five handles to a box, and only the knob to what has no size of its own', () => {
  expect(handlesOf(zoned(0), 'z', 1).map((handle) => handle.name)).toHaveLength(5);
  const sign = { ...yard, fixtures: [createThing(yard, 'sign', 's', 'room-1', { x: 0, y: 0, z: 0 })] } as Level;
  expect(handlesOf(sign, 's', 1).map((handle) => handle.name)).toEqual(['turn']);
  expect(headingTo({ x: 0, y: 0 }, { x: 0, y: 5 })).toBe(90);
});

it('draws only the things of the room, and where they are at the moment that is shown', () => {
  const player = createThing(yard, 'player', 'p', 'room-1', { x: 0, y: 0, z: 0 });
  const level = { ...zoned(0), visitors: [player] } as Level;
  expect(startFigures(level, 'elsewhere')).toEqual([]);
  expect(startFigures(level, 'room-1').map((figure) => figure.id)).toEqual(['z', 'p']);
  const moment = {
    changing: new Set(['p']),
    visitors: new Map([['p', { x: 3, y: 4, z: 0 }]]),
    doors: new Map(),
    rooms: new Map([['p', 'room-1']]),
    texts: new Map(),
    shown: new Map(),
    pressed: new Set<string>(),
  };
  expect(momentFigures(level, 'room-1', moment).map(({ id, at }) => ({ id, at }))).toEqual([
    { id: 'p', at: { x: 3, y: 4, z: 0 } },
  ]);
});

it('draws again only what an edit has changed', () => {
  const level = zoned(0);
  const [zone] = level.zones;
  const other = createThing(yard, 'solid', 's', 'room-1', { x: 9, y: 9, z: 0 });
  const before = startFigures({ ...level, solids: [other] } as Level, 'room-1');
  const after = startFigures({ ...level, solids: [other], zones: [{ ...zone!, name: 'Wider' }] } as Level, 'room-1');
  expect(after.map((figure, i) => figure === before[i])).toEqual([false, true]);
});

it('draws what a gesture would come to, without a word to the document', () => {
  const level = zoned(0);
  const tried = { ...level.zones[0]!, at: { x: 8, y: 2, z: 0 } };
  expect(previewFigures(level, 'room-1', new Map([['z', tried]])).map(({ at }) => at.x)).toEqual([8]);
  expect(startFigures(level, 'room-1')[0]!.at.x).toBe(1);
});

describe('A number is read as people type it', () => {
  const seconds = { kind: 'number', unit: 's', min: 0, max: 10, step: 0.1 } as const;
  it.each([['1.5'], ['1,5'], [' 1.5 s '], ['1.5s'], ['15e-1']])('%j', (text) =>
    expect(readNumber(text, seconds)).toEqual({ value: 1.5 }),
  );
  it.each([
    ['', 'needed'],
    ['soon', 'not a number'],
    ['11', 'out of bounds'],
    ['-1', 'out of bounds'],
    ['1..5', 'not a number'],
    ['NaN', 'not a number'],
    ['Infinity', 'not a number'],
  ])('%j is refused with a reason', (text, reason) =>
    expect(readNumber(text, seconds)).toEqual({ wrong: expect.stringContaining(reason) }),
  );
  it('and empty means something where the sentence says so', () => {
    expect(readNumber('', { ...seconds, none: 'never' })).toEqual({ value: null });
    expect(readNumber('Never', { ...seconds, none: 'never' })).toEqual({ value: null });
    expect(readNumber('1.5', { ...seconds, whole: true })).toEqual({ wrong: expect.stringContaining('whole') });
  });
});

it('reads tags with commas between, each once', () => {
  expect(readTags(' bird,flour , bird,, ')).toEqual(['bird', 'flour']);
});

it('writes to a path what it then reads there, and leaves the rest alone', () => {
  const [zone] = zoned(0).zones;
  for (const part of say('zones', zone!)
    .flat()
    .filter((one): one is Slot => typeof one !== 'string')) {
    const changed = withValue(zone!, part.path, 'x');
    expect(valueAt(changed, part.path)).toBe('x');
    expect(withValue(changed, part.path, part.value)).toEqual(zone);
  }
  expect(withValue({ list: [{ a: 1 }, { a: 2 }] }, '/list/1/a', 3)).toEqual({ list: [{ a: 1 }, { a: 3 }] });
});
