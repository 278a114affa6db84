import type { Vector } from '../../src/index';
import { TOUCH, cover, meets, put, shadowSpan, support } from './geometry';
import type { Flat, Solid } from './geometry';

/** What a way leads through. */
export interface Ground {
  solids: Solid[];
  ground: number;
  step: number;
  extents: { west: number; south: number; east: number; north: number };
}

/** Where a line on the ground ends: at which height, and which solid stops it, if one does. */
function walked({ solids, ground, step }: Ground, among: number[], body: Solid, to: Flat): { stop: number | null; z: number } {
  const by = { x: to.x - body.at.x, y: to.y - body.at.y };
  const met = among
    .flatMap((i) => {
      const span = shadowSpan(body, by, solids[i]!);
      return span === null ? [] : [{ i, ...span }];
    })
    .sort((a, b) => a.from - b.from || a.i - b.i);
  const top = (i: number): number => solids[i]!.at.z + solids[i]!.height;
  let z = body.at.z;
  let under: typeof met = [];
  const sink = (moment: number): void => {
    const tops = under.filter((one) => one.to > moment || one.to >= 1).map((one) => top(one.i));
    if (ground <= z + TOUCH) tops.push(ground);
    const below = tops.filter((height) => height === ground || height <= z + TOUCH);
    if (below.length > 0) z = Math.max(...below);
  };
  while (met.length > 0) {
    const moment = met[0]!.from;
    const together = met.filter((one) => one.from <= moment + 1e-6);
    met.splice(0, together.length);
    if (moment > 0 && under.some((one) => one.to <= moment)) sink(moment);
    const from = z;
    for (const one of together) {
      if (top(one.i) <= from + step + TOUCH) {
        under = [...under, one];
        z = Math.max(z, top(one.i));
      } else if (from + body.height > solids[one.i]!.at.z + TOUCH && !meets(body, solids[one.i]!)) return { stop: one.i, z };
    }
  }
  sink(1);
  return { stop: null, z };
}

interface Walk {
  at: Vector;
  far: number;
  keys: number[];
  points: Vector[];
  settled: boolean;
}

/** The shortest way around the solids that are met on the way, or the straight line. */
export function wayOf(ground: Ground, body: Solid, to: Vector): Vector[] {
  const all = ground.solids.map((_solid, i) => i);
  const known = new Set<number>();
  const near = (z: number): boolean => Math.abs(z - to.z) <= ground.step + TOUCH;
  const straight = walked(ground, all, body, to);
  if (straight.stop !== null) known.add(straight.stop);
  else if (near(straight.z)) return [to];
  const lookAbout = (): boolean => {
    const before = known.size;
    const own = cover(body);
    ground.solids.forEach((solid, i) => {
      const wide = cover(solid);
      const apart = (axis: 'x' | 'y'): boolean =>
        solid.at[axis] - wide[axis] > Math.max(body.at[axis], to[axis]) + own[axis] + 4 + 2e-6 ||
        solid.at[axis] + wide[axis] < Math.min(body.at[axis], to[axis]) - own[axis] - 4 - 2e-6;
      if (!apart('x') && !apart('y')) known.add(i);
    });
    return known.size > before;
  };
  if (straight.stop === null) lookAbout();
  while (known.size <= 64) {
    const way = around(ground, [...known], body, to, near);
    if (way === null) {
      if (!lookAbout()) return [to];
      continue;
    }
    const before = known.size;
    let at = body;
    for (const point of way) {
      const { stop, z } = walked(ground, all, at, point);
      if (stop !== null) known.add(stop);
      at = put(at, { x: point.x, y: point.y, z });
    }
    if (known.size === before) return way;
  }
  return [to];
}

/** Where a way may turn about a solid: a centimetre off its corners, grown by the body, and over its middle. */
function turnsAbout(solid: Solid, body: Solid): Flat[] {
  const [a, b, c] = solid.outline!;
  const side = (p: Flat, q: Flat): Flat & { half: number } => {
    const length = Math.sqrt((q.x - p.x) ** 2 + (q.y - p.y) ** 2);
    return { x: (q.x - p.x) / length, y: (q.y - p.y) / length, half: length / 2 };
  };
  // Along its width, from its second corner to its first, and along its depth, from the third to the second.
  const [along, across] = [side(b!, a!), side(c!, b!)];
  const wide = along.half + support(body, along) + 0.01;
  const deep = across.half + support(body, across) + 0.01;
  const corner = (u: number, v: number): Flat => ({
    x: solid.at.x + along.x * wide * u + across.x * deep * v,
    y: solid.at.y + along.y * wide * u + across.y * deep * v,
  });
  return [corner(1, 1), corner(-1, 1), corner(-1, -1), corner(1, -1), solid.at];
}

/** The shortest way around some solids, by looking at every way from corner to corner; null if there is none. */
function around(ground: Ground, known: number[], body: Solid, to: Vector, near: (z: number) => boolean): Vector[] | null {
  const own = cover(body);
  const { west, south, east, north } = ground.extents;
  const spots = known
    .flatMap((i) => turnsAbout(ground.solids[i]!, body).map((at, j) => ({ ...at, key: i * 5 + j })))
    .filter(
      ({ x, y }) =>
        x - own.x - 1e-6 >= west && x + own.x + 1e-6 <= east && y - own.y - 1e-6 >= south && y + own.y + 1e-6 <= north,
    );
  const better = (a: Walk, b: Walk): boolean => {
    if (Math.abs(a.far - b.far) > 1e-6) return a.far < b.far;
    if (a.keys.length !== b.keys.length) return a.keys.length < b.keys.length;
    const i = a.keys.findIndex((key, k) => key !== b.keys[k]);
    return i >= 0 && a.keys[i]! < b.keys[i]!;
  };
  const walks: Walk[] = [{ at: body.at, far: 0, keys: [], points: [], settled: false }];
  let goal: Walk | null = null;
  for (;;) {
    let next: Walk | null = null;
    for (const one of walks) if (!one.settled && (next === null || better(one, next))) next = one;
    if (next === null || (goal !== null && better(goal, next))) return goal?.points ?? null;
    next.settled = true;
    const { at, far, keys, points } = next;
    const from = put(body, at);
    const on = (spot: Flat): number => far + Math.sqrt((spot.x - at.x) ** 2 + (spot.y - at.y) ** 2);
    const end = walked(ground, known, from, to);
    if (end.stop === null && near(end.z)) {
      const there: Walk = { ...next, far: on(to), keys: [...keys, Infinity], points: [...points, to] };
      if (goal === null || better(there, goal)) goal = there;
    }
    for (const { x, y, key } of spots) {
      const { stop, z } = walked(ground, known, from, { x, y });
      if (stop !== null) continue;
      const reached: Walk = {
        at: { x, y, z },
        far: on({ x, y }),
        keys: [...keys, key],
        points: [...points, { x, y, z }],
        settled: false,
      };
      const rival = walks.find((other) => other.keys.at(-1) === key && Math.round(other.at.z * 1e6) === Math.round(z * 1e6));
      if (rival === undefined) walks.push(reached);
      else if (!rival.settled && better(reached, rival)) Object.assign(rival, reached);
    }
  }
}
