import { TOUCH, reach } from './bodies';
import type { UprightBox } from './bodies';

/**
 * Whether the interiors of two upright boxes meet.
 *
 * Two convex bodies are apart exactly if some axis separates their shadows. For two upright boxes the vertical and the
 * four horizontal edge directions are enough (S. Gottschalk, M. Lin, D. Manocha: OBBTree, SIGGRAPH 1996, section 5,
 * of whose fifteen axes those are all that differ when both boxes stand upright).
 */
export function overlaps(a: UprightBox, b: UprightBox): boolean {
  if (a.z + a.height <= b.z + TOUCH || b.z + b.height <= a.z + TOUCH) return false;
  return (
    meetsAlong(a, b, a.cos, a.sin) &&
    meetsAlong(a, b, -a.sin, a.cos) &&
    meetsAlong(a, b, b.cos, b.sin) &&
    meetsAlong(a, b, -b.sin, b.cos)
  );
}

function meetsAlong(a: UprightBox, b: UprightBox, ux: number, uy: number): boolean {
  return Math.abs((b.x - a.x) * ux + (b.y - a.y) * uy) < reach(a, ux, uy) + reach(b, ux, uy) - TOUCH;
}

/** A stretch of a straight move, as fractions of it from 0 to 1. */
export interface Stretch {
  from: number;
  to: number;
}

/**
 * The stretch of a straight move of `a` by (dx, dy, dz) during which its interior meets that of `b`, or null.
 *
 * On each separating axis the shadows of two bodies at constant relative velocity meet for one interval of time; the
 * bodies meet while all of them do, so the answer is the intersection of those intervals (D. Eberly: Intersection of
 * Convex Objects, The Method of Separating Axes, section 4, moving objects).
 */
export function sweep(a: UprightBox, dx: number, dy: number, dz: number, b: UprightBox): Stretch | null {
  const span: Stretch = { from: 0, to: 1 };
  const middle = b.z + b.height / 2 - (a.z + a.height / 2);
  if (!clip(span, middle, dz, (a.height + b.height) / 2)) return null;
  if (!clipAlong(span, a, b, a.cos, a.sin, dx, dy) || !clipAlong(span, a, b, -a.sin, a.cos, dx, dy)) return null;
  if (!clipAlong(span, a, b, b.cos, b.sin, dx, dy) || !clipAlong(span, a, b, -b.sin, b.cos, dx, dy)) return null;
  return span;
}

function clipAlong(span: Stretch, a: UprightBox, b: UprightBox, ux: number, uy: number, dx: number, dy: number): boolean {
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
