import { corners, overlaps } from './overlap';
import { footprint, footprintOfWay, meet } from './grid';
import type { Footprint, Grid } from './grid';
import { sweepOnTheGround } from './sweep';
import { TOUCH, moved, reach } from './shapes';
import type { Shape } from './shapes';
import type { Vector } from '../vocabulary/quantities';

/** What a way is found through: blocks that never move, by number, with the height of the ground and of a step. */
export interface Terrain {
  blocks: readonly Shape[];
  grid: Grid | undefined;
  ground: number;
  step: number;
  /** What ways keep inside of. */
  extents: Footprint;
}

/** How far from what is in the way a way keeps, in metres. */
const CLEARANCE = 0.01;
/** A way that has to go around more blocks than this is taken to be none. */
const MOST_BLOCKS = 400;
/** A way for which more lines have to be looked at than this is taken to be none, so that nobody waits for it. */
const MOST_LINES = 10_000_000;
/** How far to the sides of the straight line stairs are looked for, in metres. */
const ABOUT = 4;

/**
 * The shortest way of a body from where it stands to a place, around blocks, as the corners it turns at and the place;
 * or the place alone, the straight line, where no way was found.
 *
 * A way turns at the middles of blocks, where it goes up on them, and at their corners, grown by what the body reaches along
 * their sides and by a centimetre (the visibility graph of T. Lozano-Pérez and M. Wesley, 1979, for a body that keeps its
 * heading). The blocks that matter are found as they are met: a way is searched around those known so far (E. W. Dijkstra,
 * 1959), and walked through all of them; what blocks it becomes known, and the search begins anew. Where no way is found, all
 * that stands within four metres of the line becomes known. Of ways that differ by less than a micrometre, the one with fewer
 * corners is taken, and then the one whose corners come first, by the listing order of their blocks.
 */
export function findWay(terrain: Terrain, body: Shape, to: Vector): Vector[] {
  const straight = walkLine(terrain, null, body, to.x, to.y);
  if (straight.blockedBy === null && reaches(straight.z, to, terrain)) return [to];
  const known = new Set<number>();
  let lines: Known['lines'] = new Map();
  const left = { lines: MOST_LINES };
  let climbable = 0;
  if (straight.blockedBy !== null) known.add(straight.blockedBy);
  else addAbout(terrain, body, to, known);
  while (known.size <= MOST_BLOCKS && left.lines > 0) {
    const blocks = [...known];
    const walls = wallsAmong(terrain, blocks, body.z);
    // What was a wall may be climbed by way of what is known since.
    if (blocks.length - walls.length !== climbable) lines = new Map();
    climbable = blocks.length - walls.length;
    const way = search(terrain, { blocks, walls, lines, left }, body, to);
    if (way === null) {
      if (!addAbout(terrain, body, to, known)) break;
      continue;
    }
    const before = known.size;
    let at = body;
    for (const point of way) {
      const { blockedBy, z } = walkLine(terrain, null, at, point.x, point.y);
      if (blockedBy !== null) known.add(blockedBy);
      at = moved(at, point.x, point.y, z);
    }
    if (known.size === before) return way;
  }
  return [to];
}

/** Adds what stands about the straight line, for it may be stairs to a place that is higher or lower. Whether there was any. */
function addAbout(terrain: Terrain, body: Shape, to: Vector, known: Set<number>): boolean {
  const before = known.size;
  const about = footprintOfWay(body, to.x - body.x, to.y - body.y, ABOUT);
  for (const number of nearby(terrain, about)) if (meet(footprint(terrain.blocks[number]!), about)) known.add(number);
  return known.size > before;
}

function reaches(z: number, to: Vector, { step }: Terrain): boolean {
  return Math.abs(z - to.z) <= step + TOUCH;
}

interface Node {
  x: number;
  y: number;
  z: number;
  length: number;
  /** The corners it was reached by. */
  by: number[];
  points: Vector[];
  done: boolean;
}

/** What a search knows: the blocks in the order in which they became known, and the lines walked among them. */
interface Known {
  blocks: readonly number[];
  /** Those that nobody gets over or under: too high for any step from where one could stand, and down to the ground. */
  walls: number[];
  /** By where they begin and end; those that a wall stops with no height. */
  lines: Map<number, { height: number | null; known: number; walked: Walked }>;
  /** How many lines may still be looked at. */
  left: { lines: number };
}

/** A line around the known blocks: as it was walked before, if nothing known since then stands near it. */
function lineAmong(
  terrain: Terrain,
  { blocks, walls, lines }: Known,
  body: Shape,
  from: number,
  spot: { x: number; y: number; corner: number },
): Walked {
  const key = (from + 1) * (goalOf(terrain) + 1) + spot.corner;
  const before = lines.get(key);
  if (before !== undefined && before.height === null) return before.walked;
  if (before !== undefined && before.height === body.z) {
    const since = before.known;
    before.known = blocks.length;
    let same = true;
    for (let i = since; same && i < blocks.length; i++) same = isFarFrom(terrain.blocks[blocks[i]!]!, body, spot.x, spot.y);
    if (same) return before.walked;
  }
  for (let i = 0; i < walls.length; i++) {
    const wall = terrain.blocks[walls[i]!]!;
    if (isFarFrom(wall, body, spot.x, spot.y) || overlaps(body, wall)) continue;
    if (sweepOnTheGround(body, spot.x - body.x, spot.y - body.y, wall) === null) continue;
    const walked = { blockedBy: walls[i]!, z: body.z };
    lines.set(key, { height: null, known: blocks.length, walked });
    // The next line is often stopped by the same wall.
    walls.unshift(...walls.splice(i, 1));
    return walked;
  }
  const walked = walkLine(terrain, blocks, body, spot.x, spot.y);
  lines.set(key, { height: body.z, known: blocks.length, walked });
  return walked;
}

/** The blocks that no line gets over or under, from wherever one could have climbed. */
function wallsAmong({ blocks, ground, step }: Terrain, numbers: readonly number[], from: number): number[] {
  let highest = from;
  let rest = [...numbers];
  for (let before = Infinity; rest.length < before;) {
    before = rest.length;
    rest = rest.filter((number) => {
      const top = blocks[number]!.z + blocks[number]!.height;
      if (top > highest + step + TOUCH) return true;
      highest = Math.max(highest, top);
      return false;
    });
  }
  return rest.filter((number) => blocks[number]!.z <= Math.min(ground, from));
}

/** Whether a block is surely nowhere near a line that a body walks. */
function isFarFrom(block: Shape, body: Shape, x: number, y: number): boolean {
  const far = block.halfX + block.halfY + body.halfX + body.halfY;
  return (
    block.x + far < Math.min(body.x, x) ||
    block.x - far > Math.max(body.x, x) ||
    block.y + far < Math.min(body.y, y) ||
    block.y - far > Math.max(body.y, y)
  );
}

function search(terrain: Terrain, known: Known, body: Shape, to: Vector): Vector[] | null {
  const numbers = known.blocks.toSorted((a, b) => a - b);
  const spots: { x: number; y: number; corner: number }[] = numbers.flatMap((number) => {
    const block = terrain.blocks[number]!;
    const grown = {
      ...block,
      halfX: block.halfX + reach(body, block.cos, block.sin),
      halfY: block.halfY + reach(body, -block.sin, block.cos),
    };
    // Its corners to go around it, and its middle to go up on it.
    return [...corners(grown, CLEARANCE), [block.x, block.y] as const]
      .map(([x, y], at) => ({ x, y, corner: number * 5 + at }))
      .filter(({ x, y }) => isWithin(moved(body, x, y, 0), terrain.extents));
  });
  const goal = goalOf(terrain);
  spots.push({ x: to.x, y: to.y, corner: goal });
  const start: Node = { x: body.x, y: body.y, z: body.z, length: 0, by: [], points: [], done: false };
  const open: Node[] = [start];
  const best = new Map<string, Node>();
  for (;;) {
    let node: Node | null = null;
    for (const one of open) if (!one.done && (node === null || isBetter(one, node))) node = one;
    if (node === null || known.left.lines <= 0) return null;
    known.left.lines -= spots.length;
    node.done = true;
    const last = node.by.at(-1) ?? START_NODE;
    if (last === goal) return node.points;
    const from = moved(body, node.x, node.y, node.z);
    for (const spot of spots) {
      if (node.by.includes(spot.corner)) continue;
      const { blockedBy, z } = lineAmong(terrain, known, from, last, spot);
      if (blockedBy !== null || (spot.corner === goal && !reaches(z, to, terrain))) continue;
      const length = node.length + Math.sqrt((spot.x - node.x) ** 2 + (spot.y - node.y) ** 2);
      const point = spot.corner === goal ? to : { x: spot.x, y: spot.y, z };
      const next: Node = {
        x: spot.x,
        y: spot.y,
        z,
        length,
        by: [...node.by, spot.corner],
        points: [...node.points, point],
        done: false,
      };
      const key = `${spot.corner} ${Math.round(z * 1e6)}`;
      const rival = best.get(key);
      if (rival !== undefined && (rival.done || !isBetter(next, rival))) continue;
      if (rival !== undefined) rival.done = true;
      best.set(key, next);
      open.push(next);
    }
  }
}

function isWithin(body: Shape, extents: Footprint): boolean {
  const { west, south, east, north } = footprint(body);
  return west >= extents.west && south >= extents.south && east <= extents.east && north <= extents.north;
}

/** The node number of the start of a path; corners begin at 0. */
const START_NODE = -1;

/** What stands for the place it leads to: it comes after all corners. */
function goalOf({ blocks }: Terrain): number {
  return blocks.length * 5;
}

function isBetter(a: Node, b: Node): boolean {
  if (Math.abs(a.length - b.length) > 1e-6) return a.length < b.length;
  if (a.by.length !== b.by.length) return a.by.length < b.by.length;
  const differs = a.by.findIndex((corner, at) => corner !== b.by[at]);
  return differs >= 0 && a.by[differs]! < b.by[differs]!;
}

/** What blocks a line first, by number, and at which height it ends. */
interface Walked {
  blockedBy: number | null;
  z: number;
}

/**
 * Walks a body along a straight line on the ground, up and down steps: what blocks it first, by number, and at which
 * height it ends. `known` limits it to some of the blocks.
 */
function walkLine(terrain: Terrain, known: readonly number[] | null, body: Shape, x: number, y: number): Walked {
  const { blocks, ground, step } = terrain;
  const dx = x - body.x;
  const dy = y - body.y;
  const numbers = known ?? nearby(terrain, footprintOfWay(body, x - body.x, y - body.y));
  const met: { number: number; from: number; to: number }[] = [];
  for (const number of numbers) {
    const block = blocks[number]!;
    const stretch = isFarFrom(block, body, x, y) ? null : sweepOnTheGround(body, dx, dy, block);
    if (stretch !== null) met.push({ number, from: stretch.from, to: stretch.to });
  }
  met.sort((a, b) => a.from - b.from || a.number - b.number);
  let z = body.z;
  const under: typeof met = [];
  const fallTo = (at: number): void => {
    let top = ground <= z + TOUCH ? ground : -Infinity;
    for (const one of under) {
      const block = blocks[one.number]!;
      const height = block.z + block.height;
      if ((one.to > at || one.to >= 1) && height <= z + TOUCH) top = Math.max(top, height);
    }
    if (top > -Infinity) z = top;
  };
  // What is met at the same moment is met from the same height.
  let reached = { from: -1, z };
  for (const one of met) {
    const block = blocks[one.number]!;
    const top = block.z + block.height;
    if (one.from > reached.from + 1e-6) {
      // What it has left behind no longer holds it up; but at the very start it stands where it stands.
      if (one.from > 0 && under.some((other) => other.to <= one.from)) fallTo(one.from);
      reached = { from: one.from, z };
    }
    if (top <= reached.z + step + TOUCH) {
      under.push(one);
      if (top > z) z = top;
    } else if (reached.z + body.height > block.z + TOUCH && !overlaps(body, block)) {
      return { blockedBy: one.number, z };
    }
  }
  fallTo(1);
  return { blockedBy: null, z };
}

function nearby({ grid }: Terrain, where: Footprint): number[] {
  if (grid === undefined) return [];
  return grid.find(where).sort((a, b) => a - b);
}
