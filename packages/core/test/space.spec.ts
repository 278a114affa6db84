import fc from 'fast-check';
import { Grid, meet } from '../src/space/grid';
import type { Footprint } from '../src/space/grid';
import { moved } from '../src/space/shapes';
import { note } from '../src/ledger/tracks';
import { boxAt, direction, overlaps, sweep, ticksOf, valuesAt } from '../src/index';
import type { Track, Shape } from '../src/index';

const small = fc.integer({ min: -30, max: 30 }).map((n) => n / 10);
const size = fc.integer({ min: 1, max: 40 }).map((n) => n / 10);
const box = (heading: fc.Arbitrary<number>): fc.Arbitrary<Shape> =>
  fc
    .tuple(small, small, small, size, size, size, heading)
    .map(([x, y, z, w, d, h, angle]) => boxAt({ x, y, z }, { x: w, y: d, z: h }, angle));
const turned = box(fc.integer({ min: -180, max: 180 }));

/** Whether any point of a fine lattice in `a` lies deep inside `b`: slow, and independent of separating axes. */
function lattice(a: Shape, b: Shape, depth: number): boolean {
  const inside = (x: number, y: number, z: number): boolean => {
    const dx = x - b.x;
    const dy = y - b.y;
    const u = dx * b.cos + dy * b.sin;
    const v = dy * b.cos - dx * b.sin;
    return Math.abs(u) < b.halfX - depth && Math.abs(v) < b.halfY - depth && z > b.z + depth && z < b.z + b.height - depth;
  };
  for (let i = 0; i <= 12; i++) {
    for (let j = 0; j <= 12; j++) {
      for (let k = 0; k <= 6; k++) {
        const u = (i / 6 - 1) * a.halfX;
        const v = (j / 6 - 1) * a.halfY;
        if (inside(a.x + u * a.cos - v * a.sin, a.y + u * a.sin + v * a.cos, a.z + (k / 6) * a.height)) return true;
      }
    }
  }
  return false;
}

it('overlaps wherever a point of one is inside the other', () => {
  fc.assert(
    fc.property(turned, turned, (a, b) => {
      if (lattice(a, b, 1e-6)) expect(overlaps(a, b)).toBe(true);
    }),
    { numRuns: 400 },
  );
});

it('is the same both ways round, and does not hold for boxes apart by a plane', () => {
  fc.assert(
    fc.property(turned, turned, (a, b) => {
      expect(overlaps(a, b)).toBe(overlaps(b, a));
      const far = { ...b, x: a.x + Math.hypot(a.halfX, a.halfY) + Math.hypot(b.halfX, b.halfY) };
      expect(overlaps(a, far)).toBe(false);
      expect(overlaps(a, { ...b, z: a.z + a.height })).toBe(false);
    }),
  );
});

it('does not count bodies that only touch, whatever the sums round to', () => {
  fc.assert(
    fc.property(small, size, size, (x, a, b) => {
      const left = boxAt({ x, y: 0, z: 0 }, { x: a, y: 1, z: 1 }, 0);
      expect(overlaps(left, boxAt({ x: x + a / 2 + b / 2, y: 0, z: 0 }, { x: b, y: 1, z: 1 }, 0))).toBe(false);
      expect(overlaps(left, boxAt({ x: x + a / 2 + b / 2 - 0.001, y: 0, z: 0 }, { x: b, y: 1, z: 1 }, 0))).toBe(true);
    }),
  );
});

it('finds the stretch of a move during which two boxes meet: overlap at a time inside it, none outside', () => {
  fc.assert(
    fc.property(
      box(fc.constant(0)),
      turned,
      small,
      small,
      small,
      fc.double({ min: 0, max: 1, noNaN: true }),
      (a, b, dx, dy, dz, t) => {
        const stretch = sweep(a, dx, dy, dz, b);
        const there = overlaps(moved(a, a.x + dx * t, a.y + dy * t, a.z + dz * t), b);
        const within = stretch !== null && t > stretch.from && t < stretch.to;
        const edge = stretch !== null && (Math.abs(t - stretch.from) < 1e-6 || Math.abs(t - stretch.to) < 1e-6);
        if (!edge) expect(there).toBe(within);
      },
    ),
    { numRuns: 1000 },
  );
});

it('finds in a grid whatever meets a rectangle, each once and nothing else, however far out, wide or many they are', () => {
  const edge = fc.oneof(
    fc.integer({ min: -400, max: 400 }).map((n) => n / 8),
    fc.constantFrom(0, 4, -4, 8, 99_999, -100_000),
  );
  const rectangle: fc.Arbitrary<Footprint> = fc
    .tuple(edge, edge, fc.constantFrom(0, 0.3, 1, 4, 70, 5000), fc.constantFrom(0, 0.3, 1, 4, 70, 5000))
    .map(([west, south, wide, deep]) => ({ west, south, east: west + wide, north: south + deep }));
  fc.assert(
    fc.property(
      fc.array(rectangle, { maxLength: 60, size: 'max' }),
      fc.array(fc.array(rectangle, { minLength: 1, maxLength: 3 }), { minLength: 1, maxLength: 6 }),
      (all, questions) => {
        const grid = new Grid();
        all.forEach((one, i) => grid.add(i * 7, one));
        for (const question of questions) {
          const found: number[] = [];
          grid.begin();
          for (const where of question) grid.findMore(where, found);
          const wanted = all.flatMap((one, i) => (question.some((where) => meet(one, where)) ? [i * 7] : []));
          expect(found.sort((a, b) => a - b)).toEqual(wanted);
        }
      },
    ),
  );
});

it('takes headings to twelve places, so that a quarter turn is exact', () => {
  expect(direction(90)).toEqual({ cos: 0, sin: 1 });
  expect(direction(-180)).toEqual({ cos: -1, sin: -0 });
});

it('rounds durations up to whole ticks, and 0 s to none', () => {
  expect([0, 0.5, 1 / 60, 0.51, 1e-9].map((seconds) => ticksOf(seconds, 60))).toEqual([0, 30, 1, 31, 0]);
});

it('keeps the way of a thing as its corners, and gives every tick back', () => {
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.integer({ min: 1, max: 4 }), fc.integer({ min: -3, max: 3 })), { minLength: 1, maxLength: 30 }),
      (moves) => {
        const tracks = new Map<string, Track>([]);
        const truth: number[] = [0];
        note(tracks, 'miller', 0, [0]);
        for (const [pause, by] of moves) {
          const last = truth.at(-1)!;
          for (let i = 1; i < pause; i++) truth.push(last);
          truth.push(last + by);
          note(tracks, 'miller', truth.length - 1, [last + by]);
        }
        const track = tracks.get('miller')!;
        truth.forEach((value, tick) => expect(valuesAt(track, tick)[0]).toBeCloseTo(value, 6));
      },
    ),
  );
});
