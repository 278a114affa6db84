import { computed } from '@angular/core';
import type { Signal } from '@angular/core';
import { arrivalsFrom, bodyAt, direction } from '@nettlewick/core';
import type { Pin } from '../board/pins';
import { corners, sizeOf } from '../board/figures';
import type { Editor } from '../state/editor';
import type { Rooms } from '../state/rooms';
import type { Point } from '@nettlewick/core';

/** Where the thing in hand puts visitors, as far as it is in the room that is shown: the way there, footprint, heading, and a flag. */
export function arrivalMarks(editor: Editor, rooms: Rooms): Signal<{ lines: Point[][]; pins: Pin[] }> {
  return computed(() => {
    const [one, ...others] = editor.selected();
    if (one === undefined || others.length > 0) return { lines: [], pins: [] };
    const level = editor.level();
    const from = (one.thing as unknown as { at?: Point }).at;
    const player = level.visitors.find(({ kind }) => kind === 'player');
    const size = player === undefined ? { x: 0.5, y: 0.5 } : sizeOf(bodyAt(player.body, { x: 0, y: 0, z: 0 }));
    const here = arrivalsFrom(level, one.collection, one.thing).filter(({ room }) => room === rooms.current());
    const lines = here.flatMap(({ at, heading }) => {
      const outline = corners(at, size, 0);
      return [
        ...(from === undefined ? [] : [[from, at]]),
        [...outline, outline[0]!],
        ...(heading === null ? [] : [[at, ahead(at, heading, Math.max(size.x, size.y) + 0.4)]]),
      ];
    });
    return { lines, pins: here.map(({ at }, i) => ({ id: `arrival ${i}`, at, text: 'out', label: 'Visitors come out here' })) };
  });
}

function ahead(at: Point, heading: number, far: number): Point {
  const { cos, sin } = direction(heading);
  return { x: at.x + far * cos, y: at.y + far * sin };
}
