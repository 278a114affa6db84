import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';

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

  /** Where what pulls a side stands, in pixels: on the side, or beside it where there is too little room between the two. */
  protected gripX({ x, width }: Slab, side: -1 | 1): number {
    return x + (side < 0 ? 0 : width) - GRIP / 2 + (width < NARROW ? side * GRIP : 0);
  }

  protected press(event: PointerEvent, thing: string, grip: Grip): void {
    this.pressed.emit({ event, thing, grip });
  }
}
