import type { Extent, Vector } from '../level/quantities';

/**
 * An upright box in a room, in metres: `at` the middle of its base, half edges along its own axes, and the cosine and
 * sine of its heading.
 */
export interface UprightBox {
  x: number;
  y: number;
  z: number;
  halfX: number;
  halfY: number;
  height: number;
  cos: number;
  sin: number;
}

/** Bodies that reach into each other by no more than this only touch, in metres: it absorbs rounding of sums. */
export const TOUCH = 1e-9;

const directions = new Map<number, { cos: number; sin: number }>();

/** Cosine and sine of a heading in degrees, taken once per heading and rounded to 1e-12 so that every engine agrees. */
export function direction(degrees: number): { cos: number; sin: number } {
  let found = directions.get(degrees);
  if (found === undefined) {
    const angle = (degrees * Math.PI) / 180;
    found = { cos: Math.round(Math.cos(angle) * 1e12) / 1e12, sin: Math.round(Math.sin(angle) * 1e12) / 1e12 };
    if (directions.size >= 4096) directions.clear();
    directions.set(degrees, found);
  }
  return found;
}

/** The box of a size at a place; `heading` in degrees. */
export function boxAt(at: Vector, size: Extent, headingDegrees: number): UprightBox {
  return { x: at.x, y: at.y, z: at.z, halfX: size.x / 2, halfY: size.y / 2, height: size.z, ...direction(headingDegrees) };
}

/** The same box somewhere else. */
export function moved(box: UprightBox, at: Vector): UprightBox {
  return { x: at.x, y: at.y, z: at.z, halfX: box.halfX, halfY: box.halfY, height: box.height, cos: box.cos, sin: box.sin };
}

/** Whether two boxes could meet after one has moved by at most `way` metres: false only if they surely cannot. */
export function near(a: UprightBox, b: UprightBox, way: number): boolean {
  const limit = a.halfX + a.halfY + b.halfX + b.halfY + way;
  return Math.abs(a.x - b.x) <= limit && Math.abs(a.y - b.y) <= limit;
}

/** Half the width of the box's shadow on the axis (ux, uy), which has unit length. */
export function reach(box: UprightBox, ux: number, uy: number): number {
  return box.halfX * Math.abs(box.cos * ux + box.sin * uy) + box.halfY * Math.abs(box.cos * uy - box.sin * ux);
}
