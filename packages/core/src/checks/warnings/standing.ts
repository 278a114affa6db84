import { footprint } from '../../space/grid';
import type { Footprint } from '../../space/grid';
import { overlaps } from '../../space/overlap';
import { bodyAt, zoneAt } from '../../space/shapes';
import type { Shape } from '../../space/shapes';
import { blocksNear, within } from './blocks';
import type { Block } from './blocks';
import type { CheckContext, Warning, WarningRule } from './warning';

/** Where things stand at the start: visitors in the middle of something, areas in which nobody can be. */

/** A visitor that begins in the middle of something solid, outside of its room, or below its ground. */
export const startsWhereNobodyCan: WarningRule = function* (look) {
  for (const { id, room, at, body, inPlay } of look.level.visitors) {
    const own = look.things.get(room)?.thing as CheckContext['level']['rooms'][number] | undefined;
    if (own === undefined || !('extents' in own) || !inPlay) continue;
    const path = `${look.pathOf(id)}/at`;
    const said = { kind: 'starts-where-nobody-can', weight: 'warning' as const, thing: id, path };
    const { west, east, south, north } = own.extents;
    if (at.x < west || at.x > east || at.y < south || at.y > north) {
      yield {
        ...said,
        also: [room],
        reason: `${look.name(id)} starts outside of ${look.name(room)}.`,
        mend: `Put it into ${look.name(room)}.`,
        edit: look.set(id, '/at', { ...at, x: within(at.x, west, east), y: within(at.y, south, north) }),
      };
      continue;
    }
    if (at.z < own.ground - 0.02) {
      yield {
        ...said,
        also: [room],
        reason: `${look.name(id)} starts ${brief(own.ground - at.z)} below the ground of ${look.name(room)}.`,
        mend: 'Put it on the ground.',
        edit: look.set(id, '/at', { ...at, z: own.ground }),
      };
      continue;
    }
    // A little above the ground, so that standing on something is not standing in it.
    const standing = bodyAt(body, { ...at, z: at.z + 0.02 });
    const inside = blocksNear(look, room, standing).find(({ shape, isFixed }) => isFixed && overlaps(standing, shape));
    if (inside === undefined) continue;
    yield {
      ...said,
      also: [inside.id],
      reason: `${look.name(id)} starts inside of ${look.name(inside.id)}.`,
      mend: `Put it beside ${look.name(inside.id)}.`,
      edit: null,
    };
  }
};

const brief = (metres: number): string => `${Math.round(metres * 100) / 100} m`;

/** An area that somebody is waited for in, and that lies below the ground, outside of its room, or wholly inside of something solid. */
export const nobodyCanBeIn: WarningRule = function* (look) {
  for (const zone of look.level.zones) {
    const [heard] = look.causesOf(zone.id);
    if (heard === undefined || zone.attachedTo !== '') continue;
    const own = look.level.rooms.find(({ id }) => id === zone.room);
    if (own === undefined) continue;
    const shape = zoneAt(zone.shape, zone.at, zone.heading);
    const box = footprint(shape);
    const { west, east, south, north } = own.extents;
    const top = shape.z + shape.height;
    const said = (reason: string, mend: string, edit: Warning['edit'], also: string[]): Warning => ({
      kind: 'nobody-can-be-in',
      weight: 'warning',
      thing: zone.id,
      also: [heard.chain.id, ...also],
      path: `${look.pathOf(zone.id)}/at`,
      reason: `Nobody can be in ${look.name(zone.id)}: ${reason}.`,
      mend,
      edit,
    });
    if (box.east < west || box.west > east || box.north < south || box.south > north)
      yield said(`it lies outside of ${look.name(own.id)}`, `Put it into ${look.name(own.id)}.`, null, []);
    else if (top <= own.ground)
      yield said(
        `it ends ${brief(own.ground - top)} below the ground`,
        'Put it on the ground.',
        look.set(zone.id, '/at', { ...zone.at, z: zone.at.z + own.ground - shape.z }),
        [],
      );
    else {
      const around = blocksNear(look, zone.room, shape).find((block) => holds(block, box, shape));
      if (around !== undefined)
        yield said(`it lies inside of ${look.name(around.id)}`, `Put it beside ${look.name(around.id)}.`, null, [around.id]);
    }
  }
};

/** Whether a block holds the whole of a shape, by the box around that. */
function holds({ at, size, heading, isFixed }: Block, box: Footprint, shape: Shape): boolean {
  if (!isFixed || heading % 90 !== 0) return false;
  const [x, y] = heading % 180 === 0 ? [size.x / 2, size.y / 2] : [size.y / 2, size.x / 2];
  return (
    at.x - x <= box.west &&
    at.x + x >= box.east &&
    at.y - y <= box.south &&
    at.y + y >= box.north &&
    at.z <= shape.z &&
    at.z + size.z >= shape.z + shape.height
  );
}

/** Nobody is there when a rehearsal begins, and nothing brings anybody. */
export const nobodyInPlay: WarningRule = function* (look) {
  const [first] = look.level.visitors;
  if (first === undefined || look.level.chains.length === 0) return;
  if (look.level.visitors.some(({ id, inPlay }) => inPlay || look.stepsOn(id, ['spawn']).length > 0)) return;
  yield {
    kind: 'nobody-in-play',
    weight: 'warning',
    thing: first.id,
    also: [],
    path: `${look.pathOf(first.id)}/inPlay`,
    reason: 'No visitor is in play at the start, and no step spawns one, so nothing can happen.',
    mend: `Put ${look.name(first.id)} in play.`,
    edit: look.set(first.id, '/inPlay', true),
  };
};
