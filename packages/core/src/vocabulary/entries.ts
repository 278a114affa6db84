/** Everything a ledger can say happened, or was held back. */
export const entryKinds = [
  'start',
  'enter',
  'leave',
  'dwell',
  'bump',
  'missed',
  'use',
  'on',
  'off',
  'press',
  'release',
  'moving',
  'arrived',
  'opened',
  'closed',
  'blocked',
  'signal',
  'changed',
  'became-true',
  'became-false',
  'chain-started',
  'step',
  'chain-finished',
  'gave-up',
  'held',
  'teleported',
  'warped',
  'left-behind',
  'claimed',
  'collected',
  'spawned',
  'removed',
  'cue-started',
  'cue-finished',
  'arrived-inside',
  'runaway',
  'end',
] as const;
export type EntryKind = (typeof entryKinds)[number];

/** The eight gates by the reason that each gives, in the order in which they are tried. */
export const gates = [
  'disabled',
  'silent-visitor',
  'filtered',
  'chain-off',
  'used-up',
  'cooling',
  'condition-false',
  'running',
] as const;
export type Gate = (typeof gates)[number];

/** Why an event, or a chain's answer to it, was held back. */
export const heldReasons = [...gates, 'out-of-reach', 'not-carried', 'impossible'] as const;
export type HeldReason = (typeof heldReasons)[number];
