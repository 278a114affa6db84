import { reachX, reachY } from '../space/shapes';
import type { Level, Thing } from './level';
import { shapeOfThing } from './shapes';

/** A line that something can be brought to: at a coordinate, from where to where the thing reaches whose edge or middle it is. */
interface Line {
  at: number;
  from: number;
  to: number;
}

/** The lines of a room that what is dragged can be brought to, on each axis in ascending order. */
export interface SnapLines {
  x: readonly Line[];
  y: readonly Line[];
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
  const x: Line[] = [];
  const y: Line[] = [];
  const add = ({ west, south, east, north }: Bounds): void => {
    for (const at of [west, (west + east) / 2, east]) x.push({ at, from: south, to: north });
    for (const at of [south, (south + north) / 2, north]) y.push({ at, from: west, to: east });
  };
  for (const collection of standing)
    for (const thing of level[collection]) {
      if (thing.room !== room || without.has(thing.id)) continue;
      const own = boundsOf(collection, thing);
      if (own !== null) add(own);
    }
  const own = level.rooms.find(({ id }) => id === room);
  if (own !== undefined) add(own.extents);
  const ascending = (a: Line, b: Line): number => a.at - b.at;
  return { x: x.sort(ascending), y: y.sort(ascending) };
}

/**
 * What is dragged by so much, brought to the nearest line on each axis with one of its own edges or its middle, if one is within reach; else
 * it is dragged as it was. All in metres.
 */
export function snapTo(lines: SnapLines, bounds: Bounds, by: { x: number; y: number }, reach: number): Snapped {
  const { west, east, south, north } = bounds;
  const x = nearest(
    lines.x,
    [west, (west + east) / 2, east].map((at) => at + by.x),
    reach,
  );
  const y = nearest(
    lines.y,
    [south, (south + north) / 2, north].map((at) => at + by.y),
    reach,
  );
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

/** Of some coordinates the one that is nearest to a line, within reach: the line, and how far it is to it. */
function nearest(lines: readonly Line[], wanted: readonly number[], reach: number): { line: Line; by: number } | null {
  let best: { line: Line; by: number } | null = null;
  for (const at of wanted) {
    let [low, high] = [0, lines.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (lines[middle]!.at < at) low = middle + 1;
      else high = middle;
    }
    for (const line of [lines[low - 1], lines[low]]) {
      if (line === undefined) continue;
      const by = line.at - at;
      if (Math.abs(by) <= reach && (best === null || Math.abs(by) < Math.abs(best.by))) best = { line, by };
    }
  }
  return best;
}
