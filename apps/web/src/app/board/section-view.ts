import { computed, signal } from '@angular/core';
import type { Level, Point } from '@nettlewick/core';
import { scales } from './viewport';
import type { Viewport } from './viewport';

/** Which way one looks at the section: what is to the right then. */
export const facings = ['north', 'south', 'east', 'west'] as const;
export type Facing = (typeof facings)[number];

/** How much is left below the floor, and beside and above a room that is shown as a whole, in pixels. */
const FOOT_PX = 26;
const MARGIN_PX = 30;

/** How metres become pixels, and pixels metres: along the axis that is seen, and up. */
export interface SectionScale {
  /** Pixels a metre. */
  scale: number;
  /** The floor, in metres and in pixels. */
  ground: number;
  floor: number;
  /** Whether the axis is that of the plan's east, and which way it goes on the screen. */
  alongEast: boolean;
  sign: -1 | 1;
  /** How broad the section is, in pixels. */
  width: number;
  across: (metres: number) => number;
  up: (metres: number) => number;
  along: (x: number) => number;
  height: (y: number) => number;
}

/** What is seen in a section: on the axis that it shares with a plan, as the plan's view has it, and up from its floor. */
export class SectionView {
  /** How high the section is, in pixels. */
  readonly height = signal(200);
  /** How much lower than usual the floor is drawn, in pixels. */
  private readonly lift = signal(0);

  constructor(
    private readonly room: () => Level['rooms'][number] | undefined,
    private readonly viewport: () => Viewport,
    private readonly facing: () => Facing,
  ) {}

  /** Pixels a metre, and how metres become pixels: along the axis that is seen, and up. */
  readonly scale = computed<SectionScale>(() => {
    const room = this.room();
    const view = this.viewport().view();
    const facing = this.facing();
    const alongEast = facing === 'north' || facing === 'south';
    const sign = facing === 'north' || facing === 'west' ? 1 : -1;
    const { scale, size } = view;
    const middle = alongEast ? (view.seen.west + view.seen.east) / 2 : (view.seen.south + view.seen.north) / 2;
    const ground = room?.ground ?? 0;
    const floor = this.height() - FOOT_PX + this.lift();
    return {
      scale,
      ground,
      floor,
      alongEast,
      sign,
      width: size.width,
      across: (metres: number) => size.width / 2 + sign * (metres - middle) * scale,
      up: (metres: number) => floor - (metres - ground) * scale,
      along: (x: number) => middle + (sign * (x - size.width / 2)) / scale,
      height: (y: number) => ground + (floor - y) / scale,
    };
  });

  /** Shows the whole room, from its ground to its ceiling. */
  fit(): void {
    const room = this.room();
    if (room === undefined) return;
    const { alongEast, width } = this.scale();
    const { west, east, south, north } = room.extents;
    const [from, to] = alongEast ? [west, east] : [south, north];
    const viewport = this.viewport();
    const across = (width - 2 * MARGIN_PX) / Math.max(0.5, to - from);
    const upwards = (this.height() - FOOT_PX - MARGIN_PX) / Math.max(0.5, room.height);
    viewport.scale.set(Math.min(scales[1], Math.max(scales[0], Math.min(across, upwards))));
    this.look((from + to) / 2);
    this.lift.set(-(this.height() - FOOT_PX - MARGIN_PX - room.height * viewport.scale()) / 2);
  }

  /** Draws the floor where it usually is. */
  settle(): void {
    this.lift.set(0);
  }

  /** Zooms so that what is at some pixels stays there. */
  zoom(factor: number, { x, y }: Point): void {
    const { along, height, sign, ground } = this.scale();
    const [metres, z] = [along(x), height(y)];
    const viewport = this.viewport();
    viewport.zoom(factor);
    const scale = viewport.scale();
    this.look(metres - (sign * (x - viewport.size().width / 2)) / scale);
    this.lift.set(y + (z - ground) * scale - (this.height() - FOOT_PX));
  }

  /** Shifts what is seen by some pixels. */
  pan(dx: number, dy: number): void {
    const { sign, scale, alongEast } = this.scale();
    const { x, y } = this.viewport().center();
    this.look((alongEast ? x : y) - (sign * dx) / scale);
    this.lift.update((lift) => lift + dy);
  }

  /** Brings a place on the axis that is seen into the middle, in metres. */
  private look(along: number): void {
    const { alongEast } = this.scale();
    this.viewport().center.update((at) => (alongEast ? { ...at, x: along } : { ...at, y: along }));
  }
}
