import { tidy } from '@nettlewick/core';
import type { Level, Point } from '@nettlewick/core';
import { corners } from '../board/figures';
import { footingOf } from '../board/handles';

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
