import { eased } from '../../kinds/fixtures';
import { direction } from '../../space/headings';
import { moved } from '../../space/shapes';
import type { Shape } from '../../space/shapes';
import type { MotionPath } from './courses';
import type { CompiledLevel, Volume } from './plan';
import type { VisitorState, World } from './world';

/** A turn about the vertical and then a shift: p goes to (cos x - sin y + x0, sin x + cos y + y0, z + z0). */
export interface Transform {
  turn: number;
  cos: number;
  sin: number;
  x: number;
  y: number;
  z: number;
}

const still: Transform = { turn: 0, cos: 1, sin: 0, x: 0, y: 0, z: 0 };

/** Where a machine's clock stands: which of its positions it has passed, and how it lies between them. */
export function ownTransform({ frames, pivot, machine }: MotionPath, clock: number): Transform {
  const last = frames.length - 1;
  const before = Math.min(Math.floor(clock), last);
  const a = frames[before]!;
  const b = frames[Math.min(before + 1, last)]!;
  const share = eased(machine.easing, clock - before);
  const turn = a.turn + (b.turn - a.turn) * share;
  const by = {
    x: a.by.x + (b.by.x - a.by.x) * share,
    y: a.by.y + (b.by.y - a.by.y) * share,
    z: a.by.z + (b.by.z - a.by.z) * share,
  };
  if (turn === 0) return { turn: 0, cos: 1, sin: 0, ...by };
  const { cos, sin } = direction(turn);
  return {
    turn,
    cos,
    sin,
    x: pivot.x - (pivot.x * cos - pivot.y * sin) + by.x,
    y: pivot.y - (pivot.x * sin + pivot.y * cos) + by.y,
    z: by.z,
  };
}

/** The first transform and then the second. */
function then(first: Transform, second: Transform): Transform {
  if (second === still) return first;
  if (first === still) return second;
  const turn = first.turn + second.turn;
  const { cos, sin } = turn === 0 ? still : direction(turn);
  return {
    turn,
    cos,
    sin,
    x: first.x * second.cos - first.y * second.sin + second.x,
    y: first.x * second.sin + first.y * second.cos + second.y,
    z: first.z + second.z,
  };
}

/** How a fixture, and what is attached to it, is moved from where the document has it, while the clocks of machines stand so. */
export function transformOf(
  { fixtures, courses }: { fixtures: Pick<CompiledLevel['fixtures'], 'get'>; courses: Pick<CompiledLevel['courses'], 'get'> },
  fixtureId: string,
  clockOf: (machine: string) => number,
): Transform {
  let transform = still;
  let at = fixtures.get(fixtureId);
  for (let depth = 0; at !== undefined && depth < 1000; depth++) {
    const course = courses.get(at.id);
    if (course !== undefined) transform = then(transform, ownTransform(course, clockOf(at.id)));
    at = at.attachedTo === '' ? undefined : fixtures.get(at.attachedTo);
  }
  return transform;
}

/** A shape moved by a transform. */
export function transformed(shape: Shape, { turn, cos, sin, x, y, z }: Transform): Shape {
  if (turn === 0) return moved(shape, shape.x + x, shape.y + y, shape.z + z);
  // The heading of what is turned is turned too: by the sums for angles.
  return {
    ...shape,
    x: shape.x * cos - shape.y * sin + x,
    y: shape.x * sin + shape.y * cos + y,
    z: shape.z + z,
    cos: shape.cos * cos - shape.sin * sin,
    sin: shape.sin * cos + shape.cos * sin,
  };
}

/** Where a volume is now. */
export function shapeOf(plan: CompiledLevel, state: World, number: number): Shape {
  return posed(plan, state, number, 'clock');
}

/** Where a volume was at the last Sense. */
export function sensedShapeOf(plan: CompiledLevel, state: World, number: number): Shape {
  return posed(plan, state, number, 'sensedClock');
}

function posed(plan: CompiledLevel, { machines }: World, number: number, which: 'clock' | 'sensedClock'): Shape {
  const volume = plan.volumes[number]!;
  if (volume.movedBy === null) return volume.shape;
  const { over } = volume;
  const course = over[0]!;
  if (over.length === 1) return posedBy(volume, course, machines.get(course.machine.id)![which]);
  return transformed(
    volume.shape,
    transformOf(plan, volume.movedBy!, (id) => machines.get(id)![which]),
  );
}

/** Where a volume that one machine moves is while its clock stands so. */
function posedBy({ known, shape }: Volume, course: MotionPath, clock: number): Shape {
  const [last, before] = known;
  if (last !== undefined && last.clock === clock) return last.shape;
  if (before !== undefined && before.clock === clock) return before.shape;
  const posed = { clock, shape: transformed(shape, ownTransform(course, clock)) };
  if (last !== undefined) known[1] = last;
  known[0] = posed;
  return posed.shape;
}

/** Whether a volume is there for bodies to meet: a machine that vanishes is gone in its last position. */
export function isThere(plan: CompiledLevel, state: World, number: number): boolean {
  const { id, vanishes } = plan.volumes[number]!;
  return !vanishes || state.machines.get(id)!.clock !== plan.courses.get(id)!.frames.length - 1;
}

/** Whether a volume blocks and holds this visitor now: what is solid lets some through. */
export function isSolidFor(plan: CompiledLevel, state: World, number: number, visitor: VisitorState): boolean {
  return isSolid(plan, state, number) && !letsThrough(plan, state, number, visitor);
}

/** Whether a volume is passable for this visitor, be it solid or not. */
export function isPassableFor(plan: CompiledLevel, state: World, number: number, visitor: VisitorState): boolean {
  return state.solid[number] !== true || letsThrough(plan, state, number, visitor);
}

function letsThrough(plan: CompiledLevel, state: World, number: number, { id, order }: VisitorState): boolean {
  const volume = plan.volumes[number]!;
  const { lets } = volume;
  return lets !== null && (lets.tagged.has(order) || (lets.owner && state.owners.get(volume.id) === id));
}

/** Whether a volume blocks and holds bodies now. */
export function isSolid(plan: CompiledLevel, state: World, number: number): boolean {
  return state.solid[number] === true && isThere(plan, state, number);
}
