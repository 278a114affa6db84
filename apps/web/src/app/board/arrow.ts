import type { Point } from '@nettlewick/core';

/** The head of an arrow, in metres. */
const HEAD = 0.35;

/** A line with a head at its end; what is too short for one is a line. */
export function arrow(from: Point, to: Point): Point[] {
  const far = Math.hypot(to.x - from.x, to.y - from.y);
  if (far < 2 * HEAD) return [from, to];
  const [x, y] = [(to.x - from.x) / far, (to.y - from.y) / far];
  const barb = (side: number): Point => ({ x: to.x - HEAD * (x + side * y), y: to.y - HEAD * (y - side * x) });
  return [from, to, barb(1), to, barb(-1)];
}
