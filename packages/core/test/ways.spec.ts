import fc from 'fast-check';
import { rehearse, valuesAt } from '../src/index';
import { at, goTo, levelOf, solid, told, visitor, walk } from './build';

/** A maze of cells of three metres in which every cell can be reached, as its walls and the number of cells on a side. */
function maze(side: number, random: () => number) {
  const open = new Set<string>();
  const seen = new Set(['0 0']);
  const trail: [number, number][] = [[0, 0]];
  while (trail.length > 0) {
    const [x, y] = trail.at(-1)!;
    const next = [
      [x + 1, y],
      [x - 1, y],
      [x, y + 1],
      [x, y - 1],
    ].filter(([a, b]) => a! >= 0 && b! >= 0 && a! < side && b! < side && !seen.has(`${a} ${b}`)) as [number, number][];
    if (next.length === 0) {
      trail.pop();
      continue;
    }
    const [a, b] = next[Math.floor(random() * next.length)]!;
    seen.add(`${a} ${b}`);
    open.add(`${x + a} ${y + b}`);
    trail.push([a, b]);
  }
  const walls: Record<string, unknown>[] = [];
  const wall = (x: number, y: number, wide: number, deep: number): number =>
    walls.push(solid(`Wall ${walls.length}`, x, y, { size: at(wide, deep, 3) }));
  for (let x = 0; x < side; x++) {
    for (let y = 0; y < side; y++) {
      if (x < side - 1 && !open.has(`${2 * x + 1} ${2 * y}`)) wall(3 * x + 3, 3 * y + 1.5, 0.2, 3.2);
      if (y < side - 1 && !open.has(`${2 * x} ${2 * y + 1}`)) wall(3 * x + 1.5, 3 * y + 3, 3.2, 0.2);
    }
  }
  for (const edge of [0, 3 * side]) {
    wall(1.5 * side, edge, 3 * side + 0.2, 0.2);
    wall(edge, 1.5 * side, 0.2, 3 * side + 0.2);
  }
  return walls;
}

it('leads through any maze, and never through a wall', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 2, max: 6 }),
      fc.infiniteStream(fc.double({ min: 0, max: 0.999, noNaN: true })),
      (side, stream) => {
        const level = levelOf({
          solids: maze(side, () => stream.next().value as number),
          visitors: [visitor('Alma', 1.5, 1.5, { speed: 4 })],
          walks: [walk({ alma: [goTo(3 * side - 1.5, 3 * side - 1.5)] }, { atMost: 600 })],
        });
        const { entries, tracks, ticks } = rehearse(level, level.walks[0]!);
        expect(told(entries).map((line) => line.split(' ')[1])).toEqual(['start', 'arrived', 'end']);
        const track = tracks.visitors.get('alma')!;
        for (let tick = 0; tick <= ticks; tick++) {
          const [x = 0, y = 0] = valuesAt(track, tick);
          const inWall = level.solids.some(
            ({ at: middle, size }) =>
              Math.abs(x - middle.x) < size.x / 2 + 0.25 - 1e-6 && Math.abs(y - middle.y) < size.y / 2 + 0.25 - 1e-6,
          );
          expect(inWall).toBe(false);
        }
      },
    ),
    { numRuns: 40 },
  );
}, 120_000);

it('finds its way through hundreds of walls, and says what stops it where there is none', () => {
  const rows = 120;
  const snake = Array.from({ length: rows }, (_, i) => solid(`Row ${i}`, i % 2 === 0 ? 1 : -1, i * 2, { size: at(9, 0.2, 3) }));
  const sides = [-4.5, 4.5].map((x) => solid(`Side ${x > 0 ? 'east' : 'west'}`, x, rows, { size: at(0.2, 2 * rows + 8, 3) }));
  const parts = {
    rooms: [{ id: 'yard', name: 'Yard', extents: { west: -5, south: -4, east: 5, north: 2 * rows + 2 } }],
    visitors: [visitor('Alma', 0, -2, { speed: 20 })],
    walks: [walk({ alma: [goTo(0, 2 * rows - 1)] }, { atMost: 600 })],
  };
  const through = levelOf({ ...parts, solids: [...snake, ...sides] });
  expect(told(rehearse(through, through.walks[0]!).entries).at(-2)).toMatch(/^\d+ arrived alma by alma$/);
  const shut = levelOf({ ...parts, solids: [...snake, ...sides, solid('Bar', 0, 99, { size: at(9, 0.2, 3) })] });
  expect(told(rehearse(shut, shut.walks[0]!).entries, 'blocked')).toHaveLength(1);
}, 120_000);
