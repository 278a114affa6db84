import { z } from 'zod';
import { resetChain, startChain, stopChain } from './chain-steps';
import { playCue } from './cue-step';
import { setCounter, setFlag, setText, writeSign } from './facts';
import { teleport, warpStep } from './journeys';
import { close, open, play, send, toggle } from './motions';
import { claim, collect, giveUp } from './owning';
import { disable, enable, hide, makePassable, makeSolid, reset, show } from './presence';
import { signal } from './signal';
import type { StepKind } from './step-kind';
import { holdVisitor, push, releaseVisitor, remove, spawn, stopVelocity, turn, walkVisitor } from './visitors';
import { wait, waitUntil } from './wait';

/** Every kind of step. A new kind is one entry in its family's file and one line here and below. */
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

export const step = z.discriminatedUnion('kind', [
  open.schema,
  close.schema,
  toggle.schema,
  send.schema,
  play.schema,
  wait.schema,
  waitUntil.schema,
  setFlag.schema,
  setCounter.schema,
  setText.schema,
  writeSign.schema,
  show.schema,
  hide.schema,
  makeSolid.schema,
  makePassable.schema,
  enable.schema,
  disable.schema,
  reset.schema,
  signal.schema,
  playCue.schema,
  teleport.schema,
  warpStep.schema,
  claim.schema,
  giveUp.schema,
  collect.schema,
  spawn.schema,
  remove.schema,
  holdVisitor.schema,
  releaseVisitor.schema,
  walkVisitor.schema,
  push.schema,
  turn.schema,
  stopVelocity.schema,
  startChain.schema,
  stopChain.schema,
  resetChain.schema,
]);
export type Step = z.infer<typeof step>;
export type StepName = keyof typeof table;

export const stepNames = Object.keys(table) as StepName[];

/** The meaning and the words of a step's kind. */
export function kindOfStep(name: StepName): StepKind<Step> {
  // The table is keyed by the very `kind` that its schema requires, so the narrower type is the right one.
  return table[name] as unknown as StepKind<Step>;
}

export type { StepBase, StepKind, StepReference, Who } from './step-kind';
