import { direction } from '../space/headings';
import type { Place } from '../vocabulary/places';
import type { Vector } from '../vocabulary/quantities';
import type { Level } from './level';
import { lookup } from './lookup';

/**
 * Where a place is as the document has it, before anything has moved: its room and its point in metres. `room` is that of who
 * goes there. Null if what it is counted from is not in the level, or stands nowhere.
 */
export function pointOf(level: Level, place: Place, room: string): { room: string; at: Vector } | null {
  if (place.of === '') return { room: place.room === '' ? room : place.room, at: { x: place.x, y: place.y, z: place.z } };
  const from = lookup(level).get(place.of)?.thing as { at?: Vector; heading?: number; room?: string } | undefined;
  if (from?.at === undefined) return null;
  const { cos, sin } = place.axes === 'own' ? direction(from.heading ?? 0) : { cos: 1, sin: 0 };
  return {
    room: from.room ?? room,
    at: {
      x: from.at.x + place.x * cos - place.y * sin,
      y: from.at.y + place.x * sin + place.y * cos,
      z: from.at.z + place.z,
    },
  };
}
