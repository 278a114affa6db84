import { BALL, BOX, TOUCH, isUnturned, reach, reformed } from './shapes';
import type { Shape } from './shapes';

/**
 * Whether the interiors of two shapes meet. Exact, in closed form, for every pair of box, pillar and ball.
 *
 * - Two upright boxes: two convex bodies are apart exactly if some axis separates their shadows, and for upright boxes the
 *   vertical and the four horizontal edge directions are enough (S. Gottschalk, M. Lin, D. Manocha: OBBTree, SIGGRAPH
 *   1996, section 5, of whose fifteen axes those are all that differ when both boxes stand upright).
 * - Whatever is round against a box: the distance from its middle to the closest point of the box, which in the box's own
 *   axes is the middle clamped to it (J. Arvo: A Simple Method for Box-Sphere Intersection Testing, Graphics Gems, 1990).
 *   For a pillar the distance is taken on the ground and the heights are compared apart, as its sides are upright.
 * - A ball against a pillar: the same with the pillar's closest point, which lies in the upright plane through both axes.
 */
export function overlaps(a: Shape, b: Shape): boolean {
  const dx = b.x - a.x;
  const dy = b.y - a.y;
  // The diagonals bound both shapes, whichever way they are turned.
  const far = a.halfX + a.halfY + b.halfX + b.halfY;
  if (dx > far || dx < -far || dy > far || dy < -far) return false;
  if (a.z + a.height <= b.z + TOUCH || b.z + b.height <= a.z + TOUCH) return false;
  if (a.form === BALL || b.form === BALL) return groundAndHeightGap(a, b) < ballRadii(a, b) - TOUCH;
  return standAcross(a, b, dx, dy);
}

/** Whether a body would meet a shape if it were as high up: their shadows on the ground meet. The body is no ball. */
export function shadowsMeet(body: Shape, shape: Shape): boolean {
  if (shape.form === BALL) return overlaps(reformed(body, body.form, body.halfX, body.halfY, shape.z, shape.height), shape);
  return standAcross(body, shape, shape.x - body.x, shape.y - body.y);
}

/** Whether two shapes with upright sides, of which the second is (dx, dy) from the first, meet on the ground. */
function standAcross(a: Shape, b: Shape, dx: number, dy: number): boolean {
  if (a.form === BOX && b.form === BOX) {
    if (isUnturned(a) && isUnturned(b)) {
      const roomX = a.halfX + b.halfX - TOUCH;
      const roomY = a.halfY + b.halfY - TOUCH;
      return dx < roomX && -dx < roomX && dy < roomY && -dy < roomY;
    }
    return (
      meetsAlong(a, b, dx, dy, a.cos, a.sin) &&
      meetsAlong(a, b, dx, dy, -a.sin, a.cos) &&
      meetsAlong(a, b, dx, dy, b.cos, b.sin) &&
      meetsAlong(a, b, dx, dy, -b.sin, b.cos)
    );
  }
  return groundDistance(a, b) < roundRadii(a, b) - TOUCH;
}

function meetsAlong(a: Shape, b: Shape, dx: number, dy: number, ux: number, uy: number): boolean {
  return Math.abs(dx * ux + dy * uy) < reach(a, ux, uy) + reach(b, ux, uy) - TOUCH;
}

/** On the ground: between the middles of two round shapes, or from the middle of the round one to the box. */
function groundDistance(a: Shape, b: Shape): number {
  if (a.form === BOX) return toRectangle(a, b.x, b.y);
  if (b.form === BOX) return toRectangle(b, a.x, a.y);
  return Math.sqrt((b.x - a.x) * (b.x - a.x) + (b.y - a.y) * (b.y - a.y));
}

/** The distance on the ground from a point to the rectangle that a box stands on; 0 inside. */
function toRectangle(box: Shape, x: number, y: number): number {
  const dx = x - box.x;
  const dy = y - box.y;
  const along = Math.max(0, Math.abs(dx * box.cos + dy * box.sin) - box.halfX);
  const across = Math.max(0, Math.abs(dy * box.cos - dx * box.sin) - box.halfY);
  return Math.sqrt(along * along + across * across);
}

/** The radii of what is round, boxes counting nothing. */
function roundRadii(a: Shape, b: Shape): number {
  return (a.form === BOX ? 0 : a.halfX) + (b.form === BOX ? 0 : b.halfX);
}

function ballRadii(a: Shape, b: Shape): number {
  return (a.form === BALL ? a.halfX : 0) + (b.form === BALL ? b.halfX : 0);
}

/** The distance from the middle of a ball to the other shape (to the middle of another ball). */
function groundAndHeightGap(a: Shape, b: Shape): number {
  const ball = a.form === BALL ? a : b;
  const other = a.form === BALL ? b : a;
  const middle = ball.z + ball.halfX;
  const ground = other.form === BOX ? toRectangle(other, ball.x, ball.y) : groundDistance(ball, other);
  if (other.form === BALL) {
    const up = middle - (other.z + other.halfX);
    return Math.sqrt(ground * ground + up * up);
  }
  const outside = other.form === BOX ? ground : Math.max(0, ground - other.halfX);
  const up = Math.max(0, other.z - middle, middle - (other.z + other.height));
  return Math.sqrt(outside * outside + up * up);
}

/**
 * The distance between two shapes in metres, 0 if they meet. Both are convex with upright sides but for balls, so the
 * gaps on the ground and in height add up as the sides of a right angle do.
 */
export function gap(a: Shape, b: Shape): number {
  if (a.form === BALL || b.form === BALL) return Math.max(0, groundAndHeightGap(a, b) - ballRadii(a, b));
  const up = Math.max(0, b.z - (a.z + a.height), a.z - (b.z + b.height));
  const ground =
    a.form === BOX && b.form === BOX ? betweenRectangles(a, b) : Math.max(0, groundDistance(a, b) - roundRadii(a, b));
  return Math.sqrt(ground * ground + up * up);
}

/** Between two rectangles that are apart the least distance is taken at a corner of one of them. */
function betweenRectangles(a: Shape, b: Shape): number {
  const dx = b.x - a.x;
  const dy = b.y - a.y;
  const meet =
    meetsAlong(a, b, dx, dy, a.cos, a.sin) &&
    meetsAlong(a, b, dx, dy, -a.sin, a.cos) &&
    meetsAlong(a, b, dx, dy, b.cos, b.sin) &&
    meetsAlong(a, b, dx, dy, -b.sin, b.cos);
  if (meet) return 0;
  return Math.min(fromCorners(a, b), fromCorners(b, a));
}

/** From the corners of one rectangle to another, the least; a hot path, so without a list of them. */
function fromCorners(one: Shape, other: Shape): number {
  const { halfX, halfY } = one;
  return Math.min(
    fromCorner(one, halfX, halfY, other),
    fromCorner(one, -halfX, halfY, other),
    fromCorner(one, -halfX, -halfY, other),
    fromCorner(one, halfX, -halfY, other),
  );
}

function fromCorner({ x, y, cos, sin }: Shape, u: number, v: number, other: Shape): number {
  return toRectangle(other, x + u * cos - v * sin, y + u * sin + v * cos);
}

/** The corners of the rectangle a box stands on, or of that around a pillar, each `out` metres further out both ways. */
export function corners({ x, y, halfX, halfY, cos, sin }: Shape, out: number): [number, number][] {
  const across = halfX + out;
  const along = halfY + out;
  return [
    [across, along],
    [-across, along],
    [-across, -along],
    [across, -along],
  ].map(([u, v]) => [x + u! * cos - v! * sin, y + u! * sin + v! * cos]);
}
