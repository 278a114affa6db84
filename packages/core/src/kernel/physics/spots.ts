import type { Place } from '../../vocabulary/places';
import type { Solid } from '../../document/places';
import type { Vector } from '../../vocabulary/quantities';
import { direction } from '../../space/headings';
import { shapeOf, transformOf } from '../state/poses';
import type { WorldContext, ReportingContext } from '../state/context';
import { locate } from './sleep';
import { surfaceAt } from './standing';
import type { VisitorState } from '../state/world';

/** A place found: its room, its point, and the heading of the thing it is relative to, if it is. */
export interface ResolvedPlace {
  room: string;
  at: Vector;
  heading: number | null;
}

/** Where a place is now, for a visitor; null if it is relative to something that is not there, or in no room. */
export function spotOf(ctx: ReportingContext, place: Place, visitor: VisitorState): ResolvedPlace | null {
  const base = place.of === '' ? null : standOf(ctx, place.of);
  if (place.of !== '' && base === null) return null;
  const room = base?.room ?? (place.room === '' ? visitor.room : place.room);
  const own = ctx.plan.rooms.get(room);
  if (own === undefined) return null;
  let { x, y, z } = place;
  if (base !== null) {
    const { cos, sin } = place.axes === 'own' ? direction(base.heading) : { cos: 1, sin: 0 };
    [x, y, z] = [base.at.x + place.x * cos - place.y * sin, base.at.y + place.x * sin + place.y * cos, base.at.z + place.z];
  }
  if (place.height === 'ground') {
    const below = base === null ? Infinity : base.at.z;
    z = (surfaceAt(ctx, room, x, y, below) ?? own.ground) + place.z;
  }
  return { room, at: { x, y, z }, heading: base?.heading ?? null };
}

/** Where a thing stands now: a visitor's feet, the middle of the base of anything else (of a ball its middle). */
export function standOf(ctx: ReportingContext, id: string): { room: string; at: Vector; heading: number } | null {
  const { plan, state } = ctx;
  const found = plan.things.get(id);
  switch (found?.collection) {
    case 'visitors': {
      const visitor = state.visitors[plan.visitorOf.get(id)!]!;
      locate(ctx, visitor);
      return { room: visitor.room, at: visitor.at, heading: visitor.heading };
    }
    case 'solids': {
      const { room, at, heading } = found.thing as Solid;
      return { room, at, heading };
    }
    case 'zones':
    case 'fixtures': {
      const thing = found.thing as { room: string; at: Vector; heading: number; attachedTo: string };
      const number = plan.volumeOf.get(id);
      const movedBy = number === undefined ? thing.attachedTo : (plan.volumes[number]!.movedBy ?? '');
      if (movedBy === '') return thing;
      const { turn, cos, sin, x, y, z } = transformOf(plan, movedBy, (id) => state.machines.get(id)!.clock);
      const at = { x: thing.at.x * cos - thing.at.y * sin + x, y: thing.at.x * sin + thing.at.y * cos + y, z: thing.at.z + z };
      return { room: thing.room, at, heading: thing.heading + turn };
    }
    default:
      return null;
  }
}

/** The middle of a volume in space. */
export function middleOf({ plan, state }: WorldContext, number: number): Vector {
  const { x, y, z, height } = shapeOf(plan, state, number);
  return { x, y, z: z + height / 2 };
}
