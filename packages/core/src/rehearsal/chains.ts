import { kindOfStep } from '../steps';
import type { Step } from '../steps';
import { sendDoor } from './doors';
import { raise, schedule, write } from './rehearsing';
import type { Rehearsing } from './rehearsing';
import type { ChainRun, Waiter } from './state';
import { ticksOf } from './ticks';

/** Starts a chain for an event, and runs its steps until one takes time. */
export function startChain(
  rehearsing: Rehearsing,
  chainIndex: number,
  event: { entry: number; who: string | null; what: string | null },
): void {
  const { state, plan } = rehearsing;
  const chain = plan.level.chains[chainIndex]!;
  const entry = write(rehearsing, {
    kind: 'chain-started',
    who: event.who,
    what: event.what,
    chain: chain.id,
    cause: event.entry,
  });
  state.runsBegun += 1;
  const run: ChainRun = { run: state.runsBegun, entry, hand: event.who, steps: chain.steps.map(() => 'waiting') };
  state.runs.set(chain.id, run);
  advance(rehearsing, chain.id, run);
}

/** A delayed step's time has come. */
export function startDelayed(rehearsing: Rehearsing, chainId: string, runNumber: number, at: number): void {
  const run = running(rehearsing, chainId, runNumber);
  if (run === undefined) return;
  runStep(rehearsing, chainId, run, at);
  advance(rehearsing, chainId, run);
}

/** A step that took time has ended; what follows it goes on in the same breath. */
export function finishStep(rehearsing: Rehearsing, chainId: string, runNumber: number, at: number): void {
  const run = running(rehearsing, chainId, runNumber);
  if (run === undefined || run.steps[at] !== 'running') return;
  run.steps[at] = 'done';
  advance(rehearsing, chainId, run);
}

export function finishWaiters(rehearsing: Rehearsing, waiters: readonly Waiter[]): void {
  for (const waiter of waiters) finishStep(rehearsing, waiter.chain, waiter.run, waiter.step);
}

function running(rehearsing: Rehearsing, chainId: string, runNumber: number): ChainRun | undefined {
  const run = rehearsing.state.runs.get(chainId);
  return run?.run === runNumber ? run : undefined;
}

/** Begins every step whose turn has come, in order, and finishes the chain when all are done. */
function advance(rehearsing: Rehearsing, chainId: string, run: ChainRun): void {
  const { state, plan } = rehearsing;
  const chain = plan.level.chains[plan.chains.get(chainId)!]!;
  chain.steps.forEach((step, at) => {
    if (run.steps[at] !== 'waiting' || !mayBegin(run, step, at)) return;
    const delay = ticksOf(step.delay, plan.level.rate);
    if (delay === 0) {
      runStep(rehearsing, chainId, run, at);
    } else {
      run.steps[at] = 'delayed';
      schedule(rehearsing, delay, { do: 'start-step', chain: chainId, run: run.run, step: at });
    }
  });
  if (state.runs.get(chainId) === run && run.steps.every((one) => one === 'done')) {
    state.runs.delete(chainId);
    write(rehearsing, { kind: 'chain-finished', who: run.hand, chain: chainId, cause: run.entry });
  }
}

function mayBegin(run: ChainRun, step: Step, at: number): boolean {
  if (at === 0) return true;
  if (step.start === 'with') return run.steps[at - 1] === 'running' || run.steps[at - 1] === 'done';
  return run.steps.slice(0, at).every((one) => one === 'done');
}

function runStep(rehearsing: Rehearsing, chainId: string, run: ChainRun, at: number): void {
  const { state, plan } = rehearsing;
  const step = plan.level.chains[plan.chains.get(chainId)!]!.steps[at]!;
  const kind = kindOfStep(step.kind);
  const [target] = kind.references(step);
  const exists = target === undefined || isThere(rehearsing, target.to, target.accepts);
  const entry = write(rehearsing, {
    kind: 'step',
    who: run.hand,
    what: target?.to ?? null,
    chain: chainId,
    step: step.id,
    cause: run.entry,
    details: exists ? { do: step.kind } : { do: step.kind, problem: 'no such target' },
  });
  let ended: Waiter[] = [];
  const outcome = exists
    ? kind.run(step, {
        ticksOf: (seconds) => ticksOf(seconds, plan.level.rate),
        change: (part, id, to) => {
          change(rehearsing, part, id, to, entry, run.hand);
        },
        moveDoor: (id, end) => {
          const sent = sendDoor(rehearsing, plan.doors.get(id)!, end, entry, run.hand);
          ended = sent.ended;
          return sent.outcome;
        },
      })
    : { done: true as const };
  run.steps[at] = 'done' in outcome ? 'done' : 'running';
  if ('ticks' in outcome) schedule(rehearsing, outcome.ticks, { do: 'finish-step', chain: chainId, run: run.run, step: at });
  if ('motionOf' in outcome)
    state.doors.get(outcome.motionOf)!.motion!.waiters.push({ chain: chainId, run: run.run, step: at, entry });
  finishWaiters(rehearsing, ended);
}

function isThere(rehearsing: Rehearsing, id: string, accepts: readonly string[]): boolean {
  const { state, plan } = rehearsing;
  if (accepts.includes('flag')) return state.flags.has(id);
  if (accepts.length === 1 && accepts[0] === 'door') return plan.doors.has(id);
  if (accepts.length === 1 && accepts[0] === 'sign') return state.texts.has(id);
  return state.shown.has(id);
}

function change(
  rehearsing: Rehearsing,
  part: 'flags' | 'texts' | 'shown',
  id: string,
  to: boolean | string,
  cause: number,
  hand: string | null,
): void {
  const values = rehearsing.state[part] as Map<string, boolean | string>;
  const from = values.get(id)!;
  if (from === to) return;
  values.set(id, to);
  const field = { flags: 'on', texts: 'text', shown: 'shown' }[part];
  raise(rehearsing, { kind: 'changed', who: hand, what: id, cause, details: { field, from, to } });
}
