import type { Body, ZoneShape } from '../vocabulary/forms';
import type { Extent, Vector } from '../vocabulary/quantities';
import { direction } from './headings';

export const BOX = 0;
export const PILLAR = 1;
export const BALL = 2;

/**
 * A box with a heading, an upright pillar, or a ball, in metres. `x`, `y`, `z`: the middle of its base, and of a ball its
 * lowest point. `halfX`, `halfY`: half its edges along its own axes, and the radius of what is round. `cos`, `sin`: of its
 * heading.
 */
export interface Shape {
  form: 0 | 1 | 2;
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

/** The box of a size at a place; `heading` in degrees. */
export function boxAt(at: Vector, size: Extent, headingDegrees: number): Shape {
  const { cos, sin } = direction(headingDegrees);
  return { form: BOX, x: at.x, y: at.y, z: at.z, halfX: size.x / 2, halfY: size.y / 2, height: size.z, cos, sin };
}

/** The upright pillar with the middle of its base at a place. */
function pillarAt(at: Vector, radius: number, height: number): Shape {
  return { form: PILLAR, x: at.x, y: at.y, z: at.z, halfX: radius, halfY: radius, height, cos: 1, sin: 0 };
}

/** The ball about a place. */
function ballAt(at: Vector, radius: number): Shape {
  return { form: BALL, x: at.x, y: at.y, z: at.z - radius, halfX: radius, halfY: radius, height: 2 * radius, cos: 1, sin: 0 };
}

/** The body of a fixture: a box of its size, or what is round within it: as wide as its width, a ball as high too. */
export function fixtureAt(form: 'box' | 'pillar' | 'ball', at: Vector, size: Extent, headingDegrees: number): Shape {
  if (form === 'box') return boxAt(at, size, headingDegrees);
  const radius = size.x / 2;
  return form === 'pillar' ? pillarAt(at, radius, size.z) : ballAt({ ...at, z: at.z + radius }, radius);
}

/** A zone's shape with its place at `at`. */
export function zoneAt(shape: ZoneShape, at: Vector, headingDegrees: number): Shape {
  switch (shape.kind) {
    case 'box':
      return boxAt(at, shape.size, headingDegrees);
    case 'ball':
      return ballAt(at, shape.radius);
    case 'pillar':
      return pillarAt(at, shape.radius, shape.height);
  }
}

/** A visitor's body with its feet at `at`. */
export function bodyAt(body: Body, at: Vector): Shape {
  return body.kind === 'box' ? boxAt(at, body.size, 0) : pillarAt(at, body.radius, body.height);
}

/** The same shape with the middle of its base somewhere else. */
export function moved(shape: Shape, x: number, y: number, z: number): Shape {
  const { form, halfX, halfY, height, cos, sin } = shape;
  return { form, x, y, z, halfX, halfY, height, cos, sin };
}

/** Puts a shape that nobody else holds where another is moved to; gives it back. As `moved`, for what is asked over and over. */
export function shifted(into: Shape, { form, halfX, halfY, height, cos, sin }: Shape, x: number, y: number, z: number): Shape {
  into.form = form;
  into.x = x;
  into.y = y;
  into.z = z;
  into.halfX = halfX;
  into.halfY = halfY;
  into.height = height;
  into.cos = cos;
  into.sin = sin;
  return into;
}

/** A shape at the same place of the ground, of another form, half its edges (or radius) there, foot and height. */
export function reformed(
  { x, y, cos, sin }: Shape,
  form: Shape['form'],
  halfX: number,
  halfY: number,
  z: number,
  height: number,
): Shape {
  return { form, x, y, z, halfX, halfY, height, cos, sin };
}

/** A shape to be shifted about. */
export function anyShape(): Shape {
  return { form: BOX, x: 0.5, y: 0.5, z: 0.5, halfX: 0.5, halfY: 0.5, height: 0.5, cos: 0.5, sin: 0.5 };
}

/** Whether the edges of a box lie along the axes of its room, as they do without a heading. */
export function isUnturned({ cos, sin }: Shape): boolean {
  return cos === 1 && sin === 0;
}

/** Half the width of a shape's shadow on the horizontal axis (ux, uy), which has unit length. */
export function reach(shape: Shape, ux: number, uy: number): number {
  if (shape.form !== BOX) return shape.halfX;
  return shape.halfX * Math.abs(shape.cos * ux + shape.sin * uy) + shape.halfY * Math.abs(shape.cos * uy - shape.sin * ux);
}

/** Half the width of a shape's shadow on the room's x axis. */
export function reachX(shape: Shape): number {
  return shape.form === BOX ? shape.halfX * Math.abs(shape.cos) + shape.halfY * Math.abs(shape.sin) : shape.halfX;
}

/** Half the width of a shape's shadow on the room's y axis. */
export function reachY(shape: Shape): number {
  return shape.form === BOX ? shape.halfX * Math.abs(shape.sin) + shape.halfY * Math.abs(shape.cos) : shape.halfY;
}
