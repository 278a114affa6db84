import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';

/** What was taken hold of in the section: a thing, its top, its left (-1) or right (1) side, or a stop or an end of its travel. */
export type Grip =
  { part: 'whole' } | { part: 'top' } | { part: 'side'; at: -1 | 1 } | { part: 'stop'; at: number } | { part: 'travel' };

/** A press on something in the section. */
export interface SlabPointer {
  event: PointerEvent;
  thing: string | null;
  grip: Grip;
}

export interface Slab {
  id: string;
  name: string;
  manner: string;
  x: number;
  y: number;
  width: number;
  height: number;
  chosen: boolean;
  /** Whether it can be pulled wider. */
  widens: boolean;
  /** What is drawn within its outline, in a field 16 by 16. */
  lines: string;
  /** Where it goes: its other positions, as rectangles. */
  ways: { key: string; grip: Grip; x: number; y: number; width: number; height: number; label: string }[];
  label: string;
}

/** How large a grip is, and how narrow a thing on which two have no room, in pixels. */
const GRIP = 12;
const NARROW = 3 * GRIP;

/** How wide a letter of a name is and how high a line, in pixels; names that find no room in so many lines are left out. */
const LETTER = 6.5;
const LINE = 14;
const LINES = 4;

/** Where names stand above their things, in pixels from the top, so that no two overlap: the larger things first, others a line higher. */
export function namesAbove(slabs: readonly Pick<Slab, 'id' | 'name' | 'x' | 'y' | 'width' | 'height'>[]): Map<string, number> {
  const found = new Map<string, number>();
  const taken: { left: number; right: number; base: number }[] = [];
  for (const { id, name, x, y, width } of [...slabs].sort((a, b) => b.width * b.height - a.width * a.height)) {
    const half = (name.length * LETTER) / 2;
    const [left, right] = [x + width / 2 - half, x + width / 2 + half];
    for (let line = 0; line < LINES; line++) {
      const base = y - 8 - line * LINE;
      if (taken.some((one) => left < one.right && one.left < right && Math.abs(one.base - base) < LINE)) continue;
      taken.push({ left, right, base });
      found.set(id, base);
      break;
    }
  }
  return found;
}

/** Things seen from the side, with where they go: drawn anew only when they are others. */
@Component({
  selector: 'g[nwSlabs]',
  templateUrl: './slabs.html',
  styleUrl: './slabs.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Slabs {
  readonly nwSlabs = input.required<readonly Slab[]>();
  readonly editable = input(false);
  readonly pressed = output<SlabPointer>();
  protected readonly sides = [-1, 1] as const;
  /** How far up each name of what is chosen stands. */
  protected readonly names = computed(() => namesAbove(this.nwSlabs().filter(({ chosen }) => chosen)));

  /** Where what pulls a side stands, in pixels: on the side, or beside it where there is too little room between the two. */
  protected gripX({ x, width }: Slab, side: -1 | 1): number {
    return x + (side < 0 ? 0 : width) - GRIP / 2 + (width < NARROW ? side * GRIP : 0);
  }

  protected press(event: PointerEvent, thing: string, grip: Grip): void {
    this.pressed.emit({ event, thing, grip });
  }
}
