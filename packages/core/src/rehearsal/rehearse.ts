import type { Level } from '../level/level';
import type { Walk } from '../level/people';
import { advanceDoors } from './doors';
import { drain } from './drain';
import type { Details, Entry } from './ledger';
import { planOf } from './plan';
import { write } from './rehearsing';
import type { Rehearsing } from './rehearsing';
import { cycleOf } from './runaway';
import { sense } from './sense';
import { startingState } from './state';
import { ticksOf } from './ticks';
import { note } from './tracks';
import type { Tracks } from './tracks';
import { walkers, walkVisitors } from './walking';

/** What came of a rehearsal. */
export interface Rehearsal {
  walk: string;
  rate: number;
  /** The last tick. */
  ticks: number;
  entries: Entry[];
  tracks: Tracks;
}

/**
 * Runs a walk through a level and keeps the ledger. Pure: the same level and walk give the same ledger, byte for byte.
 *
 * It ends when nothing is left that could happen, when every visitor that still has something to do is blocked for good,
 * when the walk's time is up, or when a tick runs away.
 */
export function rehearse(level: Level, walk: Walk): Rehearsal {
  const rehearsing = begin(level, walk);
  const { state } = rehearsing;
  const last = ticksOf(walk.atMost, level.rate);
  let over: Details | null = tickZero(rehearsing);
  while (over === null) {
    state.tick += 1;
    over = oneTick(rehearsing) ?? whetherOver(rehearsing, last);
  }
  write(rehearsing, { kind: 'end', details: over });
  return { walk: walk.id, rate: level.rate, ticks: state.tick, entries: rehearsing.entries, tracks: rehearsing.tracks };
}

function begin(level: Level, walk: Walk): Rehearsing {
  const plan = planOf(level);
  const tracks: Tracks = { visitors: new Map(), doors: new Map() };
  const rehearsing: Rehearsing = { plan, walk, state: startingState(plan), entries: [], tracks };
  for (const visitor of level.visitors) note(tracks.visitors, visitor.id, 0, [visitor.at.x, visitor.at.y, visitor.at.z]);
  for (const [id, door] of rehearsing.state.doors) note(tracks.doors, id, 0, [door.clock]);
  walk.routes.forEach((route, number) =>
    rehearsing.state.routes.set(route.visitor, { number, at: 0, leg: null, blocked: false }),
  );
  return rehearsing;
}

/** Tick 0: the starting state is there, and Sense finds who starts inside of what. */
function tickZero(rehearsing: Rehearsing): Details | null {
  write(rehearsing, { kind: 'start', what: rehearsing.walk.id });
  sense(rehearsing);
  return drained(rehearsing);
}

/** One tick in its phases. Gives why the rehearsal is over if the tick ran away. */
function oneTick(rehearsing: Rehearsing): Details | null {
  const { state } = rehearsing;
  state.itemsThisTick = 0;

  // Due: what was scheduled for this tick, in the order in which it was scheduled.
  state.queue.push(...(state.schedule.get(state.tick) ?? []));
  state.schedule.delete(state.tick);
  const ranAway = drained(rehearsing);
  if (ranAway !== null) return ranAway;

  // Move: fixtures in motion, then visitors.
  advanceDoors(rehearsing);
  walkVisitors(rehearsing);

  // Sense: overlaps of the new poses, then the plates weigh. A level has no watches yet, so Watch has nothing to ask.
  sense(rehearsing);
  return drained(rehearsing);
}

function drained(rehearsing: Rehearsing): Details | null {
  if (drain(rehearsing)) return null;
  const cycle = cycleOf(rehearsing.plan.level, rehearsing.entries);
  write(rehearsing, {
    kind: 'runaway',
    cause: rehearsing.entries.length,
    details: { items: rehearsing.state.itemsThisTick - 1, cycle },
  });
  return { reason: 'runaway' };
}

/** Why nothing more can happen after this tick, or null if something can. */
function whetherOver(rehearsing: Rehearsing, last: number): Details | null {
  const { state } = rehearsing;
  if (state.schedule.size === 0 && noDoorMoves(rehearsing)) {
    const { busy, stuck } = walkers(rehearsing);
    if (busy.length === 0) return { reason: 'settled' };
    if (stuck) return { reason: 'stuck', who: busy };
  }
  return state.tick >= last ? { reason: 'time is up' } : null;
}

function noDoorMoves({ state }: Rehearsing): boolean {
  for (const door of state.doors.values()) if (door.motion !== null) return false;
  return true;
}
