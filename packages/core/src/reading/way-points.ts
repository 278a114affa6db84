import type { Level } from '../document/level';
import { lookup } from '../document/lookup';
import { pointOf } from '../document/points';
import type { Visitor } from '../document/people';
import type { Walk } from '../document/walks';
import { valuesAt, vectorOf } from '../ledger/tracks';
import type { Vector } from '../vocabulary/quantities';
import type { Run } from './approach';

/** A visitor within this distance of a waypoint has arrived at it, in metres. */
const ARRIVAL_TOLERANCE_M = 0.02;

/** What became of one way point of a walk in its run. */
export interface WayPoint {
  /** The instruction that says to go there. */
  instruction: string;
  /** When the visitor came there; null if it never did. */
  seconds: number | null;
  /** How fast it went on its way there, in metres a second; null if it never came, or had no way to go. */
  speed: number | null;
  /** What stopped it instead, by its id; null for nothing. */
  stoppedBy: string | null;
}

/**
 * When each way point of a walk was come to in its run, and what stopped whoever never came. Way points that are counted from something that
 * moves are left out where nobody arrived at them as they are at the start.
 */
export function wayPointsOf(level: Level, run: Run, walk: Walk): WayPoint[] {
  const entries = [...run.ledger];
  return walk.routes.flatMap(({ visitor: id, instructions }) => {
    const visitor = lookup(level).get(id)?.thing as Visitor | undefined;
    if (visitor === undefined) return [];
    // What a visitor arrives at by itself has no cause.
    const arrivals = entries.filter(({ kind, what, cause }) => kind === 'arrived' && what === id && cause === null);
    const stops = entries.filter(({ kind, who, what }) => kind === 'blocked' && who === id && what !== null);
    let next = 0;
    let since = 0;
    return instructions.flatMap((one): WayPoint[] => {
      const point = one.do === 'go-to' ? pointOf(level, one.to, visitor.room) : null;
      if (one.do !== 'go-to' || point === null) return [];
      const at = arrivals.findIndex(({ tick }, i) => i >= next && isNear(whereAt(run, visitor, tick), point.at));
      if (at < 0) {
        if (one.to.of !== '' && one.to.of !== id) return [];
        const stop = stops.find(({ tick }) => tick >= since);
        return [{ instruction: one.id, seconds: null, speed: null, stoppedBy: stop?.what ?? null }];
      }
      const { tick, seconds } = arrivals[at]!;
      const took = (tick - since) / level.rate;
      const far = wayBetween(run, visitor, since, tick);
      next = at + 1;
      since = tick;
      return [{ instruction: one.id, seconds, speed: took > 0 && far > 0 ? far / took : null, stoppedBy: null }];
    });
  });
}

/** A visitor that was put elsewhere at once, or a prop that flew: from where to where, in one room. */
export interface Leap {
  visitor: string;
  kind: 'put' | 'thrown';
  tick: number;
  room: string;
  from: Vector;
  to: Vector;
}

/** Who was put elsewhere in its own room, and what was thrown and where it came down. */
export function leapsOf(level: Level, run: Run): Leap[] {
  const entries = [...run.ledger];
  const visitorOf = (id: string | null): Visitor | undefined => level.visitors.find((one) => one.id === id);
  return entries.flatMap((entry): Leap[] => {
    const visitor = visitorOf(entry.what);
    if (visitor === undefined) return [];
    const { tick } = entry;
    const room = run.tracks.rooms.get(visitor.id)?.findLast((stay) => stay.tick <= tick)?.room ?? visitor.room;
    if (room === null) return [];
    if (entry.kind === 'teleported')
      return [
        {
          visitor: visitor.id,
          kind: 'put',
          tick,
          room,
          from: whereAt(run, visitor, Math.max(0, tick - 1)),
          to: whereAt(run, visitor, tick),
        },
      ];
    if (entry.kind !== 'use' || entry.details.use !== 'throw') return [];
    const landed = entries.find((one) => one.number > entry.number && one.kind === 'arrived' && one.what === visitor.id);
    const until = landed?.tick ?? run.ticks;
    return [
      { visitor: visitor.id, kind: 'thrown', tick, room, from: whereAt(run, visitor, tick), to: whereAt(run, visitor, until) },
    ];
  });
}

function whereAt(run: Run, visitor: Visitor, tick: number): Vector {
  const track = run.tracks.visitors.get(visitor.id);
  return track === undefined ? visitor.at : vectorOf(valuesAt(track, tick));
}

function isNear(a: Vector, b: Vector): boolean {
  return Math.hypot(a.x - b.x, a.y - b.y) <= ARRIVAL_TOLERANCE_M;
}

/** How far a visitor went between two ticks, along its way on the ground. */
function wayBetween(run: Run, visitor: Visitor, from: number, to: number): number {
  let far = 0;
  let before = whereAt(run, visitor, from);
  for (let tick = from + 1; tick <= to; tick++) {
    const now = whereAt(run, visitor, tick);
    far += Math.hypot(now.x - before.x, now.y - before.y);
    before = now;
  }
  return far;
}
