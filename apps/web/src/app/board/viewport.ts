import type { Point } from '@nettlewick/core';
import { computed, signal } from '@angular/core';

export interface Box {
  west: number;
  south: number;
  east: number;
  north: number;
}

/** What is seen, in metres; at how many pixels a metre; on how many pixels. */
export interface View {
  seen: Box;
  scale: number;
  size: { width: number; height: number };
}

const MIN_ZOOM = 0.5;
const MAX_ZOOM = 800;

/** How many pixels a metre can have. */
export const scales = [MIN_ZOOM, MAX_ZOOM] as const;

/** What part of a plan is seen: metres around a centre, at so many pixels a metre; north is up. */
export class Viewport {
  readonly size = signal({ width: 800, height: 600 });
  readonly center = signal<Point>({ x: 0, y: 0 });
  readonly scale = signal(24);

  /** The part of the plan that is seen, in metres. */
  readonly seen = computed<Box>(() => {
    const { width, height } = this.size();
    const { x, y } = this.center();
    const halfX = width / 2 / this.scale();
    const halfY = height / 2 / this.scale();
    return { west: x - halfX, east: x + halfX, south: y - halfY, north: y + halfY };
  });

  /** All of it at once. */
  readonly view = computed<View>(() => ({ seen: this.seen(), scale: this.scale(), size: this.size() }));

  toScreen(at: Point): Point {
    const { width, height } = this.size();
    const center = this.center();
    return { x: width / 2 + (at.x - center.x) * this.scale(), y: height / 2 - (at.y - center.y) * this.scale() };
  }

  toPlan(at: Point): Point {
    const { width, height } = this.size();
    const center = this.center();
    return { x: center.x + (at.x - width / 2) / this.scale(), y: center.y - (at.y - height / 2) / this.scale() };
  }

  pan(dx: number, dy: number): void {
    this.center.update(({ x, y }) => ({ x: x - dx / this.scale(), y: y + dy / this.scale() }));
  }

  /** Zooms so that the place under `at` (pixels) stays where it is. */
  zoom(factor: number, at: Point = { x: this.size().width / 2, y: this.size().height / 2 }): void {
    const before = this.toPlan(at);
    this.scale.update((scale) => Math.min(MAX_ZOOM, Math.max(MIN_ZOOM, scale * factor)));
    const after = this.toPlan(at);
    this.center.update(({ x, y }) => ({ x: x + before.x - after.x, y: y + before.y - after.y }));
  }

  /** How it was when it was fitted last. */
  private fitted: { scale: number; center: Point } | null = null;

  /** Whether it has been left as it was fitted. */
  isAsFitted(): boolean {
    const { scale, center } = this.fitted ?? {};
    return scale === this.scale() && center === this.center();
  }

  fit(box: Box, margin = 56): void {
    const { width, height } = this.size();
    const across = Math.max(box.east - box.west, 0.5);
    const up = Math.max(box.north - box.south, 0.5);
    this.scale.set(Math.min(MAX_ZOOM, Math.max(MIN_ZOOM, Math.min((width - 2 * margin) / across, (height - 2 * margin) / up))));
    this.center.set({ x: (box.west + box.east) / 2, y: (box.south + box.north) / 2 });
    this.fitted = { scale: this.scale(), center: this.center() };
  }
}
