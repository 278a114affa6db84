import { reachX, reachY } from './shapes';
import type { Shape } from './shapes';

/** A rectangle on the ground, in metres. */
export interface Footprint {
  west: number;
  south: number;
  east: number;
  north: number;
}

/** The upright rectangle that holds a shape, and a little more against rounding; `more` metres more on each side. */
export function footprint(shape: Shape, more = 0): Footprint {
  const x = reachX(shape) + more + 1e-6;
  const y = reachY(shape) + more + 1e-6;
  return { west: shape.x - x, south: shape.y - y, east: shape.x + x, north: shape.y + y };
}

/** The upright rectangle that holds a shape on a straight way from where it is, as `footprint`. */
export function footprintOfWay(shape: Shape, dx: number, dy: number, more = 0): Footprint {
  const x = reachX(shape) + more + 1e-6;
  const y = reachY(shape) + more + 1e-6;
  return {
    west: shape.x + Math.min(0, dx) - x,
    south: shape.y + Math.min(0, dy) - y,
    east: shape.x + Math.max(0, dx) + x,
    north: shape.y + Math.max(0, dy) + y,
  };
}

/** Whether two rectangles meet. */
export function meet(a: Footprint, b: Footprint): boolean {
  return a.west <= b.east && b.west <= a.east && a.south <= b.north && b.south <= a.north;
}

/** The rectangle that holds two. */
export function around(a: Footprint, b: Footprint): Footprint {
  return {
    west: Math.min(a.west, b.west),
    south: Math.min(a.south, b.south),
    east: Math.max(a.east, b.east),
    north: Math.max(a.north, b.north),
  };
}

/** Edge of a cell, in metres: about the size of the things that designers draw. */
const CELL = 4;
/** What covers more cells than this is kept in a list of its own, and looked at by every question. */
const WIDE = 256;

/**
 * Rectangles on the ground, named by number, by the square cells that they touch. The cells are rows of one table, and found
 * in it by a hash of their place (M. Teschner et al.: Optimized Spatial Hashing for Collision Detection of Deformable
 * Objects, 2003): two cells that share a row only cost a comparison. The table is laid out at the first question.
 */
export class Grid {
  private readonly numbers: number[] = [];
  /** West, south, east and north of each rectangle. */
  private readonly sides: number[] = [];
  private table: Table | null = null;
  private question = 0;

  add(number: number, { west, south, east, north }: Footprint): void {
    this.numbers.push(number);
    this.sides.push(west, south, east, north);
    this.table = null;
  }

  /** The numbers of all that meet a rectangle, each once, in no order. */
  find(where: Footprint, found: number[] = []): number[] {
    this.begin();
    this.findMore(where, found);
    return found;
  }

  /** Begins a question about several rectangles, so that each number is found once in all of them. */
  begin(): void {
    this.table ??= layOut(this.sides);
    this.question += 1;
  }

  /** Adds what meets another rectangle of the same question. */
  findMore({ west, south, east, north }: Footprint, found: number[]): void {
    const { rows, entries, held, mask, wide, sides, asked } = this.table!;
    const { numbers, question } = this;
    const fromX = Math.floor(west / CELL);
    const toX = Math.floor(east / CELL);
    const fromY = Math.floor(south / CELL);
    const toY = Math.floor(north / CELL);
    // A question about more cells than there are things asks the things instead.
    const all = (toX - fromX + 1) * (toY - fromY + 1) > numbers.length;
    const one = all ? numbers.length : wide.length;
    for (let i = 0; i < one; i++) {
      const at = all ? i : wide[i]!;
      if (asked[at] === question || !meets(sides, at * 4, west, south, east, north)) continue;
      asked[at] = question;
      found.push(numbers[at]!);
    }
    if (all) return;
    for (let x = fromX; x <= toX; x++) {
      for (let y = fromY; y <= toY; y++) {
        const row = rowOf(x, y, mask);
        for (let i = rows[row]!; i < rows[row + 1]!; i++) {
          if (!meets(held, i * 4, west, south, east, north)) continue;
          const at = entries[i]!;
          if (asked[at] === question) continue;
          asked[at] = question;
          found.push(numbers[at]!);
        }
      }
    }
  }
}

/** The rectangles of a grid, named by their order, row by row. */
interface Table {
  /** Where each row begins among the entries; the last is where they end. */
  rows: Int32Array;
  entries: Int32Array;
  /** The sides of the entries, once more beside each other: what is compared together lies together in memory. */
  held: Float64Array;
  /** One less than the number of rows, which is a power of two. */
  mask: number;
  wide: number[];
  sides: Float64Array;
  /** The last question that found each. */
  asked: Int32Array;
}

function layOut(given: readonly number[]): Table {
  const sides = Float64Array.from(given);
  const count = sides.length / 4;
  const wide: number[] = [];
  let cells = 0;
  for (let at = 0; at < count; at++) {
    const own = cellsOf(sides, at);
    if (own > WIDE) wide.push(at);
    else cells += own;
  }
  let size = 1;
  while (size < cells) size *= 2;
  const mask = size - 1;
  const rows = new Int32Array(size + 1);
  const entries = new Int32Array(cells);
  const held = new Float64Array(cells * 4);
  // Once to count what each row holds, and once, from the end of each row, to fill it.
  for (let round = 0; round < 2; round++) {
    for (let at = count - 1; at >= 0; at--) {
      if (cellsOf(sides, at) > WIDE) continue;
      for (let x = Math.floor(sides[at * 4]! / CELL); x <= Math.floor(sides[at * 4 + 2]! / CELL); x++) {
        for (let y = Math.floor(sides[at * 4 + 1]! / CELL); y <= Math.floor(sides[at * 4 + 3]! / CELL); y++) {
          const row = rowOf(x, y, mask);
          if (round === 0) {
            rows[row]! += 1;
            continue;
          }
          const entry = (rows[row]! -= 1);
          entries[entry] = at;
          for (let side = 0; side < 4; side++) held[entry * 4 + side] = sides[at * 4 + side]!;
        }
      }
    }
    if (round === 0) for (let row = 1; row <= size; row++) rows[row]! += rows[row - 1]!;
  }
  return { rows, entries, held, mask, wide, sides, asked: new Int32Array(count) };
}

/** How many cells a rectangle touches. */
function cellsOf(sides: Float64Array, at: number): number {
  const across = Math.floor(sides[at * 4 + 2]! / CELL) - Math.floor(sides[at * 4]! / CELL) + 1;
  return across * (Math.floor(sides[at * 4 + 3]! / CELL) - Math.floor(sides[at * 4 + 1]! / CELL) + 1);
}

function meets(sides: Float64Array, at: number, west: number, south: number, east: number, north: number): boolean {
  return sides[at]! <= east && west <= sides[at + 2]! && sides[at + 1]! <= north && south <= sides[at + 3]!;
}

function rowOf(x: number, y: number, mask: number): number {
  return (Math.imul(x, 73856093) ^ Math.imul(y, 19349663)) & mask;
}
