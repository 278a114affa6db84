import { roundTo } from '../vocabulary/rounding';
const directions = new Map<number, { cos: number; sin: number }>();

/** Cosine and sine of a heading in degrees, taken once per heading and rounded to 1e-12 so that every engine agrees. */
export function direction(degrees: number): { cos: number; sin: number } {
  let found = directions.get(degrees);
  if (found === undefined) {
    const angle = (degrees * Math.PI) / 180;
    found = { cos: rounded(Math.cos(angle)), sin: rounded(Math.sin(angle)) };
    if (directions.size >= 4096) directions.clear();
    directions.set(degrees, found);
  }
  return found;
}

/** The heading in degrees, -180 to 180, of a direction on the ground, rounded to 1e-9; null for no direction. */
export function headingOf(dx: number, dy: number): number | null {
  if (dx === 0 && dy === 0) return null;
  return Math.round((Math.atan2(dy, dx) * 180e9) / Math.PI) / 1e9 + 0;
}

/** A heading as it is told: in degrees from 0 to below 360, rounded to a millionth. */
export function toldHeading(degrees: number): number {
  const within = degrees % 360;
  // No more sums than are needed: each would round once more.
  const turned = roundTo(within < 0 ? within + 360 : within, 6);
  return turned === 360 ? 0 : turned + 0;
}

function rounded(value: number): number {
  return Math.round(value * 1e12) / 1e12;
}

/** How far it is from a point to where a ray leaves some extents, in metres. */
export function metresToEdge(
  { west, south, east, north }: { west: number; south: number; east: number; north: number },
  at: { x: number; y: number },
  { x, y }: { x: number; y: number },
): number {
  const length = Math.sqrt(x * x + y * y);
  const across = x === 0 ? Infinity : ((x > 0 ? east : west) - at.x) / (x / length);
  const along = y === 0 ? Infinity : ((y > 0 ? north : south) - at.y) / (y / length);
  return Math.max(0, Math.min(across, along));
}
