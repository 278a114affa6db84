import type { Point } from '@nettlewick/core';

/** By what two fingers have moved since they were asked last: apart (a factor), about their middle, and the middle itself. */
export interface Pinched {
  factor: number;
  middle: Point;
  dx: number;
  dy: number;
}

/** The fingers on an element, and what two of them do. Points are in pixels of the element. */
export class Pinch {
  private readonly fingers = new Map<number, Point>();

  /**
   * A finger comes down, the `first` or another; says whether there are two now, so that what one of them began is not to be.
   * Nobody tells when what a finger lay on is taken away: with a first one all begins anew.
   */
  down(pointer: number, at: Point, first: boolean): boolean {
    if (first || this.fingers.size === 2) this.fingers.clear();
    this.fingers.set(pointer, at);
    return this.fingers.size === 2;
  }

  /** A finger moves: what that does, if it is one of two. */
  move(pointer: number, at: Point): Pinched | null {
    if (!this.fingers.has(pointer)) return null;
    const before = between(this.fingers);
    this.fingers.set(pointer, at);
    if (this.fingers.size < 2) return null;
    const now = between(this.fingers);
    return {
      factor: before.apart > 0 ? now.apart / before.apart : 1,
      middle: now.middle,
      dx: now.middle.x - before.middle.x,
      dy: now.middle.y - before.middle.y,
    };
  }

  /** A finger is lifted or taken away. */
  up(pointer: number): void {
    this.fingers.delete(pointer);
  }
}

function between(fingers: ReadonlyMap<number, Point>): { apart: number; middle: Point } {
  const [a, b = a] = [...fingers.values()] as [Point, Point?];
  return { apart: Math.hypot(a.x - b.x, a.y - b.y), middle: { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 } };
}
