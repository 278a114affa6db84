import type * as z from 'zod';
import { unionOf } from '../union';
import { claim } from './claim';
import { close } from './close';
import { collect } from './collect';
import { playCue } from './cue';
import { disable } from './disable';
import { enable } from './enable';
import { giveUp } from './give-up';
import { hide } from './hide';
import { holdVisitor } from './hold-visitor';
import { makeOpaque } from './make-opaque';
import { makePassable } from './make-passable';
import { makeSeeThrough } from './make-see-through';
import { makeSolid } from './make-solid';
import { open } from './open';
import { play } from './play';
import { push } from './push';
import { releaseVisitor } from './release-visitor';
import { remove } from './remove';
import { reset } from './reset';
import { resetChain } from './reset-chain';
import { send } from './send';
import { setCounter } from './set-counter';
import { setFlag } from './set-flag';
import { setText } from './set-text';
import { show } from './show';
import { signal } from './signal';
import { spawn } from './spawn';
import { startChain } from './start-chain';
import type { StepKind } from './step-kind';
import { stopChain } from './stop-chain';
import { stopVelocity } from './stop-velocity';
import { teleport } from './teleport';
import { toggle } from './toggle';
import { turn } from './turn';
import { wait } from './wait';
import { waitUntil } from './wait-until';
import { walkVisitor } from './walk-visitor';
import { warpStep } from './warp';
import { writeSign } from './write-sign';

/** Every kind of step. A new kind is one file and one line here. */
const table = {
  open,
  close,
  wait,
  'set-flag': setFlag,
  'write-sign': writeSign,
  show,
  hide,
  toggle,
  send,
  play,
  'wait-until': waitUntil,
  'set-counter': setCounter,
  'set-text': setText,
  'make-solid': makeSolid,
  'make-passable': makePassable,
  'make-see-through': makeSeeThrough,
  'make-opaque': makeOpaque,
  enable,
  disable,
  reset,
  signal,
  cue: playCue,
  teleport,
  warp: warpStep,
  claim,
  'give-up': giveUp,
  collect,
  spawn,
  remove,
  'hold-visitor': holdVisitor,
  'release-visitor': releaseVisitor,
  'walk-visitor': walkVisitor,
  push,
  turn,
  'stop-velocity': stopVelocity,
  'start-chain': startChain,
  'stop-chain': stopChain,
  'reset-chain': resetChain,
} as const;

export const step = unionOf(table).meta({ id: 'Step' });
export type Step = z.infer<typeof step>;
export type StepName = keyof typeof table;

export const stepNames = Object.keys(table) as StepName[];

/** Everything that a search for a kind of step looks through, in small letters. */
export const searchTerms = (name: StepName): string =>
  [table[name].label, name, table[name].wish, table[name].also].join(' ').toLowerCase();

/** The meaning and the words of a step's kind. */
export function kindOfStep(name: StepName): StepKind<Step> {
  // The table is keyed by the very `kind` that its schema requires, so the narrower type is the right one.
  return table[name] as unknown as StepKind<Step>;
}

export { stepCategories } from './step-kind';
export type { StepKind, StepReference, StepCategory, Who } from './step-kind';
