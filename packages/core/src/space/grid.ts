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
/** What covers more cells than this is kept in a list of its own, and found by every question. */
const WIDE = 256;

/** Shapes, or the whole reach of shapes that move, by the square cells of the ground that they touch. They are named by number. */
export class Grid {
  private readonly cells = new Map<number, number[]>();
  private readonly wide: number[] = [];
  /** By number, the last question that found it. */
  private asked = new Int32Array(16);
  private question = 0;
  private count = 0;

  add(number: number, where: Footprint): void {
    this.count = Math.max(this.count, number + 1);
    const span = spanOf(where);
    if (span.cells > WIDE) {
      this.wide.push(number);
      return;
    }
    for (let x = span.fromX; x <= span.toX; x++) {
      for (let y = span.fromY; y <= span.toY; y++) {
        const cell = this.cells.get(keyOf(x, y));
        if (cell === undefined) this.cells.set(keyOf(x, y), [number]);
        else cell.push(number);
      }
    }
  }

  /** Every shape that could meet a rectangle, each once, in no order; some that do not meet it may be among them. */
  find(where: Footprint, found: number[] = []): number[] {
    this.begin();
    this.findMore(where, found);
    return found;
  }

  /** Begins a question about several rectangles, so that each shape is found once in all of them. */
  begin(): void {
    if (this.asked.length < this.count) {
      this.asked = new Int32Array(this.count * 2);
      this.question = 0;
    }
    this.question += 1;
  }

  /** Adds what could meet another rectangle of the same question. */
  findMore(where: Footprint, found: number[]): void {
    this.take(this.wide, found);
    const span = spanOf(where);
    if (span.cells > this.cells.size) {
      for (const cell of this.cells.values()) this.take(cell, found);
      return;
    }
    for (let x = span.fromX; x <= span.toX; x++) {
      for (let y = span.fromY; y <= span.toY; y++) {
        const cell = this.cells.get(keyOf(x, y));
        if (cell !== undefined) this.take(cell, found);
      }
    }
  }

  private take(numbers: readonly number[], found: number[]): void {
    for (const number of numbers) {
      if (this.asked[number] === this.question) continue;
      this.asked[number] = this.question;
      found.push(number);
    }
  }
}

/** The cells that a rectangle touches. */
function spanOf({ west, south, east, north }: Footprint): {
  fromX: number;
  toX: number;
  fromY: number;
  toY: number;
  cells: number;
} {
  const fromX = Math.floor(west / CELL);
  const toX = Math.floor(east / CELL);
  const fromY = Math.floor(south / CELL);
  const toY = Math.floor(north / CELL);
  return { fromX, toX, fromY, toY, cells: (toX - fromX + 1) * (toY - fromY + 1) };
}

function keyOf(x: number, y: number): number {
  return x * 0x100000 + y;
}
