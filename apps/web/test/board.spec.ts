import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import {
  createThing,
  describe as say,
  emptyLevel,
  fixtureNames,
  kindOfFixture,
  lookup,
  parseLevelText,
  valueAt,
  withValue,
  unitsOf,
} from '@nettlewick/core';
import type { Level, Slot } from '@nettlewick/core';
import fc from 'fast-check';
import { corners, momentFigures, previewFigures, startFigures } from '../src/app/board/figures';
import { footingOf, handlesOf, headingTo, resized } from '../src/app/board/handles';
import { place } from '../src/app/board/labels';
import type { LabelRequest } from '../src/app/board/labels';
import { Scene } from '../src/app/board/scene';
import { Under } from '../src/app/board/under';
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

it('knows whether it was left as it was fitted', () => {
  const viewport = new Viewport();
  const box = { west: -4, east: 6, south: -3, north: 3 };
  const left = [viewport.isAsFitted()];
  for (const change of [() => viewport.fit(box), () => viewport.pan(3, 0), () => viewport.fit(box), () => viewport.zoom(2)]) {
    change();
    left.push(viewport.isAsFitted());
  }
  expect(left).toEqual([false, true, false, true, false]);
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

it('draws what has no body by the sign of its kind, upright about its place', () => {
  const kinds = fixtureNames.filter((name) => !kindOfFixture(name).hasBody);
  const fixtures = kinds.map((kind, i) => createThing(yard, kind, `f${i}`, 'room-1', { x: 0, y: 0, z: 0 }));
  const level = { ...yard, fixtures, visitors: [] } as Level;
  const paths = startFigures(level, 'room-1').map(({ path }) => path);
  expect(new Set(paths).size).toBe(kinds.length);
  expect(paths.join(' ')).not.toContain('NaN');
  // A board of 0.75 by 0.375 m on a pole that reaches the ground; a pin that stands on its point.
  expect(paths[kinds.indexOf('sign')]).toBe('M-0.375 0.313h0.75v-0.375H-0.375zM0 -0.062v-0.312');
  expect(paths[kinds.indexOf('marker')]).toBe('M0 -0.375L-0.25 0.125a0.25 0.25 0 1 0 0.5 0z');
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
    states: new Map(),
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
  expect(after.map((figure, i) => figure === before[i])).toEqual([false, true, true]);
});

it('draws what a gesture would come to, without a word to the document', () => {
  const level = zoned(0);
  const tried = { ...level.zones[0]!, at: { x: 8, y: 2, z: 0 } };
  expect(previewFigures(level, 'room-1', new Map([['z', tried]])).map(({ at }) => at.x)).toEqual([8]);
  expect(startFigures(level, 'room-1')[0]!.at.x).toBe(1);
});

it('draws every thing of every example that is tried where it is as it stands, open doors and what is attached too', () => {
  const folder = join(__dirname, '../../../demo/examples');
  for (const file of readdirSync(folder).filter((name) => !name.includes('.broken'))) {
    const parsed = parseLevelText(readFileSync(join(folder, file), 'utf8'));
    if (!parsed.ok) throw new Error(file);
    const level = {
      ...parsed.level,
      fixtures: parsed.level.fixtures.map((one) => ('open' in one ? { ...one, open: true } : one)),
    } as Level;
    for (const room of level.rooms) {
      for (const figure of startFigures(level, room.id)) {
        const thing = lookup(level).get(figure.id)!.thing;
        expect(previewFigures(level, room.id, new Map([[figure.id, { ...thing }]]))).toEqual([figure]);
      }
    }
  }
});

describe('Names on the board', () => {
  const measure = (text: string, small: boolean): number => text.length * (small ? 5 : 6);
  const bounds = { width: 900, height: 600 };
  const wish = fc.record({
    text: fc.stringMatching(/^[A-Z][a-z ]{0,24}[a-z]$/),
    note: fc.constantFrom('', '20 kg', 'disabled, and a longer note'),
    x: fc.integer({ min: -100, max: 1000 }),
    y: fc.integer({ min: -50, max: 650 }),
    room: fc.integer({ min: 5, max: 200 }),
    rank: fc.integer({ min: 0, max: 100 }),
  });

  it('never overlap, nor lie on a handle, however many there are, and the first in rank among those in view always stands', () => {
    fc.assert(
      fc.property(fc.array(wish, { maxLength: 80 }), (raw) => {
        const wishes: LabelRequest[] = raw.map((one, i) => ({ ...one, id: `w${i}` }));
        const placed = place(wishes, measure, bounds);
        const handle = { left: 300, top: 290, right: 314, bottom: 304 };
        const clear = place(wishes, measure, bounds, [handle]);
        const lying = clear.filter(({ box }) => box.left < 314 && 300 < box.right && box.top < 304 && 290 < box.bottom);
        expect(lying).toEqual([]);
        placed.forEach(({ box: a }, i) => {
          for (const { box: b } of placed.slice(i + 1))
            expect(a.left < b.right && b.left < a.right && a.top < b.bottom && b.top < a.bottom).toBe(false);
        });
        const inside = wishes.filter(({ x, y }) => x > 0 && x < bounds.width && y > 20 && y < bounds.height - 20);
        const first = [...inside].sort((a, b) => b.rank - a.rank)[0];
        const rivals = wishes.some(({ id, rank }) => id !== first?.id && rank >= (first?.rank ?? 0));
        if (first !== undefined && !rivals) expect(placed[0]).toMatchObject({ id: first.id, text: first.text, note: first.note });
      }),
    );
  });

  it('give up their note first, then letters, and are left out where nothing helps', () => {
    const one = { id: 'a', text: 'Sack plate', note: '', x: 300, y: 300, room: 40, rank: 9 };
    const above = { ...one, id: 'b', text: 'Sluice gate', note: 'open', y: 283, rank: 5 };
    const [, lost] = place([one, above], measure, bounds);
    expect(lost).toMatchObject({ text: 'Sluice gate', note: '' });
    const beside = { ...one, id: 'c', text: 'The landing of the ferry', x: 375, rank: 4 };
    expect(place([one, beside], measure, bounds)[1]!.text).toMatch(/^The l.*…$/);
    expect(place([one, { ...one, id: 'd', rank: 1 }], measure, bounds)).toHaveLength(1);
  });
});

describe('What lies under the pointer', () => {
  const zones = (xs: number[]): Level =>
    ({
      ...yard,
      zones: xs.map((x, i) => createThing(yard, 'zone', `z${i}`, 'room-1', { x, y: 0, z: 0 }, { x: 2, y: 2 })),
    }) as Level;

  it('is found the same by a scene that followed others and by one made anew', () => {
    const anyMoves = fc.array(fc.tuple(fc.nat(30), fc.integer({ min: -40, max: 40 })), { maxLength: 90 });
    fc.assert(
      fc.property(anyMoves, number, (moves, x) => {
        let xs = Array.from({ length: 31 }, (_, i) => i * 3 - 45);
        let scene = Scene.of(startFigures(zones(xs), 'room-1'), undefined);
        for (const [at, to] of moves) {
          xs = xs.with(at, to);
          const figures = startFigures(zones(xs), 'room-1');
          scene = Scene.of(figures, scene);
        }
        const anew = Scene.of(scene.figures, undefined);
        const box = { west: x - 4, east: x + 4, south: -1, north: 1 };
        expect(scene.within(box).map(({ id }) => id)).toEqual(anew.within(box).map(({ id }) => id));
        expect(scene.at({ x, y: 0.3 }, 0.2)?.id).toBe(anew.at({ x, y: 0.3 }, 0.2)?.id);
      }),
      { numRuns: 40 },
    );
  });

  it('is what has no body where its sign stands, wherever that is, and nothing a little beside it', () => {
    const kinds = fixtureNames.filter((name) => !kindOfFixture(name).hasBody);
    fc.assert(
      fc.property(number, number, fc.integer({ min: -180, max: 180 }), fc.constantFrom(...kinds), (x, y, heading, kind) => {
        const made = createThing(yard, kind, 'one', 'room-1', { x, y, z: 0 }) as Level['fixtures'][number];
        const level = { ...yard, zones: [], solids: [], visitors: [], fixtures: [{ ...made, heading }] } as Level;
        const scene = Scene.of(startFigures(level, 'room-1'), undefined);
        for (const angle of [0, 1, 2, 3, 4, 5]) {
          const beside = (far: number) => ({ x: x + far * Math.cos(angle), y: y + far * Math.sin(angle) });
          expect(scene.at(beside(0.45), 0)?.id).toBe('one');
          expect(scene.at(beside(0.8), 0)).toBeNull();
        }
      }),
      { numRuns: 60 },
    );
  });

  it('lies below what is drawn on it: pressed again and again, each is reached in turn', () => {
    const under = new Under();
    const press = (x: number, heap: string[]): string =>
      under.next({ at: { x, y: 0 }, moved: 0, thing: heap[0]!, heap, handle: null, pin: null, shift: false, alt: false });
    const heap = ['miller', 'mill-door', 'doorstep'];
    expect([press(0, heap), press(0, heap), press(0.1, heap), press(0, heap)]).toEqual([
      'miller',
      'mill-door',
      'doorstep',
      'miller',
    ]);
    // Elsewhere the topmost comes first again.
    expect(press(3, ['mill-door', 'doorstep'])).toBe('mill-door');
  });

  it('is the upper of two, and what is thin is taken from a little way off', () => {
    const wall = {
      ...createThing(yard, 'solid', 'wall', 'room-1', { x: 0, y: 0, z: 0 }, { x: 20, y: 0.2 }),
    } as Level['solids'][number];
    const scene = Scene.of(startFigures({ ...zones([5]), solids: [wall] } as Level, 'room-1'), undefined);
    expect(scene.at({ x: 5, y: 0 }, 0)?.id).toBe('wall');
    expect(scene.at({ x: 5, y: 0.5 }, 0)?.id).toBe('z0');
    expect(scene.at({ x: -6, y: 0.25 }, 0.2)?.id).toBe('wall');
    expect(scene.at({ x: -6, y: 4 }, 0.2)).toBeNull();
  });
});

describe('A number is read as people type it', () => {
  const seconds = { kind: 'number', unit: 's', min: 0, max: 10, step: 0.1 } as const;
  const units = unitsOf(zoned(0), 's');
  it.each([['1.5'], ['1,5'], [' 1.5 s '], ['1.5s'], ['15e-1']])('%j', (text) =>
    expect(readNumber(text, seconds, units)).toEqual({ value: 1.5 }),
  );
  it.each([
    ['', 'needed'],
    ['soon', 'not a number'],
    ['11', 'out of range'],
    ['-1', 'out of range'],
    ['80u/s', '“u/s” is not a unit of this value. Use ms, s, min, h or tick.'],
    ['1..5', 'not a number'],
    ['NaN', 'not a number'],
    ['Infinity', 'not a number'],
  ])('%j is refused with a reason', (text, reason) =>
    expect(readNumber(text, seconds, units)).toEqual({ error: expect.stringContaining(reason) }),
  );
  it('and empty means something where the sentence says so', () => {
    expect(readNumber('', { ...seconds, none: 'never' }, units)).toEqual({ value: null });
    expect(readNumber('Never', { ...seconds, none: 'never' }, units)).toEqual({ value: null });
    expect(readNumber('1.5', { ...seconds, whole: true }, units)).toEqual({ error: expect.stringContaining('whole') });
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

describe('A sum as people type it', () => {
  const metres = { kind: 'number' as const, unit: 'm', min: -1000, max: 1000, step: 0.1 };
  const units = { ...unitsOf(zoned(0), 'm'), u: 0.025 };
  it.each([
    ['8 - 110', -102],
    ['2.4 m - 0.2', 2.2],
    ['(3 + 1) * 60 cm', 2.4],
    ['1/3 * 3', 1],
    ['96 u', 2.4],
    ['0,1 + 0,2', 0.3],
    ['-(2 - 5)', 3],
  ])('%s comes to %d m', (text, value) => expect(readNumber(text, metres, units)).toEqual({ value }));
  it.each(['8 -', '2 m m', '3 seconds', '(1', '1 2', 'a', '1/0'])('%s is told as it stands', (text) =>
    expect(readNumber(text, metres, units)).toEqual({ error: expect.stringContaining(`“${text}”`) }),
  );
  it('reads back whatever number was written', () => {
    fc.assert(
      fc.property(fc.integer({ min: -99999, max: 99999 }), (n) => {
        expect(readNumber(String(n / 100), metres, units)).toEqual({ value: n / 100 + 0 });
      }),
    );
  });
});
