import { reachX, reachY } from '../space/shapes';
import type { Level, Thing } from './level';
import { shapeOfThing } from './shapes';

/** Lines that something can be brought to: at which coordinates, from where to where the things reach whose edges or middles they are. */
interface Lines {
  at: Float64Array;
  from: Float64Array;
  to: Float64Array;
}

/** The lines of a room that what is dragged can be brought to, on each axis. */
export interface SnapLines {
  x: Lines;
  y: Lines;
}

/** From where to where something reaches in plan, in metres. */
export interface Bounds {
  west: number;
  south: number;
  east: number;
  north: number;
}

/** Where something is brought to, and the lines that it lies on then: each from a point to a point. */
export interface Snapped {
  by: { x: number; y: number };
  guides: { from: { x: number; y: number }; to: { x: number; y: number } }[];
}

const standing = ['zones', 'solids', 'fixtures', 'visitors'] as const;

/** From where to where things reach together in plan; null of what stands nowhere. */
export function boundsTogether(level: Level, ids: ReadonlySet<string>): Bounds | null {
  let all: Bounds | null = null;
  for (const collection of standing)
    for (const thing of level[collection]) {
      if (!ids.has(thing.id)) continue;
      const own = boundsOf(collection, thing);
      if (own === null) continue;
      all =
        all === null
          ? own
          : {
              west: Math.min(all.west, own.west),
              south: Math.min(all.south, own.south),
              east: Math.max(all.east, own.east),
              north: Math.max(all.north, own.north),
            };
    }
  return all;
}

function boundsOf(collection: (typeof standing)[number], thing: Thing): Bounds | null {
  const shape = shapeOfThing(collection, thing);
  if (shape === null) return null;
  const [x, y] = [reachX(shape), reachY(shape)];
  return { west: shape.x - x, east: shape.x + x, south: shape.y - y, north: shape.y + y };
}

/** The edges and middles of all things of a room but some, and of the room itself, as lines. */
export function snapLines(level: Level, room: string, without: ReadonlySet<string>): SnapLines {
  const all: Bounds[] = [];
  for (const collection of standing)
    for (const thing of level[collection]) {
      if (thing.room !== room || without.has(thing.id)) continue;
      const own = boundsOf(collection, thing);
      if (own !== null) all.push(own);
    }
  const own = level.rooms.find(({ id }) => id === room);
  if (own !== undefined) all.push(own.extents);
  const [x, y] = [linesFor(all.length), linesFor(all.length)];
  all.forEach(({ west, south, east, north }, place) => {
    draw(x, 3 * place, west, east, south, north);
    draw(y, 3 * place, south, north, west, east);
  });
  return { x, y };
}

/** Room for the edges and middles of so many things. */
function linesFor(things: number): Lines {
  return { at: new Float64Array(3 * things), from: new Float64Array(3 * things), to: new Float64Array(3 * things) };
}

/** Both edges of a thing and its middle, as lines across. */
function draw(lines: Lines, place: number, low: number, high: number, from: number, to: number): void {
  lines.at[place] = low;
  lines.at[place + 1] = (low + high) / 2;
  lines.at[place + 2] = high;
  lines.from.fill(from, place, place + 3);
  lines.to.fill(to, place, place + 3);
}

/**
 * What is dragged by so much, brought to the nearest line on each axis with one of its own edges or its middle, if one is within reach; else
 * it is dragged as it was. All in metres.
 */
export function snapTo(lines: SnapLines, bounds: Bounds, by: { x: number; y: number }, reach: number): Snapped {
  const { west, east, south, north } = bounds;
  const x = nearest(lines.x, [west + by.x, (west + east) / 2 + by.x, east + by.x], reach);
  const y = nearest(lines.y, [south + by.y, (south + north) / 2 + by.y, north + by.y], reach);
  const to = { x: by.x + (x?.by ?? 0), y: by.y + (y?.by ?? 0) };
  const guides: Snapped['guides'] = [];
  if (x !== null) {
    const [low, high] = [Math.min(x.line.from, south + to.y), Math.max(x.line.to, north + to.y)];
    guides.push({ from: { x: x.line.at, y: low }, to: { x: x.line.at, y: high } });
  }
  if (y !== null) {
    const [low, high] = [Math.min(y.line.from, west + to.x), Math.max(y.line.to, east + to.x)];
    guides.push({ from: { x: low, y: y.line.at }, to: { x: high, y: y.line.at } });
  }
  return { by: to, guides };
}

/**
 * Of some coordinates the one that is nearest to a line, within reach: the line, and how far it is to it. All lines are looked at: that is
 * sooner done, a hundred times over, than to put those of a large room in order once.
 */
function nearest(
  lines: Lines,
  wanted: readonly [low: number, middle: number, high: number],
  reach: number,
): { line: { at: number; from: number; to: number }; by: number } | null {
  const all = lines.at;
  const [low, middle, high] = wanted;
  let best = -1;
  let least = reach;
  for (let line = 0; line < all.length; line++) {
    const at = all[line]!;
    const away = Math.min(Math.abs(at - low), Math.abs(at - middle), Math.abs(at - high));
    if (away < least || (best < 0 && away === least)) {
      best = line;
      least = away;
    }
  }
  if (best < 0) return null;
  const at = all[best]!;
  const by = wanted.map((one) => at - one).find((one) => Math.abs(one) === least)!;
  return { line: { at, from: lines.from[best]!, to: lines.to[best]! }, by };
}
