import { kindOfFixture } from '../kinds/fixtures';
import type { Fixture } from '../kinds/fixtures';
import { direction, headingOf } from '../space/headings';
import type { Journey, Place } from '../vocabulary/places';
import type { Point, Vector } from '../vocabulary/quantities';
import { roundTo } from '../vocabulary/rounding';
import type { Chain } from './chains';
import type { Collection, Level, Thing } from './level';
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

/** Where somebody is put, as the document has it; `heading` in degrees, null where it is kept. */
export interface ArrivalPoint {
  room: string;
  at: Vector;
  heading: number | null;
}

/** Where visitors are put by a passage, by the steps of a chain, or by the chains that a thing sets off. */
export function arrivalsFrom(level: Level, collection: Collection, thing: Thing): ArrivalPoint[] {
  if (collection === 'chains') return ofChain(level, thing as Chain);
  const standing = thing as unknown as { room?: string };
  const takes = collection === 'fixtures' ? kindOfFixture((thing as Fixture).kind).takes?.(thing as Fixture) : undefined;
  const own = takes === undefined ? [] : arrival(level, takes, standing.room ?? '');
  const chains = level.chains.filter(({ causes }) => causes.some(({ of }) => of === thing.id));
  return [...own, ...chains.flatMap((chain) => ofChain(level, chain))];
}

function ofChain(level: Level, { causes, steps }: Chain): ArrivalPoint[] {
  const rooms = causes.flatMap(({ of }) => (lookup(level).get(of)?.thing as { room?: string } | undefined)?.room ?? []);
  return steps.flatMap((step) => ('arrivesFacing' in step ? arrival(level, step, rooms[0] ?? '') : []));
}

function arrival(level: Level, journey: Journey, room: string): ArrivalPoint[] {
  const found = pointOf(level, journey.to, room);
  if (found === null || found.room === '') return [];
  return [{ ...found, heading: headingAt(level, journey, found) }];
}

function headingAt(
  level: Level,
  { arrivesFacing, to, facing }: Journey,
  { room, at }: { room: string; at: Vector },
): number | null {
  if (arrivesFacing === 'take') return (lookup(level).get(to.of)?.thing as { heading?: number } | undefined)?.heading ?? null;
  if (arrivesFacing === 'keep' || facing === null) return null;
  const towards = pointOf(level, facing, room);
  return towards === null ? null : headingOf(towards.at.x - at.x, towards.at.y - at.y);
}

/**
 * A place moved to a point of a room, to the centimetre: counted from what it is counted from. `who` is whose place it is. It is as
 * high as before where the point has no height, and where it is counted from the ground.
 */
export function placeAt(level: Level, now: Place, at: Point & { z?: number }, room: string, who: string): Place {
  const things = lookup(level);
  const to = { x: roundTo(at.x, 2), y: roundTo(at.y, 2) };
  const up = now.height === 'datum' ? at.z : undefined;
  const from = things.get(now.of)?.thing as { at: Vector; heading?: number } | undefined;
  if (from === undefined) {
    const own = things.get(who)?.thing as { room?: string } | undefined;
    const ground = level.rooms.find((one) => one.id === room)?.ground ?? 0;
    const z = up === undefined ? (now.z === 0 ? ground : now.z) : roundTo(up, 2);
    return { ...now, ...to, z, room: own?.room === room ? '' : room };
  }
  const by = { x: at.x - from.at.x, y: at.y - from.at.y };
  const z = up === undefined ? now.z : roundTo(up - from.at.z, 2);
  if (now.axes === 'room') return { ...now, x: roundTo(by.x, 2), y: roundTo(by.y, 2), z };
  const { cos, sin } = direction(from.heading ?? 0);
  return { ...now, z, x: roundTo(by.x * cos + by.y * sin, 2), y: roundTo(by.y * cos - by.x * sin, 2) };
}
