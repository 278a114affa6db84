import type { Level } from '../document/level';
import type { Walk } from '../document/walks';
import { letGo, lookAtAll, start, tellPlaces, tick, verdictIn } from '../kernel';
import type { CompiledLevel, WorldListener, World } from '../kernel';
import { rulePolicy } from '../kernel/state/orders';
import { compileLevel } from '../kernel/state/plan';
import type { DetailsOf, Entry } from '../ledger/entry';
import { Ledger } from '../ledger/ledger';
import type { Tracks } from '../ledger/tracks';
import { answerExpectations } from '../reading/expectations';
import type { ExpectationResult } from '../reading/expectations';
import type { HouseRules } from '../vocabulary/rules';
import { ticksOf } from '../vocabulary/ticks';
import { recordingListener } from './keeping';

/** What came of a rehearsal, as plain data. */
export interface Rehearsed {
  walk: string;
  rate: number;
  /** The last tick. */
  ticks: number;
  readonly entries: Entry[];
  tracks: Tracks;
  /** What became of the walk's expectations, in listing order. */
  expectations: ExpectationResult[];
}

/** What came of a rehearsal, with its ledger; the list of entries is made when it is first asked for. */
export interface Rehearsal extends Rehearsed {
  ledger: Ledger;
}

export interface RehearseOptions {
  /** House rules other than those of the level. */
  rules?: Partial<HouseRules>;
  /** What the walk's jitter is drawn from; 0 unless given. */
  seed?: number;
  /** The rehearsal ends after the tick in which it has so many entries; a million unless given. */
  most?: number;
  /** Receives the progress now and then: the tick, the last possible tick, and the number of entries. */
  progress?: (tick: number, last: number, entries: number) => void;
  /** Look at everything in every tick, also where nothing can happen. The ledger is the same. */
  everyTick?: boolean;
}

/** The most entries of a rehearsal, unless the caller sets another limit: chains that trigger each other would fill any memory. */
export const MOST_ENTRIES = 1_000_000;
/** The number of ticks between two progress reports. */
const TICKS_PER_REPORT = 256;

/** Runs a walk to its end, and tells what happens. Gives the world as it is then, to be let go of, and why it ended. */
export function runThrough(
  level: Level,
  walk: Walk,
  listener: WorldListener,
  { rules, seed = 0, most = MOST_ENTRIES, progress, everyTick = false }: RehearseOptions = {},
): { plan: CompiledLevel; world: World; over: DetailsOf['end'] } {
  const plan = compileLevel(level);
  const world = start(plan, walk, seed);
  const orders = rulePolicy({ ...level.rules, ...rules });
  const last = ticksOf(walk.atMost, level.rate);
  let over: DetailsOf['end'] | null = null;
  // It never ends in tick 0, unless that runs away.
  for (let round = 1; over === null; round++) {
    if (everyTick && world.tick >= 0) lookAtAll(plan, world, listener);
    over = tick(plan, world, orders, listener, everyTick ? world.tick + 1 : last);
    if (world.entries >= most) over ??= { reason: 'too many entries' };
    if (world.tick >= last) over ??= { reason: 'time is up' };
    if (round % TICKS_PER_REPORT === 0) progress?.(world.tick, last, world.entries);
  }
  return { plan, world, over };
}

/**
 * Runs a walk through a level and keeps the ledger. Pure: the same level, walk, rules and seed give the same ledger, byte
 * for byte.
 *
 * It ends when nothing is left that could happen, when every visitor that still has something to do is held up for good,
 * when the walk's time is up, or when a tick runs away.
 */
export function rehearse(level: Level, walk: Walk, options: RehearseOptions = {}): Rehearsal {
  const ledger = new Ledger(level.rate);
  const tracks: Tracks = { visitors: new Map(), doors: new Map(), rooms: new Map() };
  const listener = recordingListener(ledger, tracks);
  const { plan, world, over } = runThrough(level, walk, listener, options);
  tellPlaces(plan, world, listener);
  ledger.write(world.tick, { kind: 'end', details: over });
  const expectations = answerExpectations(walk, ledger, (text) => verdictIn(plan, world, text));
  letGo(world);
  let entries: Entry[] | null = null;
  return {
    walk: walk.id,
    rate: level.rate,
    ticks: world.tick,
    ledger,
    tracks,
    expectations,
    get entries() {
      return (entries ??= [...ledger]);
    },
  };
}
