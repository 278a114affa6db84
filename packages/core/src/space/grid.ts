import type { UprightBox } from './bodies';

/** A rectangle on the ground, in metres. */
export interface Footprint {
  west: number;
  south: number;
  east: number;
  north: number;
}

/** The upright rectangle that holds a box, and a little more against rounding. */
export function footprint(box: UprightBox): Footprint {
  const x = box.halfX * Math.abs(box.cos) + box.halfY * Math.abs(box.sin) + 1e-6;
  const y = box.halfX * Math.abs(box.sin) + box.halfY * Math.abs(box.cos) + 1e-6;
  return { west: box.x - x, south: box.y - y, east: box.x + x, north: box.y + y };
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

/** Boxes, or the whole reach of boxes that move, by the square cells of the ground that they touch. Boxes are named by number. */
export class Grid {
  private readonly cells = new Map<number, number[]>();
  private readonly wide: number[] = [];

  add(number: number, where: Footprint): void {
    const keys = keysOf(where);
    if (keys === null) {
      this.wide.push(number);
      return;
    }
    for (const key of keys) {
      const cell = this.cells.get(key);
      if (cell === undefined) this.cells.set(key, [number]);
      else cell.push(number);
    }
  }

  /** Adds to `found` every box that could meet a rectangle; some that do not meet it may be among them. */
  find(where: Footprint, found: Set<number>): void {
    for (const number of this.wide) found.add(number);
    const keys = keysOf(where);
    if (keys === null) {
      for (const cell of this.cells.values()) for (const number of cell) found.add(number);
      return;
    }
    for (const key of keys) for (const number of this.cells.get(key) ?? []) found.add(number);
  }
}

/** The cells that a rectangle touches, or null if they are too many to be worth while. */
function keysOf({ west, south, east, north }: Footprint): number[] | null {
  const [fromX, toX, fromY, toY] = [west, east, south, north].map((value) => Math.floor(value / CELL)) as [
    number,
    number,
    number,
    number,
  ];
  if ((toX - fromX + 1) * (toY - fromY + 1) > WIDE) return null;
  const keys: number[] = [];
  for (let x = fromX; x <= toX; x++) for (let y = fromY; y <= toY; y++) keys.push(x * 0x100000 + y);
  return keys;
}
