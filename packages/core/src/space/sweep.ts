import { overlaps } from './overlap';
import { BALL, BOX, PILLAR, TOUCH, isUnturned, moved, reach, reformed } from './shapes';
import type { Shape } from './shapes';

/** A stretch of a straight move, as fractions of it from 0 to 1. */
export interface Stretch {
  from: number;
  to: number;
}

/**
 * The stretch of a straight move of `a` by (dx, dy, dz) during which its interior meets that of `b`, or null.
 *
 * All shapes are convex, so the stretch is one interval. Between boxes: on each separating axis the shadows of two bodies
 * at constant relative velocity meet for one interval of time, and the bodies meet while all of them do (D. Eberly:
 * Intersection of Convex Objects, The Method of Separating Axes, section 4, moving objects). Between what has upright
 * sides, one of them round, the middle of the round one crosses a circle, or a rectangle with round corners: the union of
 * two rectangles and four circles, each of which it crosses in an interval with a closed form. A ball that moves level
 * meets what has upright sides as the pillar does that is left of it at the height nearest to its middle. Otherwise the
 * distance of a ball is a convex function of time: its least value is found by thirds, and its two crossings by halving.
 */
export function sweep(a: Shape, dx: number, dy: number, dz: number, b: Shape): Stretch | null {
  if (a.form === BALL || b.form === BALL) return dz === 0 ? flat(a, dx, dy, b) : byHalving(a, dx, dy, dz, b);
  const span: Stretch = { from: 0, to: 1 };
  const middle = b.z + b.height / 2 - (a.z + a.height / 2);
  if (!clip(span, middle, dz, (a.height + b.height) / 2)) return null;
  if (a.form === BOX && b.form === BOX) {
    if (isUnturned(a) && isUnturned(b))
      return clip(span, b.x - a.x, dx, a.halfX + b.halfX) && clip(span, b.y - a.y, dy, a.halfY + b.halfY) ? span : null;
    const meets =
      clipAlong(span, a, b, a.cos, a.sin, dx, dy) &&
      clipAlong(span, a, b, -a.sin, a.cos, dx, dy) &&
      clipAlong(span, a, b, b.cos, b.sin, dx, dy) &&
      clipAlong(span, a, b, -b.sin, b.cos, dx, dy);
    return meets ? span : null;
  }
  const ground = onTheGround(a, dx, dy, b);
  if (ground === null) return null;
  span.from = Math.max(span.from, ground.from);
  span.to = Math.min(span.to, ground.to);
  return span.from < span.to ? span : null;
}

/** A level move with a ball: at the height of the other shape that is nearest to its middle, the ball is a disc. */
function flat(a: Shape, dx: number, dy: number, b: Shape): Stretch | null {
  if (a.form === BALL && b.form === BALL) return byHalving(a, dx, dy, 0, b);
  const ball = a.form === BALL ? a : b;
  const other = a.form === BALL ? b : a;
  const middle = ball.z + ball.halfX;
  const up = Math.max(0, other.z - middle, middle - (other.z + other.height));
  const room = ball.halfX - TOUCH;
  if (up >= room) return null;
  const radius = Math.sqrt(room * room - up * up) + TOUCH;
  const disc = reformed(ball, PILLAR, radius, radius, other.z, other.height);
  return a.form === BALL ? sweep(disc, dx, dy, 0, b) : sweep(a, dx, dy, 0, disc);
}

/** The stretch during which the shadows of two shapes on the ground meet, whatever their heights; or null. */
export function sweepOnTheGround(a: Shape, dx: number, dy: number, b: Shape): Stretch | null {
  const standing = (one: Shape): Shape => {
    const form = one.form === BALL ? PILLAR : one.form;
    return reformed(one, form, one.halfX, one.halfY, b.z, b.height);
  };
  return sweep(standing(a), dx, dy, 0, standing(b));
}

function clipAlong(span: Stretch, a: Shape, b: Shape, ux: number, uy: number, dx: number, dy: number): boolean {
  return clip(span, (b.x - a.x) * ux + (b.y - a.y) * uy, dx * ux + dy * uy, reach(a, ux, uy) + reach(b, ux, uy));
}

/** Narrows `span` to the times t at which |apart - t * by| < limit; false if none is left. */
function clip(span: Stretch, apart: number, by: number, limit: number): boolean {
  const room = limit - TOUCH;
  if (Math.abs(by) < 1e-15) return Math.abs(apart) < room;
  const first = (apart - room) / by;
  const second = (apart + room) / by;
  span.from = Math.max(span.from, Math.min(first, second));
  span.to = Math.min(span.to, Math.max(first, second));
  return span.from < span.to;
}

/** One of the two is a pillar, the other a pillar or a box. */
function onTheGround(a: Shape, dx: number, dy: number, b: Shape): Stretch | null {
  if (a.form !== BOX && b.form !== BOX) return crossing(a.x - b.x, a.y - b.y, dx, dy, a.halfX + b.halfX - TOUCH);
  // In the box's own axes, the box at rest: the middle of the round one moves by (mx, my) from (px, py).
  const box = a.form === BOX ? a : b;
  const round = a.form === BOX ? b : a;
  const sign = a.form === BOX ? -1 : 1;
  const vx = round.x - box.x;
  const vy = round.y - box.y;
  const px = vx * box.cos + vy * box.sin;
  const py = vy * box.cos - vx * box.sin;
  const mx = sign * (dx * box.cos + dy * box.sin);
  const my = sign * (dy * box.cos - dx * box.sin);
  const radius = round.halfX;
  const hull: Stretch = { from: Infinity, to: -Infinity };
  widen(hull, throughRectangle(px, py, mx, my, box.halfX + radius, box.halfY));
  widen(hull, throughRectangle(px, py, mx, my, box.halfX, box.halfY + radius));
  for (let cx = -box.halfX; cx <= box.halfX; cx += 2 * box.halfX)
    for (let cy = -box.halfY; cy <= box.halfY; cy += 2 * box.halfY)
      widen(hull, crossing(px - cx, py - cy, mx, my, radius - TOUCH));
  return hull.from < hull.to ? hull : null;
}

/** Widens a stretch so that it holds another. */
function widen(hull: Stretch, other: Stretch | null): void {
  if (other === null) return;
  hull.from = Math.min(hull.from, other.from);
  hull.to = Math.max(hull.to, other.to);
}

/** While a point that starts at (x, y) and moves by (dx, dy) is inside of a rectangle about the origin. */
function throughRectangle(x: number, y: number, dx: number, dy: number, wide: number, deep: number): Stretch | null {
  const span: Stretch = { from: 0, to: 1 };
  return clip(span, -x, dx, wide) && clip(span, -y, dy, deep) ? span : null;
}

/** While a point that starts at (x, y) and moves by (dx, dy) is nearer to the origin than `radius`: a quadratic in time. */
function crossing(x: number, y: number, dx: number, dy: number, radius: number): Stretch | null {
  const a = dx * dx + dy * dy;
  const c = x * x + y * y - radius * radius;
  if (a < 1e-30) return c < 0 ? { from: 0, to: 1 } : null;
  const half = x * dx + y * dy;
  const root = half * half - a * c;
  if (root <= 0) return null;
  const width = Math.sqrt(root);
  const from = Math.max(0, (-half - width) / a);
  const to = Math.min(1, (-half + width) / a);
  return from < to ? { from, to } : null;
}

function byHalving(a: Shape, dx: number, dy: number, dz: number, b: Shape): Stretch | null {
  const meets = (t: number): boolean => overlaps(moved(a, a.x + dx * t, a.y + dy * t, a.z + dz * t), b);
  const inner = closestTime(a, dx, dy, dz, b);
  if (!meets(inner)) return null;
  return { from: meets(0) ? 0 : edge(inner, 0, meets), to: meets(1) ? 1 : edge(inner, 1, meets) };
}

/** The last time towards `out`, where the shapes are apart, at which they still meet as they do at `inner`. */
function edge(inner: number, out: number, meets: (t: number) => boolean): number {
  let [within, beyond] = [inner, out];
  for (let i = 0; i < 50; i++) {
    const middle = (within + beyond) / 2;
    if (meets(middle)) within = middle;
    else beyond = middle;
  }
  return within;
}

/** When two shapes, one of them a ball, are closest: by thirds, since the distance is a convex function of the time. */
function closestTime(a: Shape, dx: number, dy: number, dz: number, b: Shape): number {
  const apart = (t: number): number => ballDistance(moved(a, a.x + dx * t, a.y + dy * t, a.z + dz * t), b);
  let [low, high] = [0, 1];
  for (let i = 0; i < 90; i++) {
    const first = low + (high - low) / 3;
    const second = high - (high - low) / 3;
    if (apart(first) <= apart(second)) high = second;
    else low = first;
  }
  return (low + high) / 2;
}

/** The squared distance from the middle of a ball to the other shape's solid, which is 0 inside of it. */
function ballDistance(a: Shape, b: Shape): number {
  const ball = a.form === BALL ? a : b;
  const other = a.form === BALL ? b : a;
  const vx = ball.x - other.x;
  const vy = ball.y - other.y;
  const middle = ball.z + ball.halfX;
  if (other.form === BALL) return vx * vx + vy * vy + (middle - other.z - other.halfX) ** 2;
  const up = Math.max(0, other.z - middle, middle - (other.z + other.height));
  if (other.form === BOX) {
    const along = Math.max(0, Math.abs(vx * other.cos + vy * other.sin) - other.halfX);
    const across = Math.max(0, Math.abs(vy * other.cos - vx * other.sin) - other.halfY);
    return along * along + across * across + up * up;
  }
  const outside = Math.max(0, Math.sqrt(vx * vx + vy * vy) - other.halfX);
  return outside * outside + up * up;
}
