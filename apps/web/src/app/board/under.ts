import type { BoardPointer } from './board';
import type { Point } from '@nettlewick/core';

/** Two clicks within this distance are at the same place, in metres. */
const SAME_PLACE_M = 0.25;

/** What is pressed where things lie on each other: first the topmost, then at the same place each time what lies under it. */
export class Under {
  private last: { at: Point; thing: string } | null = null;

  /** The thing that a press on some thing takes. */
  next({ at, thing, heap }: BoardPointer): string {
    const { last } = this;
    const again = last !== null && heap.includes(last.thing) && Math.hypot(at.x - last.at.x, at.y - last.at.y) < SAME_PLACE_M;
    const taken = again ? heap[(heap.indexOf(last.thing) + 1) % heap.length]! : thing!;
    this.last = { at, thing: taken };
    return taken;
  }
}
