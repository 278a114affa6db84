import * as z from 'zod';
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

/** Every kind of step. A new kind is one file and one line here and below. */
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

export const step = z
  .discriminatedUnion('kind', [
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
    makeSeeThrough.schema,
    makeOpaque.schema,
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
  ])
  .meta({ id: 'Step' });
export type Step = z.infer<typeof step>;
export type StepName = keyof typeof table;

export const stepNames = Object.keys(table) as StepName[];

/** What one wants of a step: how a menu groups them. */
export const stepWishes = ['Motion', 'Visibility and collision', 'Visitors', 'State', 'Signals and cues', 'Timing'] as const;
export type StepCategory = (typeof stepWishes)[number];

/** What a kind of step is for. */
export const wishOf: Record<StepName, StepCategory> = {
  open: 'Motion',
  close: 'Motion',
  toggle: 'Motion',
  send: 'Motion',
  play: 'Motion',
  reset: 'Motion',
  show: 'Visibility and collision',
  hide: 'Visibility and collision',
  'make-solid': 'Visibility and collision',
  'make-passable': 'Visibility and collision',
  'make-see-through': 'Visibility and collision',
  'make-opaque': 'Visibility and collision',
  enable: 'Visibility and collision',
  disable: 'Visibility and collision',
  'write-sign': 'Visibility and collision',
  teleport: 'Visitors',
  warp: 'Visitors',
  spawn: 'Visitors',
  remove: 'Visitors',
  'hold-visitor': 'Visitors',
  'release-visitor': 'Visitors',
  'walk-visitor': 'Visitors',
  push: 'Visitors',
  turn: 'Visitors',
  'stop-velocity': 'Visitors',
  'set-flag': 'State',
  'set-counter': 'State',
  'set-text': 'State',
  claim: 'State',
  'give-up': 'State',
  collect: 'State',
  signal: 'Signals and cues',
  cue: 'Signals and cues',
  'start-chain': 'Signals and cues',
  'stop-chain': 'Signals and cues',
  'reset-chain': 'Signals and cues',
  wait: 'Timing',
  'wait-until': 'Timing',
};

/** Other words by which a step is looked for: what designers say when they want it. */
const alsoCalled: Partial<Record<StepName, string>> = {
  open: 'door gate raise slide',
  close: 'door gate shut lower',
  toggle: 'door gate switch flip',
  send: 'lift platform move raise lower call',
  play: 'mover animation path run',
  reset: 'restore start over back',
  show: 'appear reveal make visible',
  hide: 'disappear vanish make invisible take away',
  'make-solid': 'block collide collision',
  'make-passable': 'walk through ghost no collision',
  'make-see-through': 'fade transparent half seen through glass',
  'make-opaque': 'fade in solid look',
  enable: 'arm activate turn on unlock',
  disable: 'disarm deactivate turn off lock',
  'write-sign': 'say change text label',
  teleport: 'put jump bring place portal',
  warp: 'travel level change portal',
  spawn: 'create appear bring in',
  remove: 'destroy delete kill take away',
  'hold-visitor': 'hold control freeze input stop cutscene',
  'release-visitor': 'release control unfreeze give back input',
  'walk-visitor': 'go move guard step send patrol',
  push: 'knock throw back shove launch velocity impulse',
  turn: 'face rotate look heading',
  'stop-velocity': 'halt rest skid brake',
  'set-flag': 'variable state boolean remember switch',
  'set-counter': 'variable count add score number',
  'set-text': 'variable string say',
  claim: 'own owner take belong',
  'give-up': 'owner release free',
  collect: 'pick up take coin item',
  signal: 'message broadcast tell notify call',
  cue: 'speak say line speech sound effect fade shrink animation',
  'start-chain': 'call trigger run relay',
  'stop-chain': 'cancel abort end',
  'reset-chain': 'again rearm limits',
  wait: 'pause delay timer seconds',
  'wait-until': 'pause condition watch',
};

/** Everything that a search for a kind of step looks through, in small letters. */
export const searchTerms = (name: StepName): string =>
  [table[name].label, name, wishOf[name], alsoCalled[name] ?? ''].join(' ').toLowerCase();

/** The meaning and the words of a step's kind. */
export function kindOfStep(name: StepName): StepKind<Step> {
  // The table is keyed by the very `kind` that its schema requires, so the narrower type is the right one.
  return table[name] as unknown as StepKind<Step>;
}

export type { StepKind, StepReference, Who } from './step-kind';
