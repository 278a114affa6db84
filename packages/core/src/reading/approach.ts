import type { Level } from '../document/level';
import { shapeOfThing } from '../document/shapes';
import { lookup } from '../document/lookup';
import type { Visitor } from '../document/people';
import type { Ledger } from '../ledger/ledger';
import { valuesAt, vectorOf } from '../ledger/tracks';
import type { Tracks } from '../ledger/tracks';
import { gap } from '../space/overlap';
import { bodyAt } from '../space/shapes';
import type { Shape } from '../space/shapes';

/** What is known of a run: its ledger and its tracks. */
export interface Run {
  ledger: Ledger;
  tracks: Tracks;
  /** The last tick. */
  ticks: number;
}

/** Who came nearest to something, how near in metres, and at which tick. */
export interface Approach {
  visitor: string;
  tick: number;
  metres: number;
}

/**
 * The nearest that anybody came to a zone or a fixture in a run, as it stands at the start; null if nobody was ever in its room,
 * 'no place' if it stands nowhere.
 */
export function nearestApproach(level: Level, run: Run, id: string): Approach | null | 'no place' {
  const things = lookup(level);
  const found = things.get(id);
  const shape = shapeOf(level, id);
  if (found === undefined || shape === null) return 'no place';
  const { room } = found.thing as unknown as { room: string };
  let best: Approach | null = null;
  const look = (visitor: Visitor, tick: number, metres: number): void => {
    if (best === null || metres < best.metres - 1e-9) best = { visitor: visitor.id, tick, metres };
  };
  for (const visitor of level.visitors) {
    const track = run.tracks.visitors.get(visitor.id);
    if (track === undefined) {
      if (visitor.room === room) look(visitor, 0, gap(bodyAt(visitor.body, visitor.at), shape));
      continue;
    }
    const stays = run.tracks.rooms.get(visitor.id) ?? [{ tick: 0, room: visitor.room }];
    stays.forEach((stay, i) => {
      if (stay.room !== room) return;
      const until = stays[i + 1]?.tick ?? run.ticks + 1;
      for (let tick = stay.tick; tick < until; tick++)
        look(visitor, tick, gap(bodyAt(visitor.body, vectorOf(valuesAt(track, tick))), shape));
    });
  }
  return best;
}

/**
 * Of what chains listen to, the nearest to a visitor at a tick, as it stands at the start; null if the visitor
 * was out of play, or its room has nothing of the sort.
 */
export function nearestAt(
  level: Level,
  { tracks }: Run,
  visitor: Visitor,
  tick: number,
): { visitor: string; of: string; metres: number } | null {
  const stay = tracks.rooms.get(visitor.id)?.findLast((one) => one.tick <= tick);
  const room = stay === undefined ? visitor.room : stay.room;
  const track = tracks.visitors.get(visitor.id);
  const body = bodyAt(visitor.body, track === undefined ? visitor.at : vectorOf(valuesAt(track, tick)));
  const heard = new Set(level.chains.flatMap(({ causes }) => causes.map(({ of }) => of)));
  let best: { visitor: string; of: string; metres: number } | null = null;
  for (const one of [...level.zones, ...level.fixtures]) {
    if (one.room !== room || !heard.has(one.id)) continue;
    const shape = shapeOf(level, one.id);
    const metres = shape === null ? Infinity : gap(body, shape);
    if (metres < (best?.metres ?? Infinity)) best = { visitor: visitor.id, of: one.id, metres };
  }
  return best;
}

function shapeOf(level: Level, id: string): Shape | null {
  const found = lookup(level).get(id);
  if (found === undefined || (found.collection !== 'zones' && found.collection !== 'fixtures')) return null;
  return shapeOfThing(found.collection, found.thing);
}
