import { pointOf } from '../../document/points';
import { isBodied, kindOfFixture, shapeOfFixture } from '../../kinds/fixtures';
import type { Bodied, Fixture } from '../../kinds/fixtures';
import type { Visitor } from '../../document/people';
import type { Zone } from '../../document/places';
import { Grid, footprint as footprintOf } from '../../space/grid';
import { bodyAt, zoneAt } from '../../space/shapes';
import type { Shape } from '../../space/shapes';
import { overlaps } from '../../space/overlap';
import type { Journey, Place } from '../../vocabulary/places';
import type { Vector } from '../../vocabulary/quantities';
import { blocksNear, within } from './blocks';
import type { WarningRule, CheckContext, Warning } from './warning';
import { roundTo } from '../../vocabulary/rounding';

interface Arrival {
  /** Whose it is: a chain with a step, or a passage. */
  thing: string;
  path: string;
  /** Where the place stands in its thing. */
  own: string;
  to: Place;
  journey: Pick<Journey, 'arrival' | 'velocity' | 'arrivesFacing'>;
  /** The room that one comes from. */
  room: string;
  warps: boolean;
  /** What takes visitors there: the thing that the event comes from, or the passage itself. */
  from: string[];
}

/** Every place that visitors are put. */
function arrivals(look: CheckContext): Arrival[] {
  const found: Arrival[] = [];
  for (const { chain, step, own, path } of look.steps) {
    if (step.kind !== 'teleport' && step.kind !== 'warp') continue;
    const from = chain.causes.map(({ of }) => of);
    const room = from
      .map((id) => (look.things.get(id)?.thing as { room?: string } | undefined)?.room)
      .find((one) => one !== undefined);
    const warps = step.kind === 'warp';
    found.push({
      thing: chain.id,
      path: `${path}/to`,
      own: `${own}/to`,
      to: step.to,
      journey: step,
      room: room ?? look.level.rooms[0]?.id ?? '',
      warps,
      from,
    });
  }
  look.level.fixtures.forEach((one, at) => {
    const takes = kindOfFixture(one.kind).takes?.(one);
    if (takes === undefined || !('takes' in one) || one.takes === 'nobody') return;
    found.push({
      thing: one.id,
      path: `/fixtures/${at}/to`,
      own: '/to',
      to: takes.to,
      journey: takes,
      room: one.room,
      warps: takes.toAnotherRoom,
      from: [one.id],
    });
  });
  return found;
}

function footprint(look: CheckContext): Visitor['body'] {
  return look.once(look.level.visitors, 'player', (visitors) => {
    const player = visitors.find(({ kind }) => kind === 'player') ?? visitors[0];
    return player?.body ?? { kind: 'box', size: { x: 0.5, y: 0.5, z: 1.8 } };
  });
}

/** The solid that a body would stand in, if there is one; a passage does not stand in its own way. */
function standsIn(look: CheckContext, body: Shape, room: string, from: readonly string[]): { id: string; top: number } | null {
  const found = blocksNear(look, room, body).find((one) => !from.includes(one.id) && overlaps(body, one.shape));
  return found === undefined ? null : { id: found.id, top: found.at.z + found.size.z };
}

/** Why nobody can stand well at a point, in words; what mends it, in words and as another point; null if one can. */
function badSpot(
  look: CheckContext,
  at: Vector,
  room: string,
  grounded: boolean,
  from: readonly string[] = [],
): { why: string; mend: string; better: Vector | 'ground' } | null {
  const own = look.level.rooms.find(({ id }) => id === room);
  if (own === undefined) return null;
  const { west, east, south, north } = own.extents;
  if (at.x < west || at.x > east || at.y < south || at.y > north) {
    const better = { ...at, x: within(at.x, west, east), y: within(at.y, south, north) };
    return { why: `outside of ${look.name(room)}`, mend: `Move it into ${look.name(room)}.`, better };
  }
  const z = grounded ? Math.max(at.z, own.ground) : at.z;
  // A little above the ground, so that standing on something is not standing in it.
  const inside = standsIn(look, bodyAt(footprint(look), { ...at, z: z + 0.02 }), room, from);
  if (inside !== null) {
    const name = look.name(inside.id);
    return { why: `inside of ${name}`, mend: `Let it be on top of ${name}.`, better: { ...at, z: inside.top } };
  }
  if (grounded || z <= own.ground + look.level.stepHeight + 0.02)
    return z < own.ground - 0.02 ? { why: 'below the ground', ...onTheGround } : null;
  const isHeld = blocksNear(look, room, bodyAt(footprint(look), at)).some(
    (one) =>
      Math.abs(one.at.z + one.size.z - z) <= look.level.stepHeight + 0.02 &&
      overlaps(bodyAt(footprint(look), { ...at, z: one.at.z }), one.shape),
  );
  if (isHeld) return null;
  return { why: `in mid-air, ${Math.round((z - own.ground) * 100) / 100} m above the ground`, ...onTheGround };
}

const onTheGround = { mend: 'Measure its height from the ground.', better: 'ground' as const };

/** A place that leads to another point of its room than it does; null where it is counted along something that is turned. */
function movedTo(to: Place, at: Vector, better: Vector | 'ground'): Place | null {
  if (better === 'ground') return { ...to, z: 0, height: 'ground' };
  const by = { x: better.x - at.x, y: better.y - at.y, z: better.z - at.z };
  if (to.axes === 'own' && (by.x !== 0 || by.y !== 0)) return null;
  return {
    ...to,
    x: roundTo(to.x + by.x, 6),
    y: roundTo(to.y + by.y, 6),
    z: roundTo(to.z + by.z, 6),
    height: by.z === 0 ? to.height : 'datum',
  };
}

/** An arrival inside a solid, in mid-air, or outside of the room. Its mend is an edit where that is all that is wrong. */
export const badArrivals: WarningRule = (look) =>
  arrivals(look).flatMap(({ thing, path, own, to, room, from }): Warning[] => {
    const found = pointOf(look.level, to, room);
    if (found === null) return [];
    const bad = badSpot(look, found.at, found.room, to.height === 'ground', from);
    if (bad === null) return [];
    const { why, mend, better } = bad;
    const place = movedTo(to, found.at, better);
    const then = place === null ? null : pointOf(look.level, place, room);
    const isGood = then !== null && badSpot(look, then.at, then.room, place!.height === 'ground', from) === null;
    return [
      {
        kind: 'bad-arrival',
        weight: 'warning',
        thing,
        also: [],
        path,
        reason: `The destination of ${look.name(thing)} is ${why}.`,
        mend: isGood ? mend : 'Pick another point.',
        edit: isGood ? look.set(thing, own, place) : null,
      },
    ];
  });

/** An arrival inside of a trigger that takes visitors away again, and that fires for who arrives. */
export const sentStraightBack: WarningRule = (look) => {
  const all = arrivals(look);
  const takers = takersOf(look, all);
  return all.flatMap(({ thing, path, own, to, room, journey }): Warning[] => {
    if (journey.arrival !== 'loud') return [];
    const found = pointOf(look.level, to, room);
    if (found === null) return [];
    const body = bodyAt(footprint(look), { ...found.at, z: found.at.z + 0.02 });
    const there = takers.get(found.room);
    const back = there?.grid
      .find(footprintOf(body))
      .sort((a, b) => a - b)
      .map((number) => there.all[number]!)
      .find(({ shape }) => overlaps(body, shape));
    if (back === undefined) return [];
    const quiet = own.replace(/\/to$/, '/arrival');
    return [
      {
        kind: 'sent-straight-back',
        weight: 'warning',
        thing,
        also: [back.thing],
        path,
        reason: `${look.name(thing)} sends visitors into the trigger of ${look.name(back.thing)}, which sends them away again.`,
        mend: 'Make the arrival quiet.',
        edit: look.set(thing, quiet, 'quiet'),
      },
    ];
  });
};

/** What takes visitors elsewhere when it is entered, by room and by where it stands, with whose it is; each once. */
function takersOf(
  look: CheckContext,
  all: readonly Arrival[],
): Map<string, { grid: Grid; all: { thing: string; shape: Shape }[] }> {
  const rooms = new Map<string, { grid: Grid; all: { thing: string; shape: Shape }[] }>();
  const seen = new Set<string>();
  for (const { thing, from } of all)
    for (const id of from) {
      if (seen.has(id)) continue;
      seen.add(id);
      const found = look.things.get(id);
      const one = found?.thing as Zone | Fixture | undefined;
      let shape: Shape | null = null;
      if (found?.collection === 'zones') shape = zoneAt((one as Zone).shape, one!.at, one!.heading);
      else if (found?.collection === 'fixtures' && isBodied(one as Fixture)) shape = shapeOfFixture(one as Bodied);
      if (shape === null) continue;
      const here = rooms.get(one!.room) ?? { grid: new Grid(), all: [] };
      rooms.set(one!.room, here);
      here.grid.add(here.all.length, footprintOf(shape));
      here.all.push({ thing, shape });
    }
  return rooms;
}

/** A passage leads to a twin that does not lead back to it. */
export const oneWayTwins: WarningRule = (look) =>
  look.level.fixtures.flatMap((one, at): Warning[] => {
    if (!('twin' in one) || one.twin === '') return [];
    const twin = look.things.get(one.twin)?.thing as Fixture | undefined;
    if (twin === undefined || !('twin' in twin) || twin.twin === one.id) return [];
    return [
      {
        kind: 'one-way-twin',
        weight: 'remark',
        thing: one.id,
        also: [twin.id],
        path: `/fixtures/${at}/twin`,
        reason: `${look.name(one.id)} leads to ${look.name(twin.id)}, which does not lead back to it.`,
        mend: `Let ${look.name(twin.id)} lead back.`,
        edit: look.set(twin.id, '/twin', one.id),
      },
    ];
  });

/** A passage whose destination was never set. */
export const unsetTargets: WarningRule = (look) =>
  arrivals(look).flatMap(({ thing, path, to, warps }): Warning[] => {
    const unset = to.of === '' && to.x === 0 && to.y === 0 && to.z === 0 && (!warps || to.room === '');
    if (!unset) return [];
    return [
      {
        kind: 'unset-target',
        weight: warps ? 'warning' : 'remark',
        thing,
        also: [],
        path,
        reason: `${look.name(thing)} has no destination and leads to the room origin.`,
        mend: 'Pick the point where visitors come out.',
        edit: null,
      },
    ];
  });

/** Somebody who does not travel between rooms would be left behind by a warp. */
export const leftBehind: WarningRule = (look) => {
  const stay = look.level.visitors.filter(({ travels, kind }) => !travels && kind === 'player');
  if (stay.length === 0) return [];
  const [first] = arrivals(look).filter(({ warps }) => warps);
  if (first === undefined) return [];
  return stay.map((one) => ({
    kind: 'left-behind',
    weight: 'warning' as const,
    thing: one.id,
    also: [first.thing],
    path: look.pathOf(one.id),
    reason: `${look.name(one.id)} does not travel between rooms, so ${look.name(first.thing)} leaves it behind.`,
    mend: 'Let them travel.',
    edit: look.set(one.id, '/travels', true),
  }));
};

/** Visitors keep their velocity through a passage, and skid on. */
export const skidsOn: WarningRule = (look) =>
  arrivals(look).flatMap(({ thing, path, own, journey }): Warning[] =>
    journey.velocity !== 'keep'
      ? []
      : [
          {
            kind: 'skids-on',
            weight: journey.arrivesFacing === 'keep' ? 'warning' : 'remark',
            thing,
            also: [],
            path,
            reason: `Visitors keep their velocity and heading after ${look.name(thing)}.`,
            mend: 'Make them arrive at rest, unless this is intended.',
            edit: look.set(thing, own.replace(/\/to$/, '/velocity'), 'stop'),
          },
        ],
  );

/** A point of a walk outside of the room, or inside of something solid. */
export const unreachablePoints: WarningRule = (look) =>
  look.level.walks.flatMap((walk, w) =>
    walk.routes.flatMap((route, r) => {
      const found = look.things.get(route.visitor);
      if (found?.collection !== 'visitors') return [];
      const visitor = found.thing as Visitor;
      return route.instructions.flatMap((one, i): Warning[] => {
        if (one.do !== 'go-to' || one.to.of !== '') return [];
        const own = look.level.rooms.find(({ id }) => id === (one.to.room === '' ? visitor.room : one.to.room));
        if (own === undefined) return [];
        const { west, east, south, north } = own.extents;
        const inside = { ...one.to, x: within(one.to.x, west, east), y: within(one.to.y, south, north) };
        if (one.to.x >= west && one.to.x <= east && one.to.y >= south && one.to.y <= north) return [];
        return [
          {
            kind: 'unreachable-point',
            weight: 'warning',
            thing: walk.id,
            also: [visitor.id],
            path: `/walks/${w}/routes/${r}/instructions/${i}`,
            reason: `In ${look.name(walk.id)}, point ${i + 1} of ${look.name(visitor.id)} is outside of ${look.name(own.id)}.`,
            mend: 'Move the point inside.',
            edit: look.set(walk.id, `/routes/${r}/instructions/${i}/to`, inside),
          },
        ];
      });
    }),
  );
