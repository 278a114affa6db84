import { Injectable } from '@angular/core';
import { patchState, signalStore, withState } from '@ngrx/signals';
import type { Level } from '@nettlewick/core';
import { corners } from '../board/figures';
import { footingOf, tidy } from '../board/handles';
import type { Point, Stretch } from '../board/viewport';

/** The tape measure: what it measured last can be poured into any length that is typed. */
@Injectable()
export class Tape extends signalStore({ protectedState: false }, withState<{ stretch: Stretch | null }>({ stretch: null })) {
  /** What is measured; null for nothing. */
  measure(stretch: Stretch | null): void {
    patchState(this, { stretch });
  }

  /** Its numbers in words: the length, and how much of it goes east, north and up, as far as that is seen. */
  numbers(): { label: string; value: number }[] {
    const stretch = this.stretch();
    if (stretch === null) return [];
    const dx = tidy(stretch.to.x - stretch.from.x);
    const dy = tidy(stretch.to.y - stretch.from.y);
    const dz = tidy(stretch.to.z - stretch.from.z);
    return [
      { label: 'length', value: Math.round(Math.hypot(dx, dy, dz) * 1000) / 1000 },
      ...(stretch.on === 'y' ? [] : [{ label: 'east', value: dx }]),
      ...(stretch.on === 'x' ? [] : [{ label: 'north', value: dy }]),
      ...(stretch.on === 'plan' ? [] : [{ label: 'up', value: dz }]),
    ];
  }
}

/** A point drawn to what is near: a corner, the middle of an edge, or the middle of a thing; else as it is. */
export function drawnTo(level: Level, room: string, at: Point, within: number): Point {
  let best = at;
  let least = within;
  for (const collection of ['solids', 'zones', 'fixtures', 'visitors'] as const) {
    for (const { id, room: where } of level[collection]) {
      if (where !== room) continue;
      const footing = footingOf(level, id);
      if (footing === null) continue;
      const { thing, size } = footing;
      const around = size === null ? [] : corners(thing.at, size, thing.heading);
      const edges = around.map((corner, i) => middle(corner, around[(i + 1) % 4]!));
      for (const point of [thing.at, ...around, ...edges]) {
        const apart = Math.hypot(point.x - at.x, point.y - at.y);
        if (apart >= least) continue;
        least = apart;
        best = { x: tidy(point.x), y: tidy(point.y) };
      }
    }
  }
  return best;
}

function middle(a: Point, b: Point): Point {
  return { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 };
}
