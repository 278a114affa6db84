import { direction, lookup, tidy } from '@nettlewick/core';
import type { Collection, Extent, Found, Level, Thing, Vector, Point } from '@nettlewick/core';
import { corners } from './figures';

type CornerName = 'south-west' | 'south-east' | 'north-east' | 'north-west';

/**
 * Corners to pull a thing wider by, anticlockwise from its own south-west, and a knob to turn it by; the positions on its way, and spots
 * between them; the line that a section is taken along.
 */
export type HandleName = CornerName | 'turn' | 'cut' | `pose ${number}` | `between ${number}`;

export interface Handle {
  name: HandleName;
  at: Point;
  /** What stands on it. */
  text?: string;
  /** What it is for. */
  title: string;
}

const cornerNames: CornerName[] = ['south-west', 'south-east', 'north-east', 'north-west'];

/** The distance of a handle from its corner, in pixels. */
const CLEAR = 5;

/** Where a handle stands on the screen: outside of its corner, seen from the middle, so that something small can still be pressed. */
export function besides(name: HandleName, at: Point, middle: Point): Point {
  if (!(cornerNames as string[]).includes(name)) return at;
  return { x: at.x + CLEAR * Math.sign(at.x - middle.x), y: at.y + CLEAR * Math.sign(at.y - middle.y) };
}

/** Where a thing stands and how big it is, if it can be moved on the plan. */
export interface Footing {
  collection: Collection;
  thing: Thing & { at: Vector; heading: number };
  size: Extent | null;
  turns: boolean;
}

/** The footing of a thing of a level; or of what it would be. */
export function footingOf(level: Level, id: string, instead?: Thing): Footing | null {
  const found = lookup(level).get(id);
  const thing = (instead ?? found?.thing) as Found['thing'] | undefined;
  if (found === undefined || thing === undefined || !('at' in thing)) return null;
  const { collection } = found;
  const size =
    'shape' in thing ? (thing.shape.kind === 'box' ? thing.shape.size : null) : 'size' in thing ? (thing.size as Extent) : null;
  return { collection, thing, size, turns: true };
}

/** The handles of a thing, or of what it would be; `arm` is how far the knob stands off, in metres. */
export function handlesOf(level: Level, id: string, arm: number, instead?: Thing): Handle[] {
  const footing = footingOf(level, id, instead);
  if (footing === null) return [];
  const { thing, size } = footing;
  const { cos, sin } = direction(thing.heading);
  const off = (size?.x ?? 0.8) / 2 + arm;
  const turn: Handle = { name: 'turn', title: 'turn', at: { x: thing.at.x + cos * off, y: thing.at.y + sin * off } };
  if (size === null) return [turn];
  return [...corners(thing.at, size, thing.heading).map((at, i) => ({ name: cornerNames[i]!, at, title: 'resize' })), turn];
}

/** Where and how big a thing is when one of its corners has been pulled to `to`; the opposite corner stays. */
export function resized(footing: Footing, handle: HandleName, to: Point, least: number): { at: Vector; size: Extent } | null {
  const { thing, size } = footing;
  const which = cornerNames.indexOf(handle as CornerName);
  if (size === null || which < 0) return null;
  const opposite = corners(thing.at, size, thing.heading)[(which + 2) % 4]!;
  const { cos, sin } = direction(thing.heading);
  const dx = to.x - opposite.x;
  const dy = to.y - opposite.y;
  const along = dx * cos + dy * sin;
  const across = dy * cos - dx * sin;
  const x = Math.max(least, Math.abs(along));
  const y = Math.max(least, Math.abs(across));
  const signX = which === 1 || which === 2 ? 1 : -1;
  const signY = which >= 2 ? 1 : -1;
  const u = (signX * x) / 2;
  const v = (signY * y) / 2;
  const at = { ...thing.at, x: tidy(opposite.x + u * cos - v * sin), y: tidy(opposite.y + u * sin + v * cos) };
  return { at, size: { ...size, x: tidy(x), y: tidy(y) } };
}

/** The heading in degrees that points from a thing to `to`, from -180 to 180. */
export function headingTo(from: Point, to: Point): number {
  return tidy((Math.atan2(to.y - from.y, to.x - from.x) * 180) / Math.PI);
}

/** The handle that a pointer is on, or null. */
export function handleUnder(event: PointerEvent): HandleName | null {
  const target = event.target instanceof Element ? event.target : null;
  return (target?.closest('[data-handle]')?.getAttribute('data-handle') ?? null) as HandleName | null;
}

/** The pin that a pointer is on, if it can be pressed; or null. */
export function pinUnder(event: PointerEvent): string | null {
  const target = event.target instanceof Element ? event.target : null;
  return target?.closest('[data-pin]')?.getAttribute('data-pin') ?? null;
}
