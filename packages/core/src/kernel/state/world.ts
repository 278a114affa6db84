import type { Instruction } from '../../document/people';
import type { Vector } from '../../vocabulary/quantities';
import type { StatePart } from '../../conditions/vocabulary';
import type { DetailsOf } from '../../ledger/entry';
import type { EntryKind } from '../../vocabulary/entries';

/** Something that happened and is still to be drained: numbered, written, and offered to the chains that listen. */
export type KernelEvent = {
  [K in EntryKind]: {
    kind: K;
    who: string | null;
    what: string | null;
    cause: number | null;
    details: DetailsOf[K];
    /** Where a signal with a radius goes out. */
    origin?: { room: string; at: Vector };
  };
}[EntryKind];

/** An item of the queue. */
export type QueueItem =
  | { do: 'event'; event: KernelEvent; after?: EventFollowUp }
  | { do: 'start-step'; chain: string; run: number; step: number }
  | { do: 'finish-step'; chain: string; run: number; step: number; gaveUp?: true }
  | { do: 'until-held'; run: number; step: number }
  | { do: 'begin-run'; chain: string; run: number }
  | { do: 'begin-queued'; chain: string }
  | { do: 'return'; machine: string; token: number; cause: number | null; triggeredBy: string | null }
  | { do: 'tell'; event: KernelEvent; entry: number }
  | { do: 'dwell'; volume: number; visitor: number; stay: number }
  | { do: 'spring-back'; switch: string; token: number; cause: number; triggeredBy: string | null }
  | { do: 'cue-end'; cue: string; cause: number; triggeredBy: string | null; waiter: Waiter | null }
  | { do: 'take'; passage: string; visitor: number; event: EntryKind; cause: number; holds: boolean }
  | { do: 'give-back'; visitor: number; cause: number };

/** What is done with an event when it has its number and its listeners have been tried. */
export type EventFollowUp =
  | { motionBegan: Motion }
  | { motionEnded: Motion }
  | { waiters: Waiter[] }
  /** What the fixture itself answers to. */
  | { answer: 'entered' | 'left' | 'bumped' | 'used' }
  /** The prop whose flight learns the number of the entry of its throw. */
  | { thrown: string }
  /** Who was put elsewhere together, by their orders; and what they were taken as inside of there. */
  | { put: number[]; inside: Arrival[] };

/** A visitor that was taken as inside of a volume where it was put; `cause` is the entry that says so, once it is drained. */
export interface Arrival {
  visitor: number;
  volume: number;
  cause: number | null;
}

/** A step that goes on until something has ended: the run of its chain, and its place in it. */
export interface Waiter {
  chain: string;
  run: number;
  step: number;
  /** The number of the step's own entry. */
  entry: number;
}

/** A motion of a machine along its positions, counted from 0. */
export interface Motion {
  machine: string;
  from: number;
  to: number;
  /** The tick from which it moves, and how many ticks it takes. A tick in which it is stopped is added to the former. */
  startTick: number;
  ticks: number;
  /** The number of its `moving` entry once that has been drained. */
  entry: number | null;
  triggeredBy: string | null;
  waiters: Waiter[];
  /** Whether it is being stopped by who is in its way. */
  stopped: boolean;
}

export interface MachineState {
  clock: number;
  motion: Motion | null;
  /** Raised by every new motion and every new return, so that an older return that comes due does nothing. */
  token: number;
  /** The number of the `moving` entry of its latest motion. */
  lastMotion: number | null;
  /** Where its clock stood at the last Sense. */
  sensedClock: number;
  /** The tick at which its motion has to be looked at next; and the token for which it was reckoned for everybody. */
  wake: number;
  reckoned: number;
  riders: number;
}

/** Going somewhere: along the corners of a way, leg by leg. */
export interface WalkProgress {
  points: Vector[];
  /** The corner that the leg under way leads to. */
  next: number;
  from: Vector;
  distance: number;
  speed: number;
  ticks: number;
  done: number;
  blocked: boolean;
}

/** A walk ordered by a step: its destination and its path; the path is null where it has to be searched again, as after a push. */
export interface ToldWalk {
  to: Vector;
  speed: number;
  going: WalkProgress | null;
  triggeredBy: string | null;
  cause: number;
  waiters: Waiter[];
}

export interface RouteState {
  /** The visitor's instructions, in order. The list is never changed in place. */
  instructions: readonly Instruction[];
  /** Its instruction under way. */
  at: number;
  speed: number;
  /** Whether the current instruction is a leg that has begun, also while a push or an ordered walk replaces it. */
  begun: boolean;
  /** Ticks that are left of waiting, or of the start that comes later; null when no wait is under way. */
  waiting: number | null;
  going: WalkProgress | null;
}

export interface Flight {
  from: Vector;
  velocity: Vector;
  begun: number;
  /** Who threw it, and the entry that says so; null for a fall. */
  thrown: { by: string; cause: number | null } | null;
  /** The entry of the step whose push began it. */
  pushedBy: number | null;
}

export interface VisitorState {
  order: number;
  id: string;
  at: Vector;
  room: string;
  heading: number;
  inPlay: boolean;
  held: boolean;
  carriedBy: number | null;
  carries: number[];
  /** Who held it last. */
  lastHolder: string | null;
  /** What it stands on: the id of a solid or a fixture, '' for the ground, null in the air. */
  support: string | null;
  flight: Flight | null;
  /** A push under way, and the entry of the step that pushes. */
  push: { x: number; y: number; ticks: number; cause: number } | null;
  forced: ToldWalk | null;
  route: RouteState | null;
  /** Where it was at the last Sense, and whether it has been put elsewhere since rather than moved. */
  sensedAt: Vector;
  jumped: boolean;
  /** The entry that has put it elsewhere, and the motion or push that has carried or pushed it, since the last Sense. */
  putBy: number | null;
  movedBy: number | null;
  /** The machines that have taken it along since the last Sense, and how far. */
  rides: { machine: string; by: Vector }[];
  /** How it wished to move in this tick, in metres. */
  wish: Vector | null;
  /** The volumes it is inside of, each with the number of its stay. */
  within: Map<number, number>;
  /** The solid fixtures it has bumped into and is still at. */
  touching: Set<number>;
  /** The tick as of which `at` holds. */
  asOf: number;
  marks: WakeTicks | null;
  /** Set while it is passed over on a machine in motion. */
  rest: Rest | null;
}

/** The machine on which a visitor rests, the number of the volume it stands on, and the tick up to which its way has been reported. */
export interface Rest {
  readonly machine: string;
  readonly on: number;
  readonly reportedUpTo: number;
}

/** The ticks of a leg at which anything can change, in no order, and the stretches of them in which it can at any. */
export interface WakeTicks {
  going: WalkProgress;
  leg: number;
  z: number;
  /** The tick of the leg up to which they are known. */
  until: number;
  ticks: number[];
  dense: { from: number; to: number }[];
}

type StepState = 'waiting' | 'delayed' | 'running' | 'done';

export interface ChainRun {
  run: number;
  /** The number of its `chain-started` entry. */
  entry: number;
  triggeredBy: string | null;
  /** What the event that started it came from. */
  source: string | null;
  begun: boolean;
  steps: StepState[];
  /** How many things each running step still waits for. */
  pending: number[];
}

/** A step that waits until a condition holds. `resumeQueued`: the condition held, and its turn in the queue is still to come. */
export interface Until {
  chain: string;
  run: number;
  step: number;
  text: string;
  triggeredBy: string | null;
  resumeQueued: boolean;
}

/** What starts a chain: the number of its entry, the visitor in hand, and what it came from. */
export interface Trigger {
  entry: number;
  who: string | null;
  what: string | null;
  kind: string;
  /** Under which keys it is kept that its cause started the chain. */
  causes: readonly string[];
}

interface SwitchState {
  on: boolean;
  /** Raised by every use, so that it springs back from its last one only. */
  token: number;
  uses: number;
}

/** How often a cause has started its chain, and at which tick last. */
interface CauseState {
  count: number;
  lastTick: number | null;
}

/** The whole state of a rehearsal, as plain data (maps, lists and values): it can be copied, hashed and compared. */
export interface World {
  /** -1 before the first tick, which is tick 0. */
  tick: number;
  /** The last tick that was looked at: nothing happened in those since. */
  looked: number;
  /** The walk whose routes are walked. */
  walk: string;
  /** Whether a tick has not come to an end: then none comes any more. */
  ranAway: boolean;
  /** The next tick in which anything can happen, while that is known; Infinity for none. */
  coming: number | null;
  /** The number of entries reported so far. */
  entries: number;
  /** In Move the order of the visitor whose turn it is; before Move -1; after it one more than there are. */
  turn: number;
  visitors: VisitorState[];
  /** By order of the visitors, the tick at which each has to be looked at next; and who has to be in the next, whatever else. */
  wakes: Float64Array;
  again: number[];
  machines: Map<string, MachineState>;
  /** Machines in motion, by id, in listing order. */
  inMotion: Set<string>;
  /** Solid volumes, by number. */
  solid: boolean[];
  /** Zones, fixtures and chains that are disabled. */
  disabled: Set<string>;
  shown: Map<string, boolean>;
  /** Fixtures that are half seen through. */
  seeThrough: Set<string>;
  owners: Map<string, string>;
  collected: Set<string>;
  switches: Map<string, SwitchState>;
  pressed: Map<string, boolean>;
  flags: Map<string, boolean>;
  counters: Map<string, number>;
  texts: Map<string, string>;
  /** Who is inside what, by number of the volume and order of the visitor; ask `insideOf`. */
  inside: Map<number, Set<number>>;
  stays: number;
  /** Visitors inside each volume, as of the drained events. Read by the first-in and last-out filter. */
  insideByEvents: Map<string, Set<string>>;
  /** How often each cause has started its chain, and at which tick last, for all and for each visitor. */
  causes: Map<string, CauseState>;
  /** When each passage has begun to take somebody last, for all or for each visitor; and who is being taken by which. */
  took: Map<string, number>;
  taking: Set<string>;
  runs: Map<string, ChainRun[]>;
  queued: Map<string, Trigger[]>;
  runsBegun: number;
  watches: boolean[];
  /** Steps that wait until a condition holds. */
  untils: Until[];
  queue: QueueItem[];
  /** What comes due later: by tick, in the order in which it was scheduled; and those ticks in order. */
  schedule: Map<number, QueueItem[]>;
  dueTicks: number[];
  itemsThisTick: number;
  depth: number;
  /** Raised by every change to a part of the state that conditions read. */
  versions: Record<StatePart, number>;
  /** The last tick in which somebody moved who stands in the way of others. */
  strode: number;
  /** Whether any machine has moved since the last Sense. */
  stirred: boolean;
  /** Whether any plate has to be weighed again, and which visitors came inside which volumes since the last weighing. */
  weigh: boolean;
  arrivals: Arrival[];
}

const nobody: ReadonlySet<number> = new Set();

/** The orders of those who are inside of a volume. */
export function insideOf({ inside }: World, number: number): ReadonlySet<number> {
  return inside.get(number) ?? nobody;
}

/** Enables or disables a zone, a fixture or a chain. */
export function setEnabled({ disabled }: World, id: string, to: boolean): void {
  if (to) disabled.delete(id);
  else disabled.add(id);
}
