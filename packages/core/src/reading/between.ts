import { change } from '../document/edits';
import type { Edit } from '../document/edits';
import type { Level } from '../document/level';
import { lookup, nameOf } from '../document/lookup';
import type { Zone } from '../document/places';
import { valuesAt, vectorOf } from '../ledger/tracks';
import { gap, shadowsMeet } from '../space/overlap';
import { TOUCH, bodyAt, boxAt } from '../space/shapes';
import type { Shape } from '../space/shapes';
import { sweep, sweepOnTheGround } from '../space/sweep';
import type { Approach, Run } from './approach';
import { poseSnapshot } from './picture';

/** A visitor stopped within this time of its nearest approach, in seconds, was on its way there. */
const NEARBY_SECONDS = 1;
/** The margin added to a zone that is enlarged, in metres. */
const GROWTH_MARGIN_M = 0.05;
/** The most that enlarging a zone is suggested by, in metres. */
const MAX_GROWTH_M = 2;

/** What kept somebody from what it came nearest to, in words; and the edit that would have let it be reached, if one would. */
export interface Between {
  says: string;
  edit: Edit | null;
}

/** What was between a visitor and a zone or fixture when it came nearest to it: something that stopped it, walls, height. */
export function obstructionsBetween(level: Level, run: Run, { visitor, tick, metres }: Approach, id: string): Between {
  const picture = poseSnapshot(level, clocksAt(run, tick));
  const target = picture.shape(id);
  const who = level.visitors.find((one) => one.id === visitor);
  if (target === null || who === undefined || metres === 0) return { says: '', edit: null };
  const track = run.tracks.visitors.get(visitor);
  const body = bodyAt(who.body, track === undefined ? who.at : vectorOf(valuesAt(track, tick)));
  const stopped = stopNear(level, run, visitor, tick);
  if (stopped !== null) return { says: ` ${stopped} stopped it there.`, edit: null };
  const walls = wallsBetween(level, solidsAt(level, run, tick), picture.shape, body, target, id);
  if (walls.length > 0) return { says: ` Between them: ${walls.slice(0, 3).join(', ')}.`, edit: null };
  const edit = metres < MAX_GROWTH_M ? grown(level, id, body, target) : null;
  const over = body.z - (target.z + target.height);
  const under = target.z - (body.z + body.height);
  if (shadowsMeet(body, target) && over > 0) return { says: ` It passed ${cm(over)} m above it.`, edit };
  if (shadowsMeet(body, target) && under > 0) return { says: ` It passed ${cm(under)} m below it.`, edit };
  return { says: ' Nothing was between them.', edit };
}

/** Where the clocks of the machines stood at a tick. */
function clocksAt({ tracks }: Run, tick: number): Map<string, number> {
  return new Map([...tracks.doors].map(([id, track]) => [id, valuesAt(track, tick)[0]!]));
}

/** The fixtures that are solid at a tick. */
function solidsAt(level: Level, { ledger }: Run, tick: number): Set<string> {
  const solid = new Set(level.fixtures.flatMap((one) => ('solid' in one && one.solid ? [one.id] : [])));
  for (const entry of ledger) {
    if (entry.tick > tick) break;
    if (entry.kind !== 'changed' || entry.details.field !== 'solid' || entry.what === null) continue;
    if (entry.details.to === true) solid.add(entry.what);
    else solid.delete(entry.what);
  }
  return solid;
}

/** The name of what stopped a visitor about then; null if nothing did. */
function stopNear(level: Level, { ledger }: Run, visitor: string, tick: number): string | null {
  for (const entry of ledger) {
    if (entry.kind !== 'blocked' || entry.who !== visitor || entry.what === null) continue;
    if (Math.abs(entry.tick - tick) <= NEARBY_SECONDS * level.rate) return `“${nameOf(level, entry.what).trim()}”`;
  }
  return null;
}

/** The names of what stands solid on the straight way from a body to a shape, and is not stepped over; the nearest first. */
function wallsBetween(
  level: Level,
  solid: ReadonlySet<string>,
  shapeOf: (id: string) => Shape | null,
  body: Shape,
  target: Shape,
  id: string,
): string[] {
  const { room } = lookup(level).get(id)!.thing as unknown as { room: string };
  const [dx, dy] = [target.x - body.x, target.y - body.y];
  const reached = sweepOnTheGround(body, dx, dy, target)?.from ?? 1;
  const found: { name: string; from: number }[] = [];
  const look = (name: string, shape: Shape | null): void => {
    if (shape === null || shape.z + shape.height <= body.z + level.stepHeight + TOUCH) return;
    const from = sweep(body, dx, dy, 0, shape)?.from;
    if (from !== undefined && from < reached) found.push({ name: `“${name.trim()}”`, from });
  };
  for (const one of level.solids) if (one.room === room) look(one.name, boxAt(one.at, one.size, one.heading));
  for (const one of level.fixtures) if (one.room === room && one.id !== id && solid.has(one.id)) look(one.name, shapeOf(one.id));
  return found.sort((a, b) => a.from - b.from).map(({ name }) => name);
}

/** A zone grown evenly until it reaches a body. */
function grown(level: Level, id: string, body: Shape, target: Shape): Edit | null {
  const found = lookup(level).get(id);
  if (found?.collection !== 'zones') return null;
  const zone = found.thing as Zone;
  const up = Math.max(0, body.z - (target.z + target.height));
  const down = Math.max(0, target.z - (body.z + body.height));
  const out = shadowsMeet(body, target) ? 0 : gap({ ...body, z: target.z }, target);
  const more = (by: number): number => (by === 0 ? 0 : by + GROWTH_MARGIN_M);
  const { shape, at } = zone;
  const lower = { ...at, z: cm(at.z - more(down)) };
  switch (shape.kind) {
    case 'box': {
      const { x, y, z } = shape.size;
      const size = { x: cm(x + 2 * more(out)), y: cm(y + 2 * more(out)), z: cm(z + more(up) + more(down)) };
      return change('zones', zone, { at: lower, shape: { ...shape, size } } as Partial<Zone>);
    }
    case 'pillar': {
      const grows = { radius: cm(shape.radius + more(out)), height: cm(shape.height + more(up) + more(down)) };
      return change('zones', zone, { at: lower, shape: { ...shape, ...grows } } as Partial<Zone>);
    }
    case 'ball':
      return change('zones', zone, {
        shape: { ...shape, radius: cm(shape.radius + more(gap(body, target))) },
      } as Partial<Zone>);
  }
}

/** To the centimetre. */
function cm(metres: number): number {
  return Math.round(metres * 100) / 100;
}
