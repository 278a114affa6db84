/** Everything a ledger can say happened, or was held back. */
export const entryKinds = [
  'start',
  'enter',
  'leave',
  'missed',
  'use',
  'press',
  'release',
  'moving',
  'arrived',
  'opened',
  'closed',
  'blocked',
  'changed',
  'chain-started',
  'step',
  'chain-finished',
  'held',
  'runaway',
  'end',
] as const;
export type EntryKind = (typeof entryKinds)[number];

/** Why an event, or a chain's answer to it, was held back. */
export type HeldReason =
  | 'disabled'
  | 'silent-visitor'
  | 'filtered'
  | 'chain-off'
  | 'used-up'
  | 'cooling'
  | 'condition-false'
  | 'running'
  | 'out-of-reach'
  | 'not-carried';

export type Detail = string | number | boolean | null | string[];
export type Details = Record<string, Detail>;

/** One entry of the ledger. Things are named by id. */
export interface Entry {
  number: number;
  tick: number;
  seconds: number;
  kind: EntryKind;
  /** The visitor in hand. */
  who: string | null;
  /** The thing that the entry is about. */
  what: string | null;
  chain: string | null;
  step: string | null;
  /** The number of the entry that caused it, always a smaller one; null for what the walk itself did. */
  cause: number | null;
  details: Details;
}

/** The ledger as JSON lines: the bytes that have to be the same everywhere. */
export function ledgerText(entries: readonly Entry[]): string {
  return entries.map((entry) => JSON.stringify(entry) + '\n').join('');
}
