import Flatbush from 'flatbush';
import type { Figure } from './figures';
import type { Box, Point } from './viewport';

/** The figures of a board, with an index of where they are. */
export class Scene {
  private readonly index: Flatbush | null;

  /** `figures`: in the order in which they are drawn, the lowest first. */
  constructor(readonly figures: readonly Figure[]) {
    if (figures.length === 0) {
      this.index = null;
      return;
    }
    const index = new Flatbush(figures.length);
    for (const { at, reach } of figures) index.add(at.x - reach, at.y - reach, at.x + reach, at.y + reach);
    index.finish();
    this.index = index;
  }

  /** The figures that reach into a box, in the order in which they are drawn. */
  within({ west, south, east, north }: Box): Figure[] {
    if (this.index === null) return [];
    return this.index
      .search(west, south, east, north)
      .sort((a, b) => a - b)
      .map((at) => this.figures[at]!);
  }

  /** What lies topmost at a point, or as near to it as `slack` metres: small things first, so that they can be taken out of large ones. */
  at(point: Point, slack: number): Figure | null {
    const near = this.within({ west: point.x - slack, east: point.x + slack, south: point.y - slack, north: point.y + slack });
    return pick(near, point, slack);
  }
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

/** How far a point is from the nearest side of a figure's outline, in metres. */
function awayFrom(figure: Figure, { x, y }: Point): number {
  let least = Infinity;
  for (const ring of ringsOf(figure)) {
    for (let i = 0, j = ring.length - 2; i < ring.length; j = i, i += 2) {
      const [ax, ay] = [ring[j]!, ring[j + 1]!];
      const [dx, dy] = [ring[i]! - ax, ring[i + 1]! - ay];
      const along = Math.max(0, Math.min(1, ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy || 1)));
      least = Math.min(least, Math.hypot(ax + along * dx - x, ay + along * dy - y));
    }
  }
  return least;
}

/** Whether a point lies within the outline of a figure (the even-odd rule over its straight sides). */
export function holds(figure: Figure, { x, y }: Point): boolean {
  if (Math.hypot(figure.at.x - x, figure.at.y - y) > figure.reach) return false;
  let inside = false;
  for (const ring of ringsOf(figure)) {
    for (let i = 0, j = ring.length - 2; i < ring.length; j = i, i += 2) {
      const [ax, ay, bx, by] = [ring[i]!, ring[i + 1]!, ring[j]!, ring[j + 1]!];
      if (ay > y !== by > y && x < ((bx - ax) * (y - ay)) / (by - ay) + ax) inside = !inside;
    }
  }
  return inside;
}

const rings = new WeakMap<Figure, number[][]>();

function ringsOf(figure: Figure): number[][] {
  let found = rings.get(figure);
  if (found === undefined) {
    found = figure.path
      .split('Z')
      .filter((part) => part !== '')
      .map((part) => (part.match(/-?[\d.]+(?:e-?\d+)?/g) ?? []).map(Number));
    rings.set(figure, found);
  }
  return found;
}
