import { kindOfFixture } from '../kinds/fixtures';
import type { Fixture } from '../kinds/fixtures';
import type { WallOpening } from '../kinds/fixtures/opening';
import { direction } from '../space/headings';
import { boxAt, reach } from '../space/shapes';
import type { Shape } from '../space/shapes';
import { tidy } from '../vocabulary/rounding';
import type { Level } from './level';

/** Openings up to this width are found, between walls up to this thickness, in metres. */
const WIDEST = 4;
const THICKEST = 1.5;
/** An opening lower than this is none. */
const LOWEST = 0.5;

/** A fixture as it fits into the opening of a wall that it stands in; as it is where there is none, and if its kind fits into nothing. */
export function fitted<F extends Fixture>(level: Level, fixture: F): F {
  const fit = kindOfFixture(fixture.kind).fitted;
  const opening = fit === undefined ? null : openingAt(level, fixture.room, fixture.at);
  return opening === null ? fixture : { ...fixture, ...fit!(fixture, opening) };
}

/** The narrowest opening between two ends of walls that a point of a room lies in; null where there is none. */
export function openingAt(level: Level, room: string, at: { x: number; y: number }): WallOpening | null {
  const ground = level.rooms.find(({ id }) => id === room)?.ground ?? 0;
  const near = level.solids
    .filter((one) => one.room === room && Math.hypot(one.at.x - at.x, one.at.y - at.y) < WIDEST + one.size.x + one.size.y)
    .map((one) => ({ heading: one.heading, shape: boxAt(one.at, one.size, one.heading) }));
  const standing = near.filter(({ shape }) => shape.z < ground + LOWEST && shape.z + shape.height > ground);
  const headings = new Set(standing.flatMap(({ heading }) => [axis(heading), axis(heading + 90)]));
  let found: WallOpening | null = null;
  for (const heading of headings) {
    const { cos, sin } = direction(heading);
    const along = (shape: Shape): number => (shape.x - at.x) * cos + (shape.y - at.y) * sin;
    const aside = (shape: Shape): number => (shape.y - at.y) * cos - (shape.x - at.x) * sin;
    // Those that stand in line with the point, with an edge across the line: how far the nearest is before it, and behind it.
    const ends = standing
      .filter((one) => Math.abs(aside(one.shape)) < reach(one.shape, -sin, cos) && axis(one.heading - heading) % 90 === 0)
      .map(({ shape }) => ({ shape, mid: along(shape), half: reach(shape, cos, sin) }));
    if (ends.some(({ mid, half }) => Math.abs(mid) < half)) return null;
    const before = ends.filter(({ mid }) => mid < 0).sort((a, b) => b.mid + b.half - (a.mid + a.half))[0];
    const behind = ends.filter(({ mid }) => mid > 0).sort((a, b) => a.mid - a.half - (b.mid - b.half))[0];
    if (before === undefined || behind === undefined) continue;
    const [from, to] = [before.mid + before.half, behind.mid - behind.half];
    const sides = [before, behind].map(({ shape }) => ({ mid: aside(shape), half: reach(shape, -sin, cos) }));
    const low = Math.max(...sides.map(({ mid, half }) => mid - half));
    const high = Math.min(...sides.map(({ mid, half }) => mid + half));
    const isWall = sides.every(({ half }) => 2 * half <= THICKEST);
    const height = Math.min(...[before, behind].map(({ shape }) => shape.z + shape.height), ...above(near, at, ground)) - ground;
    if (!isWall || high <= low || to - from > WIDEST || height < LOWEST || (found !== null && found.width <= to - from)) continue;
    const [u, v] = [(from + to) / 2, (low + high) / 2];
    found = {
      at: { x: tidy(at.x + u * cos - v * sin), y: tidy(at.y + u * sin + v * cos) },
      heading,
      width: tidy(to - from),
      depth: tidy(high - low),
      height: tidy(height),
      longer: behind.half >= before.half ? 1 : -1,
    };
  }
  return found;
}

/** The undersides of the solids above a point. */
function above(near: readonly { shape: Shape }[], at: { x: number; y: number }, ground: number): number[] {
  return near.flatMap(({ shape }) => {
    const [x, y] = [at.x - shape.x, at.y - shape.y];
    const isOver = Math.abs(x * shape.cos + y * shape.sin) < shape.halfX && Math.abs(y * shape.cos - x * shape.sin) < shape.halfY;
    return isOver && shape.z >= ground + LOWEST ? shape.z : [];
  });
}

/** The heading of a line, whichever way it is gone along: from 0 to below 180 degrees. */
function axis(heading: number): number {
  return ((heading % 180) + 180) % 180;
}
