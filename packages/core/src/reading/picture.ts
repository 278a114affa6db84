import type { Level } from '../document/level';
import type { Shape } from '../space/shapes';
import { planOf } from '../kernel/plan';
import { ownTransform, shapeOf, transformed } from '../kernel/bodies/poses';
import type { World } from '../kernel/world';

/** What a level looks like while its machines' clocks stand somewhere; a clock that is not given stands at its start. */
export interface Picture {
  /** Where a zone or a fixture with a body is; null if there is no such thing. */
  shape(id: string): Shape | null;
  /** The positions of a machine itself, without what it is attached to. */
  positions(id: string): Shape[];
}

/** The level with the clocks of its machines at some moment of a rehearsal, or at the start. */
export function pictureOf(level: Level, clocks: ReadonlyMap<string, number> = new Map()): Picture {
  const plan = planOf(level);
  const { courses, volumes, volumeOf } = plan;
  const machines = new Map([...courses].map(([id, course]) => [id, { clock: clocks.get(id) ?? course.starts }]));
  const state = { machines } as unknown as World;
  return {
    shape: (id) => {
      const number = volumeOf.get(id);
      return number === undefined ? null : shapeOf(plan, state, number);
    },
    positions: (id) => {
      const course = courses.get(id);
      if (course === undefined) return [];
      const { shape } = volumes[volumeOf.get(id)!]!;
      return course.frames.map((_frame, clock) => transformed(shape, ownTransform(course, clock)));
    },
  };
}
