import type { EntryKind } from '../vocabulary/entries';

/** Nothing more to say. */
export type Nothing = Readonly<Record<never, never>>;

/** How something is used: as a switch is, or as a prop is picked up, put down and thrown. */
export type Use = 'use' | 'carry' | 'drop' | 'throw';

/** Whom a signal is for; `from`, in metres as `x y z`, is where one with a radius goes out. */
export type Address = { to: 'all' } | { to: 'tag'; tag: string } | { to: 'radius'; metres: number; room: string; from: string };

/** The side of something that has changed. */
export type ChangedField =
  'on' | 'value' | 'text' | 'shown' | 'seeThrough' | 'solid' | 'enabled' | 'held' | 'owner' | 'reset' | 'started over';

/** Why something is held, with what says so; docs/order.md has the table of gates. */
export type HeldDetails =
  | ({ reason: 'disabled' | 'silent-visitor' } & Partial<
      DetailsOf['enter'] & DetailsOf['press'] & DetailsOf['use'] & DetailsOf['moving'] & DetailsOf['arrived']
    >)
  | { reason: 'filtered'; part: string; asked: string; found: string }
  | { reason: 'chain-off' }
  | { reason: 'used-up'; limit: number; used: number }
  | { reason: 'cooling'; ticks: number; seconds: number }
  | { reason: 'condition-false'; read: string[] }
  | { reason: 'running'; queued?: true }
  | { reason: 'out-of-reach'; use: Use; metres?: number; reach?: number; problem?: string; carriedBy?: string }
  | { reason: 'not-carried'; use: Use }
  | { reason: 'impossible'; problem: string };

/** What an entry of each kind says beside who, what, chain, step and cause. */
export interface DetailsOf {
  start: Nothing;
  enter: { swept?: true; enabled?: true };
  leave: { swept?: true };
  dwell: Nothing;
  bump: Nothing;
  missed: Nothing;
  use: { use: Use };
  on: Nothing;
  off: Nothing;
  press: { load: number; threshold: number };
  release: { load: number; threshold: number };
  /** `endsSteps`: the numbers of the entries of steps that end because the motion before was turned back. */
  moving: { to: string; ticks: number; turnedBack?: true; endsSteps?: number[] };
  arrived: { at?: string };
  opened: Nothing;
  closed: Nothing;
  blocked: { by?: string; problem?: string };
  signal: Address;
  changed: { field: ChangedField; from: boolean | number | string | null; to: boolean | number | string | null };
  'became-true': Nothing;
  'became-false': Nothing;
  'chain-started': Nothing;
  /** `do`: the kind of step. */
  step: { do: string; tag?: string; problem?: string };
  'chain-finished': Nothing;
  'gave-up': { reason: 'left' | 'restarted' | 'stopped' | 'reset' | 'time limit' };
  /** `event`: the kind of event, or the kind of step. */
  held: { event: string } & HeldDetails;
  teleported: { x: number; y: number; z: number; heading: number };
  warped: { x: number; y: number; z: number; heading: number; room: string };
  'left-behind': Nothing;
  claimed: Nothing;
  collected: Nothing;
  spawned: Nothing;
  removed: Nothing;
  'cue-started': { medium: string; ticks: number; speaker?: string; line?: string };
  'cue-finished': Nothing;
  'arrived-inside': Nothing;
  /** `cycle`, from cause to effect, is found by whoever keeps the ledger. */
  runaway: { items: number; cycle?: string[] };
  end: { reason: 'settled' | 'time is up' | 'too many entries' | 'runaway' } | { reason: 'stuck'; who: string[] };
}

/** The details of any entry. */
export type Details = DetailsOf[EntryKind];

/** One entry of the ledger, of one kind. Things are named by id. */
export interface EntryOf<K extends EntryKind> {
  number: number;
  tick: number;
  seconds: number;
  kind: K;
  /** The visitor in hand. */
  who: string | null;
  /** The thing that the entry is about. */
  what: string | null;
  chain: string | null;
  step: string | null;
  /** The number of the entry that caused it, always a smaller one; null for what the walk itself did. */
  cause: number | null;
  details: DetailsOf[K];
}

/** One entry of the ledger. */
export type Entry = { [K in EntryKind]: EntryOf<K> }[EntryKind];

interface About {
  who?: string | null;
  what?: string | null;
  chain?: string | null;
  step?: string | null;
  cause?: number | null;
}

/** What is written, beside its time and number. */
export type NewEntry = {
  [K in EntryKind]: About & { kind: K } & (Nothing extends DetailsOf[K] ? { details?: DetailsOf[K] } : { details: DetailsOf[K] });
}[EntryKind];

/** Why an entry was held or given up, or the rehearsal ended; null of any other. */
export function reasonOf({ details }: Entry): string | null {
  return 'reason' in details ? details.reason : null;
}
