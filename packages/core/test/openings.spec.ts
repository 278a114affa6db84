import fc from 'fast-check';
import { createThing, fitted, openingAt } from '../src/index';
import type { Fixture, Level } from '../src/index';
import { levelOf } from './build';

/** Doors that are put into the opening of a wall, at any angle. */

type Door = Extract<Fixture, { kind: 'door' }>;

const base = levelOf({});
const [room] = base.rooms;

/** Two walls in line, with an opening between them about a point, at a heading in degrees. */
function opened({
  x,
  y,
  heading,
  width = 1.4,
  thick = 0.4,
  high = 3,
  long = [3, 2],
}: Record<string, unknown> & {
  x: number;
  y: number;
  heading: number;
  width?: number;
  thick?: number;
  high?: number;
  long?: [number, number];
}): Level {
  const [cos, sin] = [Math.cos((heading * Math.PI) / 180), Math.sin((heading * Math.PI) / 180)];
  const wall = (id: string, along: number, length: number, height: number): unknown => ({
    id,
    name: id,
    room: room!.id,
    at: { x: x + along * cos, y: y + along * sin, z: room!.ground },
    size: { x: length, y: thick, z: height },
    heading,
  });
  return levelOf({
    solids: [wall('left', -(width + long[0]) / 2, long[0], high), wall('right', (width + long[1]) / 2, long[1], high + 1)],
  });
}

const doorAt = (level: Level, x: number, y: number, variant?: string): Door =>
  fitted(level, createThing(level, 'door', 'door', room!.id, { x, y, z: room!.ground }, {}, variant) as Door);

describe('A door that is put into the opening of a wall', () => {
  it('is as wide and as high as it, stands in its middle, and slides into the longer wall', () => {
    const level = opened({ x: 2, y: 1, heading: 0 });
    expect(openingAt(level, room!.id, { x: 2.3, y: 1.1 })).toEqual({
      at: { x: 2, y: 1 },
      heading: 0,
      width: 1.4,
      depth: 0.4,
      height: 3,
      longer: -1,
    });
    expect(doorAt(level, 2.3, 1.1)).toMatchObject({
      at: { x: 2, y: 1 },
      heading: 0,
      size: { x: 1.4, y: 0.2, z: 3 },
      travel: { x: -1.4, y: 0, z: 0 },
    });
    expect(doorAt(level, 2.3, 1.1, 'sink')).toMatchObject({ size: { z: 3 }, travel: { x: 0, y: 0, z: -3 } });
    expect(doorAt(level, 2.3, 1.1, 'swing')).toMatchObject({ at: { x: 2, y: 1 }, size: { x: 1.4, y: 0.2 } });
  });

  it('goes no higher than what is above it', () => {
    const level = opened({ x: 0, y: 0, heading: 90 });
    const lintel = {
      ...level.solids[0]!,
      id: 'lintel',
      at: { x: 0, y: 0, z: room!.ground + 2.1 },
      size: { x: 1.4, y: 0.4, z: 1 },
    };
    expect(doorAt({ ...level, solids: [...level.solids, lintel] }, 0, 0).size.z).toBe(2.1);
  });

  it('fits at any heading, wherever in the opening it was put', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -179, max: 180 }),
        fc.integer({ min: 3, max: 39 }),
        fc.double({ min: -0.45, max: 0.45, noNaN: true }),
        fc.double({ min: -0.45, max: 0.45, noNaN: true }),
        (heading, tenths, u, v) => {
          const width = tenths / 10;
          const level = opened({ x: 1, y: -2, heading, width });
          const [cos, sin] = [Math.cos((heading * Math.PI) / 180), Math.sin((heading * Math.PI) / 180)];
          const [along, aside] = [u * width, v * 0.4];
          const door = doorAt(level, 1 + along * cos - aside * sin, -2 + along * sin + aside * cos);
          expect(door.at.x).toBeCloseTo(1, 2);
          expect(door.at.y).toBeCloseTo(-2, 2);
          expect(door.size.x).toBeCloseTo(width, 2);
          expect((((door.heading - heading) % 180) + 180) % 180).toBeCloseTo(0, 6);
          // Into the left wall, which is the longer one.
          expect(door.travel.x).toBeCloseTo(-width * cos, 2);
          expect(door.travel.y).toBeCloseTo(-width * sin, 2);
        },
      ),
    );
  });

  it.each([
    ['in the open', opened({ x: 9, y: 9, heading: 0 })],
    ['between walls too far apart', opened({ x: 0, y: 0, heading: 0, width: 4.2 })],
    ['in a passage between long walls', opened({ x: 0, y: 0, heading: 0, thick: 3 })],
    ['inside a wall', opened({ x: 2, y: 0, heading: 0 })],
    [
      'beside a single wall',
      { ...opened({ x: 0, y: 0, heading: 0 }), solids: opened({ x: 0, y: 0, heading: 0 }).solids.slice(0, 1) },
    ],
  ])('is as usual %s', (_where, level) => {
    expect(openingAt(level, room!.id, { x: 0, y: 0 })).toBeNull();
    expect(doorAt(level, 0, 0)).toMatchObject({ at: { x: 0, y: 0 }, size: { x: 1, y: 0.2, z: 2.2 }, heading: 0 });
  });
});
