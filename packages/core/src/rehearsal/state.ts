import type { Vector } from '../level/quantities';
import type { Details, EntryKind } from './ledger';
import type { Plan } from './plan';

/** Something that happened and is still to be drained: numbered, written, and offered to the chains that listen. */
export interface Happening {
  kind: EntryKind;
  who: string | null;
  what: string | null;
  cause: number | null;
  details: Details;
}

/** An item of the queue. */
export type Item =
  | { do: 'event'; event: Happening; waiters?: Waiter[]; motion?: Motion }
  | { do: 'start-step'; chain: string; run: number; step: number }
  | { do: 'finish-step'; chain: string; run: number; step: number }
  | { do: 'return'; door: string; token: number; cause: number; hand: string | null };

/** A step that goes on until something has ended: the run of its chain, and its place in it. */
export interface Waiter {
  chain: string;
  run: number;
  step: number;
  /** The number of the step's own entry. */
  entry: number;
}

export interface Motion {
  /** The clock's value at the start and the end, 0 closed to 1 open. */
  from: number;
  to: 0 | 1;
  startTick: number;
  ticks: number;
  /** The number of its `moving` entry once that has been drained. */
  entry: number | null;
  hand: string | null;
  waiters: Waiter[];
}

export interface DoorState {
  /** The motion's clock: 0 closed, 1 open. */
  clock: number;
  motion: Motion | null;
  /** Raised by every new motion and every new return, so that an older return that comes due does nothing. */
  token: number;
  /** The number of the `moving` entry of its latest motion. */
  lastMotion: number | null;
  /** Where its clock stood at the last Sense. */
  sensedClock: number;
}

export interface VisitorState {
  at: Vector;
  carriedBy: string | null;
  /** Where it was at the last Sense, and whether it has been put elsewhere since rather than walked. */
  sensedAt: Vector;
  jumped: boolean;
}

export interface RouteState {
  /** Its place among the routes of the walk. */
  number: number;
  /** Its instruction under way. */
  at: number;
  /** The instruction under way: ticks done of all its ticks, and for a leg where it began. */
  leg: { from: Vector; distance: number; ticks: number; done: number } | null;
  blocked: boolean;
}

export type StepState = 'waiting' | 'delayed' | 'running' | 'done';

export interface ChainRun {
  run: number;
  /** The number of its `chain-started` entry. */
  entry: number;
  hand: string | null;
  steps: StepState[];
}

/** The whole state of a rehearsal, as plain data (maps, lists and values): it can be copied, hashed and compared. */
export interface State {
  tick: number;
  visitors: Map<string, VisitorState>;
  doors: Map<string, DoorState>;
  /** The loads' answer at the last weighing, by plate. */
  pressed: Map<string, boolean>;
  flags: Map<string, boolean>;
  texts: Map<string, string>;
  shown: Map<string, boolean>;
  /** Who is inside what, by thing. */
  inside: Map<string, Set<string>>;
  /** How often each cause has started its chain, and at which tick last. */
  causes: Map<string, { count: number; lastTick: number }>;
  runs: Map<string, ChainRun>;
  runsBegun: number;
  routes: Map<string, RouteState>;
  queue: Item[];
  /** What comes due later: by tick, in the order in which it was scheduled. */
  schedule: Map<number, Item[]>;
  itemsThisTick: number;
}

/** The state before tick 0. */
export function startingState({ level, sensed }: Plan): State {
  const state: State = {
    tick: 0,
    visitors: new Map(),
    doors: new Map(),
    pressed: new Map(),
    flags: new Map(),
    texts: new Map(),
    shown: new Map(),
    inside: new Map(),
    causes: new Map(),
    runs: new Map(),
    runsBegun: 0,
    routes: new Map(),
    queue: [],
    schedule: new Map(),
    itemsThisTick: 0,
  };
  for (const visitor of level.visitors)
    state.visitors.set(visitor.id, { at: visitor.at, carriedBy: null, sensedAt: visitor.at, jumped: true });
  for (const flag of level.flags) state.flags.set(flag.id, flag.on);
  for (const fixture of level.fixtures) {
    state.shown.set(fixture.id, fixture.shown);
    if (fixture.kind === 'door') {
      const clock = fixture.open ? 1 : 0;
      state.doors.set(fixture.id, { clock, motion: null, token: 0, lastMotion: null, sensedClock: clock });
    }
    if (fixture.kind === 'plate') state.pressed.set(fixture.id, false);
    if (fixture.kind === 'sign') state.texts.set(fixture.id, fixture.text);
  }
  for (const thing of sensed) state.inside.set(thing.id, new Set());
  return state;
}
