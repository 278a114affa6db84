import { BOX, bodyAt, boxAt, isBodied, isMachine, kindOfFixture, poseSnapshot, reachX, reachY, tidy } from '@nettlewick/core';
import type { Fixture, Level, Shape, Thing, Visitor } from '@nettlewick/core';
import { looksOf } from './figures';
import type { Moment } from './figures';
import type { Facing, SectionScale } from './section-view';
import type { Slab } from './slabs';

/** A room as it is looked at from the side. */
export interface SectionProjection {
  level: Level;
  room: string;
  moment: Moment | null;
  scale: SectionScale;
  facing: Facing;
  /** From where on the room is seen, along the axis that is looked along, in metres; null for all of it. */
  cut: number | null;
}

/** Something that stands in a room, and how it is drawn. */
export interface Standing {
  thing: Thing;
  shape: Shape;
  manner: () => string;
  /** What is drawn within its outline. */
  lines: string;
  /** Where it goes, if it does. */
  positions: (() => readonly Shape[]) | undefined;
}

/** How large something without a body is drawn where its kind does not say, in metres. */
const unseen = { x: 0.3, y: 0.3, z: 0.3 };

/** The things of a room that are wanted; `preview` has some as they would be. Nothing of it depends on what is in view. */
export function standing(
  { level, room, moment }: Pick<SectionProjection, 'level' | 'room' | 'moment'>,
  wanted: (id: string) => boolean,
  preview: ReadonlyMap<string, Thing>,
): Standing[] {
  const picture = poseSnapshot(level, moment?.doors ?? new Map(), preview);
  const found: Standing[] = [];
  const add = (thing: Thing, shape: Shape | null, manner: () => string, lines = '', positions?: Standing['positions']): void => {
    if (shape !== null) found.push({ thing, shape, manner, lines, positions });
  };
  const now = <T extends Thing>(thing: T): T => (preview.get(thing.id) as T | undefined) ?? thing;
  const here = (thing: { id: string; room: string }): boolean => wanted(thing.id) && thing.room === room;
  for (const zone of level.zones) if (here(zone)) add(zone, picture.shape(zone.id), () => (zone.enabled ? 'zone' : 'zone off'));
  for (const one of level.solids) {
    if (!here(one)) continue;
    const solid = now(one);
    add(solid, boxAt(solid.at, solid.size, solid.heading), () => 'solid');
  }
  for (const one of level.fixtures) {
    if (!here(one)) continue;
    const fixture = now(one);
    const { side: drawn } = kindOfFixture(fixture.kind);
    const manner = (): string => mannerOf(fixture, moment);
    if (!isBodied(fixture)) {
      add(fixture, boxAt(fixture.at, drawn.size ?? unseen, fixture.heading), manner, drawn.lines);
      continue;
    }
    const positions = isMachine(fixture) ? () => picture.positions(fixture.id) : undefined;
    add(fixture, picture.shape(fixture.id), manner, drawn.lines, positions);
  }
  for (const one of level.visitors) {
    if (!here({ id: one.id, room: moment?.rooms.get(one.id) ?? one.room })) continue;
    const visitor = now<Visitor>(one);
    add(visitor, bodyAt(visitor.body, moment?.visitors.get(visitor.id) ?? visitor.at), () => 'visitor');
  }
  return found;
}

/** At most so many of them: those that are nearest to whoever looks, in the order in which they came. */
export function nearest(side: SectionProjection, all: readonly Standing[], most: number): readonly Standing[] {
  if (all.length <= most) return all;
  const depth = (one: Standing): number => depthOf(side, one.shape);
  const last = all.map(depth).sort((a, b) => a - b)[most - 1]!;
  return all.filter((one) => depth(one) <= last).slice(0, most);
}

/** Something as it is drawn; `chosen`: selected. */
export function slabOf(side: SectionProjection, { thing, shape, manner, positions, lines }: Standing, chosen: boolean): Slab {
  const name = thing.name.trim();
  return {
    id: thing.id,
    name,
    manner: manner(),
    chosen,
    widens: ('size' in thing || 'shape' in thing) && (shape.form !== BOX || shape.cos === 0 || shape.sin === 0),
    ...rectangle(side, shape),
    ways: positions === undefined ? [] : waysOf(side, thing.id, positions(), 'stops' in thing),
    lines,
    label: `${name}, from ${tidy(shape.z)} m to ${tidy(shape.z + shape.height)} m`,
  };
}

function mannerOf(fixture: Fixture, moment: Moment | null): string {
  const { shown, solid, seeThrough } = looksOf(fixture, moment);
  return `fixture${shown ? '' : ' hidden'}${solid ? ' firm' : ''}${seeThrough ? ' glass' : ''}`;
}

function waysOf(side: SectionProjection, id: string, positions: readonly Shape[], stops: boolean): Slab['ways'] {
  return positions.map((shape, at) => ({
    key: `${id} ${at}`,
    grip: stops ? { part: 'stop' as const, at } : { part: 'travel' as const },
    ...rectangle(side, shape),
    label: stops ? `stop ${at + 1}, ${tidy(shape.z)} m` : at === 0 ? '' : `${tidy(shape.z)} m`,
  }));
}

/** Whether something stands in the stretch that is in view, and reaches beyond the line that the section is taken along. */
export function isInView(side: SectionProjection, { shape }: Standing): boolean {
  const { x, width } = rectangle(side, shape);
  if (x + width < 0 || x > side.scale.width) return false;
  return side.cut === null || depthOf(side, shape) + halves(side, shape).deep > side.cut * awayOf(side);
}

/** How far away something stands from whoever looks, in metres from the zero of the room. */
function depthOf(side: SectionProjection, { x, y }: Shape): number {
  return (side.scale.alongEast ? y : x) * awayOf(side);
}

/** Which side of the axis that is looked along lies farther away. */
function awayOf({ facing }: SectionProjection): -1 | 1 {
  return facing === 'north' || facing === 'east' ? 1 : -1;
}

/** Half of how broad, and half of how deep a shape is seen, in metres. */
function halves({ scale }: SectionProjection, shape: Shape): { broad: number; deep: number } {
  const [x, y] = [reachX(shape), reachY(shape)];
  return scale.alongEast ? { broad: x, deep: y } : { broad: y, deep: x };
}

function rectangle(side: SectionProjection, shape: Shape): Pick<Slab, 'x' | 'y' | 'width' | 'height'> {
  const { across, up, scale, alongEast } = side.scale;
  const { x, y, z, height } = shape;
  const { broad } = halves(side, shape);
  const middle = across(alongEast ? x : y);
  return { x: middle - broad * scale, y: up(z + height), width: 2 * broad * scale, height: Math.max(2, height * scale) };
}
