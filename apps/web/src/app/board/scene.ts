import Flatbush from 'flatbush';
import type { Figure } from './figures';
import type { Box } from './viewport';
import type { Point } from '@nettlewick/core';

/** The number of changed figures that are searched linearly before the index is rebuilt. */
const LOOSE = 64;

/** The figures of a board, with an index of where they are. */
export class Scene {
  private constructor(
    readonly figures: readonly Figure[],
    private readonly index: Flatbush | null,
    /** The places of figures that are not where the index has them. */
    private readonly loose: ReadonlySet<number>,
    private before: { scene: Scene; places: readonly number[] } | null,
  ) {}

  /** `figures`: in the order in which they are drawn, the lowest first; `before`: the scene that it follows, if it does. */
  static of(figures: readonly Figure[], before: Scene | undefined): Scene {
    if (before?.figures.length === figures.length) {
      const places: number[] = [];
      for (let at = 0; at < figures.length && places.length <= LOOSE; at++)
        if (figures[at] !== before.figures[at]) places.push(at);
      const loose = new Set([...before.loose, ...places]);
      if (loose.size <= LOOSE) {
        // What came before that is not asked for any more.
        before.before = null;
        return new Scene(figures, before.index, loose, { scene: before, places });
      }
    }
    return new Scene(figures, indexOf(figures), new Set(), null);
  }

  /** The figures that reach into a box, in the order in which they are drawn. */
  within({ west, south, east, north }: Box): readonly Figure[] {
    const { index, loose, figures } = this;
    if (index === null) return [];
    const reaches = ({ at, reach }: Figure): boolean =>
      at.x + reach >= west && at.x - reach <= east && at.y + reach >= south && at.y - reach <= north;
    // The whole room is in view.
    if (index.minX >= west && index.maxX <= east && index.minY >= south && index.maxY <= north)
      return loose.size === 0 ? figures : figures.filter((figure, at) => !loose.has(at) || reaches(figure));
    const found = index.search(west, south, east, north, loose.size === 0 ? undefined : (at) => !loose.has(at));
    for (const place of loose) if (reaches(figures[place]!)) found.push(place);
    return found.sort((a, b) => a - b).map((at) => figures[at]!);
  }

  /** What has gone and what has come since another scene. */
  changesSince(other: Scene): Figure[] {
    if (other === this) return [];
    const { before } = this;
    if (before?.scene === other) return before.places.flatMap((at) => [other.figures[at]!, this.figures[at]!]);
    const [now, then] = [new Set(this.figures), new Set(other.figures)];
    return [...this.figures.filter((one) => !then.has(one)), ...other.figures.filter((one) => !now.has(one))];
  }

  /** What lies topmost at a point, or as near to it as `slack` metres: small things first, so that they can be taken out of large ones. */
  at(point: Point, slack: number): Figure | null {
    const near = this.within({ west: point.x - slack, east: point.x + slack, south: point.y - slack, north: point.y + slack });
    return pick(near, point, slack);
  }
}

function indexOf(figures: readonly Figure[]): Flatbush | null {
  if (figures.length === 0) return null;
  const index = new Flatbush(figures.length);
  for (const { at, reach } of figures) index.add(at.x - reach, at.y - reach, at.x + reach, at.y + reach);
  index.finish();
  return index;
}

/** Which of some figures, the lowest first, is meant by a point. */
export function pick(figures: readonly Figure[], point: Point, slack: number): Figure | null {
  const direct = figures.findLast((figure) => holds(figure, point));
  if (direct !== undefined) return direct;
  let nearest: Figure | null = null;
  let least = slack;
  for (const figure of figures) {
    const away = awayFrom(figure, point);
    if (away < least) [nearest, least] = [figure, away];
  }
  return nearest;
}

/** All of some figures, the lowest first, that a point lies in: the topmost first. */
export function heapAt(figures: readonly Figure[], point: Point): Figure[] {
  return figures.filter((figure) => holds(figure, point)).reverse();
}

/** How far a point is from the nearest side of a figure's outline, in metres. */
function awayFrom({ points }: Figure, { x, y }: Point): number {
  let least = Infinity;
  points.forEach((to, at) => {
    const from = points.at(at - 1)!;
    const [dx, dy] = [to.x - from.x, to.y - from.y];
    const along = Math.max(0, Math.min(1, ((x - from.x) * dx + (y - from.y) * dy) / (dx * dx + dy * dy || 1)));
    least = Math.min(least, Math.hypot(from.x + along * dx - x, from.y + along * dy - y));
  });
  return least;
}

/** Whether a point lies within the outline of a figure (the even-odd rule over its straight sides). */
function holds({ at, reach, points }: Figure, { x, y }: Point): boolean {
  if (Math.hypot(at.x - x, at.y - y) > reach) return false;
  let inside = false;
  points.forEach((to, place) => {
    const from = points.at(place - 1)!;
    if (from.y > y !== to.y > y && x < ((to.x - from.x) * (y - from.y)) / (to.y - from.y) + from.x) inside = !inside;
  });
  return inside;
}
