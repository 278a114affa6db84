import type { Vector } from '../../src/index';

/*
 * Solid geometry of the second kernel, with nothing of the first one's: boxes are polygons, whatever is round is a circle, and
 * when two bodies meet on a straight move is found by halving, not in closed form. All of it says how far two bodies are
 * apart, as a number that is negative where they reach into each other and convex along a straight move.
 */

/** An upright body: its outline on the ground about `at`, and its height over it. A ball has its middle at half its height. */
export interface Solid {
  at: Vector;
  height: number;
  /** The outline of a box, its corners in order from the middle of its base; null for what is round. */
  outline: Flat[] | null;
  /** The outward directions of the outline's sides. */
  sides: Flat[];
  /** Of what is round; and of the circle that holds the outline. */
  radius: number;
  round: number;
  ball: boolean;
}

export interface Flat {
  x: number;
  y: number;
}

export interface Span {
  from: number;
  to: number;
}

/** What reaches in by no more than this only touches, in metres. */
export const TOUCH = 1e-9;

/** Cosine and sine of a heading, rounded to 1e-12. */
export function unit(degrees: number): { cos: number; sin: number } {
  const brief = (value: number): number => Math.round(value * 1e12) / 1e12;
  return { cos: brief(Math.cos((degrees * Math.PI) / 180)), sin: brief(Math.sin((degrees * Math.PI) / 180)) };
}

/** The heading of a direction in degrees, rounded to 1e-9; null for none. */
export function headingTowards(dx: number, dy: number): number | null {
  return dx === 0 && dy === 0 ? null : Math.round((Math.atan2(dy, dx) / Math.PI) * 180e9) / 1e9 + 0;
}

/** A heading as it is told: from 0 to below 360 degrees, to a millionth. */
export function told(heading: number): number {
  const millionths = Math.round((heading - 360 * Math.floor(heading / 360)) * 1e6);
  return (millionths % 360e6) / 1e6;
}

export function rotated({ x, y }: Flat, { cos, sin }: { cos: number; sin: number }): Flat {
  return { x: x * cos - y * sin, y: x * sin + y * cos };
}

export function box(at: Vector, size: Vector, heading: number): Solid {
  const outline = rectangle(size.x / 2, size.y / 2, unit(heading));
  const round = Math.sqrt(size.x * size.x + size.y * size.y) / 2;
  return { at, height: size.z, outline, sides: normals(outline), radius: 0, round, ball: false };
}

function rectangle(x: number, y: number, turn: { cos: number; sin: number }): Flat[] {
  return [
    { x, y },
    { x: -x, y },
    { x: -x, y: -y },
    { x, y: -y },
  ].map((corner) => rotated(corner, turn));
}

export function pillar(at: Vector, radius: number, height: number): Solid {
  return { at, height, outline: null, sides: [], radius, round: radius, ball: false };
}

export function ball(at: Vector, radius: number): Solid {
  return { ...pillar({ ...at, z: at.z - radius }, radius, 2 * radius), ball: true };
}

export function put({ height, outline, sides, radius, round, ball }: Solid, at: Vector): Solid {
  return { at, height, outline, sides, radius, round, ball };
}

/** The body turned about the middle of its base. */
export function turnedBody(body: Solid, turn: { cos: number; sin: number }): Solid {
  if (body.outline === null || turn.cos === 1) return body;
  const outline = body.outline.map((corner) => rotated(corner, turn));
  return { ...body, outline, sides: normals(outline) };
}

/** Half of what a body covers along x and y. */
export function cover({ outline, radius }: Solid): Flat {
  if (outline === null) return { x: radius, y: radius };
  return { x: Math.max(...outline.map((corner) => corner.x)), y: Math.max(...outline.map((corner) => corner.y)) };
}

/** How far a body reaches from its middle along a direction of unit length. */
export function support({ outline, radius }: Solid, u: Flat): number {
  if (outline === null) return radius;
  let far = 0;
  for (const corner of outline) far = Math.max(far, corner.x * u.x + corner.y * u.y);
  return far;
}

export function meets(a: Solid, b: Solid): boolean {
  return !surelyApart(a, b, NOWHERE) && apart(a, b) < -TOUCH;
}

/** The distance between two bodies, 0 if they meet. */
export function distance(a: Solid, b: Solid): number {
  if (a.ball || b.ball) return Math.max(0, ballDistance(a, b));
  const up = Math.max(0, upApart(a, b));
  const flat = a.outline !== null && b.outline !== null ? betweenPolygons(a, b) : Math.max(0, flatApart(a, b));
  return Math.sqrt(flat * flat + up * up);
}

/** While a body that moves straight by `by` meets another: a part of the move, or null. */
export function meetingSpan(a: Solid, by: Vector, b: Solid): Span | null {
  if (surelyApart(a, b, by)) return null;
  const moving = put(a, { ...a.at });
  const ways = waysApart(a, b);
  const at = (t: number): number => {
    moving.at.x = a.at.x + by.x * t;
    moving.at.y = a.at.y + by.y * t;
    moving.at.z = a.at.z + by.z * t;
    return apart(moving, b, ways) + TOUCH;
  };
  const inner = anyBelow(at, Math.sqrt(by.x * by.x + by.y * by.y + by.z * by.z));
  if (inner === null) return null;
  const border = (out: number): number => {
    if (at(out) < 0) return out;
    let [within, beyond] = [inner, out];
    for (let i = 0; i < 60; i++) {
      const middle = (within + beyond) / 2;
      if (at(middle) < 0) within = middle;
      else beyond = middle;
    }
    return within;
  };
  const span = { from: border(0), to: border(1) };
  return span.from < span.to ? span : null;
}

/**
 * Some time at which a convex function of the time is negative, if there is one; it changes by no more than `most` in all. By
 * thirds, until one is found, or none can be left between.
 */
function anyBelow(at: (t: number) => number, most: number): number | null {
  const [first, last] = [at(0), at(1)];
  if (first < 0) return 0;
  if (last < 0) return 1;
  // It falls and rises by no more than it can change in all.
  if (first + last > most + 1e-12) return null;
  let [low, high] = [0, 1];
  for (let i = 0; i < 90; i++) {
    const [p, q] = [low + (high - low) / 3, high - (high - low) / 3];
    const [left, right] = [at(p), at(q)];
    if (left < 0) return p;
    if (right < 0) return q;
    if (Math.min(left, right) > (most * (high - low)) / 3 + 1e-12) return null;
    if (left <= right) high = q;
    else low = p;
  }
  return null;
}

/** The same for their shadows on the ground. */
export function shadowSpan(a: Solid, by: Flat, b: Solid): Span | null {
  const flat = (one: Solid): Solid => ({ ...one, at: { ...one.at, z: 0 }, height: 1, ball: false });
  return meetingSpan(flat(a), { ...by, z: 0 }, flat(b));
}

/** Whether a body's shadow meets that of another. */
export function isOver(a: Solid, b: Solid): boolean {
  const flat = (one: Solid): Solid => ({ ...one, at: { ...one.at, z: 0 }, height: 1, ball: false });
  return b.ball ? meets({ ...a, at: { ...a.at, z: b.at.z }, height: b.height }, b) : meets(flat(a), flat(b));
}

const NOWHERE: Vector = { x: 0, y: 0, z: 0 };

/** A quick look: whether even the upright boxes about them stay apart all along a move. */
function surelyApart(a: Solid, b: Solid, by: Vector): boolean {
  const far = a.round + b.round + 1e-6;
  return (
    clear(a.at.x, by.x, b.at.x, far, far) ||
    clear(a.at.y, by.y, b.at.y, far, far) ||
    clear(a.at.z, by.z, b.at.z, a.height + 1e-6, b.height + 1e-6)
  );
}

/** Whether what moves by `d` from `p`, reaching `up` above that, stays beyond what lies from `q` to `over` above it, or below it. */
function clear(p: number, d: number, q: number, up: number, over: number): boolean {
  return q > Math.max(p, p + d) + up || q < Math.min(p, p + d) - over;
}

function apart(a: Solid, b: Solid, ways = waysApart(a, b)): number {
  return a.ball || b.ball ? ballDistance(a, b) : Math.max(upApart(a, b), flatApart(a, b, ways));
}

function upApart(a: Solid, b: Solid): number {
  return Math.max(b.at.z - (a.at.z + a.height), a.at.z - (b.at.z + b.height));
}

/** A direction that may part two polygons, and how far both reach along it together, wherever they are. */
interface Way {
  along: Flat;
  reach: number;
}

/** Each side and the one across from it are told apart by the sign: both bodies are the same from both sides. */
function waysApart(a: Solid, b: Solid): Way[] {
  if (a.outline === null || b.outline === null) return [];
  return [a.sides[0]!, a.sides[1]!, b.sides[0]!, b.sides[1]!].map((along) => ({
    along,
    reach: support(a, along) + support(b, along),
  }));
}

/** How far two outlines are apart: for polygons along the direction that parts them most. */
function flatApart(a: Solid, b: Solid, ways = waysApart(a, b)): number {
  const [ax, ay] = [b.at.x - a.at.x, b.at.y - a.at.y];
  if (a.outline !== null && b.outline !== null) {
    let most = -Infinity;
    for (const { along, reach } of ways) most = Math.max(most, Math.abs(ax * along.x + ay * along.y) - reach);
    return most;
  }
  if (a.outline === null && b.outline === null) return Math.sqrt(ax ** 2 + ay ** 2) - a.radius - b.radius;
  const [polygon, round] = a.outline === null ? [b, a] : [a, b];
  return toPolygon(polygon, round.at) - round.radius;
}

/** The outward directions of a polygon's sides. */
function normals(outline: Flat[]): Flat[] {
  return outline.map((p, i) => {
    const q = outline[(i + 1) % outline.length]!;
    const length = Math.sqrt((q.x - p.x) ** 2 + (q.y - p.y) ** 2);
    return { x: (q.y - p.y) / length, y: -(q.x - p.x) / length };
  });
}

/** From a point to a polygon on the ground; 0 inside. */
function toPolygon({ at, outline, sides }: Solid, point: Flat): number {
  const [x, y] = [point.x - at.x, point.y - at.y];
  let inside = true;
  let least = Infinity;
  for (let i = 0; i < outline!.length; i++) {
    const [p, q, u] = [outline![i]!, outline![(i + 1) % outline!.length]!, sides[i]!];
    if ((x - p.x) * u.x + (y - p.y) * u.y > 0) inside = false;
    least = Math.min(least, toSide(x, y, p, q));
  }
  return inside ? 0 : least;
}

function toSide(x: number, y: number, p: Flat, q: Flat): number {
  const [dx, dy] = [q.x - p.x, q.y - p.y];
  const t = Math.min(1, Math.max(0, ((x - p.x) * dx + (y - p.y) * dy) / (dx * dx + dy * dy)));
  return Math.sqrt((p.x + t * dx - x) ** 2 + (p.y + t * dy - y) ** 2);
}

function betweenPolygons(a: Solid, b: Solid): number {
  if (flatApart(a, b) < -TOUCH) return 0;
  const from = (one: Solid, other: Solid): number[] =>
    one.outline!.map((corner) => toPolygon(other, { x: one.at.x + corner.x, y: one.at.y + corner.y }));
  return Math.min(...from(a, b), ...from(b, a));
}

/** Of a ball: from its middle to the nearest point of the other body, less the radii of the balls. */
function ballDistance(a: Solid, b: Solid): number {
  const [round, other] = a.ball ? [a, b] : [b, a];
  const middle = round.at.z + round.radius;
  const flat =
    other.outline !== null
      ? toPolygon(other, round.at)
      : Math.sqrt((other.at.x - round.at.x) ** 2 + (other.at.y - round.at.y) ** 2);
  if (other.ball) return Math.sqrt(flat * flat + (other.at.z + other.radius - middle) ** 2) - round.radius - other.radius;
  const out = Math.max(0, other.outline !== null ? flat : flat - other.radius);
  const up = Math.max(0, other.at.z - middle, middle - other.at.z - other.height);
  return Math.sqrt(out * out + up * up) - round.radius;
}
