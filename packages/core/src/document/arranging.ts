import { isBodied } from '../kinds/fixtures';
import type { Fixture } from '../kinds/fixtures';
import { direction } from '../space/headings';
import { BOX, reachX, reachY } from '../space/shapes';
import type { Shape } from '../space/shapes';
import type { Vector } from '../vocabulary/quantities';
import { change } from './edits';
import type { Edit } from './edits';
import type { Level, Thing } from './level';
import { lookup } from './lookup';
import type { Found } from './lookup';
import type { Zone } from './places';
import { shapeOfThing } from './shapes';
import { actedOn } from './targets';
import { tidy } from '../vocabulary/rounding';

/** Where several things are brought to be in line: their edges or middles on one axis. */
export const alignments = ['west', 'middle', 'east', 'south', 'centre', 'north', 'base', 'top'] as const;
export type Alignment = (typeof alignments)[number];

type Axis = 'x' | 'y' | 'z';
const axisOf: Record<Alignment, Axis> = {
  west: 'x',
  middle: 'x',
  east: 'x',
  south: 'y',
  centre: 'y',
  north: 'y',
  base: 'z',
  top: 'z',
};

interface Standing {
  found: Found;
  /** From where to where it reaches on each axis, in metres. */
  from: Vector;
  to: Vector;
}

/** The edit that brings things in line: on the outermost of their edges, or in the middle of all; null where nothing moves. */
export function alignThings(level: Level, ids: readonly string[], how: Alignment): Edit | null {
  const all = standing(level, ids);
  const axis = axisOf[how];
  const least = Math.min(...all.map(({ from }) => from[axis]));
  const most = Math.max(...all.map(({ to }) => to[axis]));
  const by = ({ from, to }: Standing): number => {
    if (how === 'west' || how === 'south' || how === 'base') return least - from[axis];
    if (how === 'east' || how === 'north' || how === 'top') return most - to[axis];
    return (least + most - from[axis] - to[axis]) / 2;
  };
  return moves(all, axis, by, 'align');
}

/** The edit that leaves the same gap between each two neighbours on an axis, the outermost where they are; null for fewer than three. */
export function spreadThings(level: Level, ids: readonly string[], axis: 'x' | 'y'): Edit | null {
  const all = standing(level, ids).sort((a, b) => a.from[axis] + a.to[axis] - b.from[axis] - b.to[axis]);
  if (all.length < 3) return null;
  const width = all.reduce((sum, { from, to }) => sum + to[axis] - from[axis], 0);
  const gap = (all.at(-1)!.to[axis] - all[0]!.from[axis] - width) / (all.length - 1);
  let next = all[0]!.from[axis];
  const shifts = new Map(
    all.map((one): [Standing, number] => {
      const shift = next - one.from[axis];
      next += one.to[axis] - one.from[axis] + gap;
      return [one, shift];
    }),
  );
  return moves(all, axis, (one) => shifts.get(one)!, 'spread');
}

function standing(level: Level, ids: readonly string[]): Standing[] {
  const things = lookup(level);
  return ids.flatMap((id) => {
    const found = things.get(id);
    const shape = found === undefined ? null : shapeOfThing(found.collection, found.thing);
    return shape === null ? [] : [{ found: found!, ...boundsOf(shape) }];
  });
}

function boundsOf(shape: Shape): { from: Vector; to: Vector } {
  const [x, y] = [reachX(shape), reachY(shape)];
  return {
    from: { x: shape.x - x, y: shape.y - y, z: shape.z },
    to: { x: shape.x + x, y: shape.y + y, z: shape.z + shape.height },
  };
}

function moves(all: readonly Standing[], axis: Axis, by: (one: Standing) => number, label: string): Edit | null {
  const edits = all.flatMap((one) => {
    const shift = by(one);
    const { collection, thing } = one.found;
    const { at } = thing as unknown as { at: Vector };
    return Math.abs(shift) < 1e-9
      ? []
      : [change(collection, thing, { at: { ...at, [axis]: tidy(at[axis] + shift) } } as Partial<Thing>)];
  });
  return edits.length === 0
    ? null
    : { kind: 'all', label: `${label} ${edits.length === 1 ? 'one thing' : `${edits.length} things`}`, edits };
}

/** To a tenth of a millimetre. */
/**
 * What a zone serves: the first fixture with a body that a chain it sets off acts on; else the one it moves with; else the one whose middle
 * is nearest.
 */
export function servedBy(level: Level, zone: Zone): Fixture | null {
  const things = lookup(level);
  for (const chain of level.chains) {
    if (!chain.causes.some(({ of }) => of === zone.id)) continue;
    for (const step of chain.steps)
      for (const target of actedOn(level, step)) {
        const found = things.get(target ?? '');
        if (found?.collection === 'fixtures' && isBodied(found.thing as Fixture) && (found.thing as Fixture).room === zone.room)
          return found.thing as Fixture;
      }
  }
  const carrier = things.get(zone.attachedTo ?? '');
  if (carrier?.collection === 'fixtures' && isBodied(carrier.thing as Fixture)) return carrier.thing as Fixture;
  let nearest: Fixture | null = null;
  let least = Infinity;
  for (const one of level.fixtures) {
    const far = (one.at.x - zone.at.x) ** 2 + (one.at.y - zone.at.y) ** 2;
    if (far >= least || one.room !== zone.room || !isBodied(one)) continue;
    nearest = one;
    least = far;
  }
  return nearest;
}

/** The edit that puts the middle of a zone over the middle of what it serves; its height stays. */
export function centreZone(zone: Zone, served: Fixture): Edit {
  const { x, y } = served.at;
  return change('zones', zone, { at: { ...zone.at, x, y } });
}

/** The edit that grows a zone about its middle until what it serves is inside of it; null where it is already. */
export function coverWithZone(zone: Zone, served: Fixture): Edit | null {
  const shape = shapeOfThing('fixtures', served)!;
  const { cos, sin } = direction(zone.heading);
  const corners = cornersOf(shape).map(({ x, y }) => {
    const [dx, dy] = [x - zone.at.x, y - zone.at.y];
    return { along: dx * cos + dy * sin, across: dy * cos - dx * sin };
  });
  const top = shape.z + shape.height;
  const own = zone.shape;
  const far = Math.max(...corners.map(({ along, across }) => Math.hypot(along, across)));
  if (own.kind === 'ball') {
    const up = Math.max(Math.abs(shape.z - zone.at.z), Math.abs(top - zone.at.z));
    const radius = tidy(Math.max(own.radius, Math.hypot(far, up)));
    return radius === own.radius ? null : change('zones', zone, { shape: { ...own, radius } });
  }
  const base = Math.min(zone.at.z, shape.z);
  const height = (tall: number): number => tidy(Math.max(zone.at.z + tall, top) - base);
  const grown: Zone['shape'] =
    own.kind === 'pillar'
      ? { ...own, radius: tidy(Math.max(own.radius, far)), height: height(own.height) }
      : {
          ...own,
          size: {
            x: tidy(Math.max(own.size.x, ...corners.map(({ along }) => 2 * Math.abs(along)))),
            y: tidy(Math.max(own.size.y, ...corners.map(({ across }) => 2 * Math.abs(across)))),
            z: height(own.size.z),
          },
        };
  if (base === zone.at.z && JSON.stringify(grown) === JSON.stringify(own)) return null;
  return change('zones', zone, { shape: grown, at: { ...zone.at, z: base } });
}

/** The corners of a shape's outline on the ground; of what is round those of the square about it. */
function cornersOf({ form, x, y, halfX, halfY, cos, sin }: Shape): { x: number; y: number }[] {
  const [c, s] = form === BOX ? [cos, sin] : [1, 0];
  return [-1, 1].flatMap((u) =>
    [-1, 1].map((v) => ({ x: x + u * halfX * c - v * halfY * s, y: y + u * halfX * s + v * halfY * c })),
  );
}
