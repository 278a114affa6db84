import type { Chain } from '../../document/chains';
import { kindOfStep } from '../../kinds/steps';
import type { Step } from '../../kinds/steps';
import { ChainStepContext, actsOn } from './acting';
import type { ChainActs } from './acting';
import type { WorldContext, ToldContext, KernelContext } from '../state/context';
import { count } from '../state/runaway';
import type { DetailsOf } from '../../ledger/entry';
import { firstFailure } from '../../kinds/gates';
import type { GateInput } from '../../kinds/gates/gate';
import type { Outcome } from '../../kinds/steps/stage';
import type { ChainRun, Trigger, Waiter } from '../state/world';
import { ticksOf } from '../../vocabulary/ticks';
import { raiseFromStep, touch, write } from '../state/raising';
import { schedule } from '../state/schedule';

/** Starts a chain that has passed its gates, in the way it has of being told while it runs. */
export function startRun(rehearsing: KernelContext, chain: Chain, trigger: Trigger): void {
  const { state } = rehearsing;
  if (state.runs.has(chain.id)) {
    if (chain.whileRunning === 'restart') endRuns(rehearsing, chain.id, 'restarted', trigger.entry);
    if (chain.whileRunning === 'queue') {
      const queued = state.queued.get(chain.id);
      if (queued === undefined) state.queued.set(chain.id, [trigger]);
      else queued.push(trigger);
      const details = { event: trigger.kind, reason: 'running', queued: true } as const;
      write(rehearsing, { kind: 'held', who: trigger.who, what: trigger.what, chain: chain.id, cause: trigger.entry, details });
      return;
    }
  }
  beginRun(rehearsing, chain, trigger);
}

function beginRun(rehearsing: KernelContext, chain: Chain, { entry: cause, who, what, causes }: Trigger): void {
  const { state, plan } = rehearsing;
  const entry = write(rehearsing, { kind: 'chain-started', who, what, chain: chain.id, cause });
  // A cooldown counts from here, also for a start that was queued.
  for (const key of causes) state.causes.set(key, { count: state.causes.get(key)?.count ?? 0, lastTick: state.tick });
  state.runsBegun += 1;
  const delay = ticksOf(chain.delay, plan.level.rate);
  const run: ChainRun = {
    run: state.runsBegun,
    entry,
    hand: who,
    source: what,
    begun: delay === 0,
    steps: chain.steps.map(() => 'waiting'),
    pending: chain.steps.map(() => 0),
  };
  const runs = state.runs.get(chain.id);
  if (runs === undefined) state.runs.set(chain.id, [run]);
  else runs.push(run);
  touch(rehearsing, 'chains');
  if (delay === 0) advance(rehearsing, chain, run);
  else schedule(rehearsing, delay, { do: 'begin-run', chain: chain.id, run: run.run });
}

/** A chain's delay is over. */
export function beginDelayed(rehearsing: KernelContext, chainId: string, runNumber: number): void {
  const run = running(rehearsing, chainId, runNumber);
  if (run === undefined) return;
  run.begun = true;
  advance(rehearsing, chainOf(rehearsing, chainId), run);
}

/** A visitor has left a thing: delayed starts that it caused there are given up, where they are to be. */
export function giveUpLeft(rehearsing: ToldContext, who: string, what: string): void {
  const leaving: { chain: Chain; run: ChainRun }[] = [];
  for (const [id, runs] of rehearsing.state.runs) {
    const chain = chainOf(rehearsing, id);
    if (!chain.givesUp) continue;
    for (const run of runs) if (!run.begun && run.hand === who && run.source === what) leaving.push({ chain, run });
  }
  leaving.sort((a, b) => a.run.run - b.run.run);
  for (const { chain, run } of leaving) {
    write(rehearsing, { kind: 'gave-up', who, what, chain: chain.id, cause: run.entry, details: { reason: 'left' } });
    endRun(rehearsing, chain, run);
  }
}

/** Ends every run of a chain where it stands, and forgets those that were to follow. */
function endRuns(rehearsing: ToldContext, chainId: string, reason: DetailsOf['gave-up']['reason'], cause: number): void {
  const { state } = rehearsing;
  state.queued.delete(chainId);
  for (const run of [...(state.runs.get(chainId) ?? [])]) {
    write(rehearsing, { kind: 'gave-up', who: run.hand, chain: chainId, cause, details: { reason } });
    endRun(rehearsing, chainOf(rehearsing, chainId), run);
  }
}

/** Takes a run away; the next one that was queued begins in its turn. */
function endRun(rehearsing: WorldContext, chain: Chain, run: ChainRun): void {
  const { state } = rehearsing;
  const runs = state.runs.get(chain.id)!.filter((one) => one !== run);
  if (runs.length > 0) state.runs.set(chain.id, runs);
  else state.runs.delete(chain.id);
  state.untils = state.untils.filter((until) => until.chain !== chain.id || until.run !== run.run);
  touch(rehearsing, 'chains');
  if (runs.length === 0 && state.queued.has(chain.id)) state.queue.push({ do: 'begin-queued', chain: chain.id });
}

/** The next start that was queued behind a run begins, unless another has begun by now. */
export function beginQueued(rehearsing: KernelContext, chainId: string): void {
  const { state } = rehearsing;
  if (state.runs.has(chainId)) return;
  const next = state.queued.get(chainId)?.shift();
  if (next !== undefined) beginRun(rehearsing, chainOf(rehearsing, chainId), next);
}

/** A delayed step's time has come. */
export function startDelayed(rehearsing: KernelContext, chainId: string, runNumber: number, at: number): void {
  const run = running(rehearsing, chainId, runNumber);
  if (run === undefined) return;
  const chain = chainOf(rehearsing, chainId);
  runStep(rehearsing, chain, run, at);
  advance(rehearsing, chain, run);
}

/** Something that a step waited for has ended; when all of it has, what follows goes on in the same breath. */
export function finishStep(rehearsing: KernelContext, { chain: chainId, run: runNumber, step: at }: Omit<Waiter, 'entry'>): void {
  const run = running(rehearsing, chainId, runNumber);
  if (run?.steps[at] !== 'running') return;
  run.pending[at]! -= 1;
  if (run.pending[at]! > 0) return;
  run.steps[at] = 'done';
  rehearsing.state.untils = rehearsing.state.untils.filter((until) => until.run !== runNumber || until.step !== at);
  advance(rehearsing, chainOf(rehearsing, chainId), run);
}

/** A step has waited as long as it may; the chain goes on without what it waited for. */
export function giveUpWaiting(rehearsing: KernelContext, waiter: Omit<Waiter, 'entry'>): void {
  const run = running(rehearsing, waiter.chain, waiter.run);
  if (run?.steps[waiter.step] !== 'running') return;
  const { id } = chainOf(rehearsing, waiter.chain).steps[waiter.step]!;
  write(rehearsing, {
    kind: 'gave-up',
    who: run.hand,
    chain: waiter.chain,
    step: id,
    cause: run.entry,
    details: { reason: 'time limit' },
  });
  finishStep(rehearsing, waiter);
}

export function finishWaiters(rehearsing: KernelContext, waiters: readonly Waiter[]): void {
  for (const waiter of waiters) finishStep(rehearsing, waiter);
}

function chainOf({ plan }: WorldContext, id: string): Chain {
  return plan.level.chains[plan.chains.get(id)!]!;
}

function running({ state }: WorldContext, chainId: string, runNumber: number): ChainRun | undefined {
  return state.runs.get(chainId)?.find((run) => run.run === runNumber);
}

/** Begins every step whose turn has come, in order, and finishes the chain when all are done. */
function advance(rehearsing: KernelContext, chain: Chain, run: ChainRun): void {
  const isAlive = (): boolean => running(rehearsing, chain.id, run.run) === run;
  for (let at = 0; at < chain.steps.length && isAlive(); at++) {
    const step = chain.steps[at]!;
    if (run.steps[at] !== 'waiting' || !mayBegin(run, step, at)) continue;
    const delay = ticksOf(step.delay, rehearsing.plan.level.rate);
    if (delay === 0) {
      runStep(rehearsing, chain, run, at);
    } else {
      run.steps[at] = 'delayed';
      schedule(rehearsing, delay, { do: 'start-step', chain: chain.id, run: run.run, step: at });
    }
  }
  if (!isAlive() || run.steps.some((one) => one !== 'done')) return;
  const event = { kind: 'chain-finished', who: run.hand, what: chain.id, cause: run.entry, details: {} } as const;
  const entry = write(rehearsing, { kind: event.kind, who: run.hand, chain: chain.id, cause: run.entry });
  // Where nobody listens there is nothing to come.
  if (rehearsing.plan.listeners.get('chain-finished')!.has(chain.id)) rehearsing.state.queue.push({ do: 'tell', event, entry });
  endRun(rehearsing, chain, run);
}

function mayBegin(run: ChainRun, step: Step, at: number): boolean {
  if (at === 0) return true;
  if (step.start === 'with') return run.steps[at - 1] === 'running' || run.steps[at - 1] === 'done';
  return run.steps.slice(0, at).every((one) => one === 'done');
}

function runStep(rehearsing: KernelContext, chain: Chain, run: ChainRun, at: number): void {
  const step = chain.steps[at]!;
  const { targets, what, details } = actsOn(rehearsing, step, run.hand);
  const entry = write(rehearsing, {
    kind: 'step',
    who: run.hand,
    what,
    chain: chain.id,
    step: step.id,
    cause: run.entry,
    details,
  });
  run.steps[at] = 'running';
  // While it is run it is not finished, whatever of its doing ends meanwhile.
  run.pending[at] = 1;
  const waiter: Waiter = { chain: chain.id, run: run.run, step: at, entry };
  const stage = new ChainStepContext(rehearsing, run, step, waiter, acts);
  const outcome = details.problem === undefined ? kindOfStep(step.kind).run(step, stage, targets) : { done: true as const };
  run.pending[at] += waitFor(rehearsing, outcome, waiter, run.hand) - 1;
  if (run.pending[at] === 0) run.steps[at] = 'done';
  finishWaiters(rehearsing, stage.ended);
}

/** What the gates ask of a chain that is to start for a visitor. */
export function standingOf(rehearsing: KernelContext, chain: Chain, hand: string | null): NonNullable<GateInput['chain']> {
  const { state } = rehearsing;
  return {
    enabled: !state.disabled.has(chain.id),
    guard: () => {
      rehearsing.hand = hand;
      return rehearsing.conditions.of(chain.guard).verdict();
    },
    runs: state.runs.has(chain.id),
    whileRunning: chain.whileRunning,
  };
}

/** What a step does to chains: the gates of a chain stand before one that it starts. */
const acts: ChainActs = {
  start: (rehearsing, { hand: who, source: what }, entry, id) => {
    const chain = chainOf(rehearsing, id);
    const shut = firstFailure({ chain: standingOf(rehearsing, chain, who) });
    if (shut !== null) {
      write(rehearsing, { kind: 'held', who, what, chain: id, cause: entry, details: { event: 'step', ...shut } });
      return;
    }
    // A chain that starts itself again and again does not come to an end either.
    rehearsing.state.depth += 1;
    count(rehearsing);
    startRun(rehearsing, chain, { entry, who, what, kind: 'step', causes: [] });
    rehearsing.state.depth -= 1;
  },
  stop: (rehearsing, entry, id) => endRuns(rehearsing, id, 'stopped', entry),
  reset: (rehearsing, { hand }, entry, id) => {
    const { state } = rehearsing;
    endRuns(rehearsing, id, 'reset', entry);
    const causes = new Set(chainOf(rehearsing, id).causes.map((cause) => cause.id));
    for (const key of [...state.causes.keys()]) if (causes.has(key.split(' ')[0]!)) state.causes.delete(key);
    const details = { field: 'reset', from: false, to: true } as const;
    raiseFromStep(rehearsing, { kind: 'changed', who: hand, what: id, cause: entry, details });
  },
};

/** Lets a step wait for what it said; how many more things it waits for than those that it has set in motion. */
function waitFor(rehearsing: KernelContext, outcome: Outcome, waiter: Waiter, hand: string | null): number {
  const { state } = rehearsing;
  if ('done' in outcome) return 0;
  if ('ticks' in outcome) {
    schedule(rehearsing, outcome.ticks, { do: 'finish-step', ...waiter });
    return 1;
  }
  if ('cue' in outcome) {
    const item = { do: 'cue-end', cue: outcome.cue, cause: outcome.cause, hand, waiter } as const;
    if (outcome.length === 0) state.queue.push(item);
    else schedule(rehearsing, outcome.length, item);
    return 1;
  }
  rehearsing.hand = hand;
  if (rehearsing.conditions.of(outcome.until).verdict().holds) return 0;
  state.untils.push({ chain: waiter.chain, run: waiter.run, step: waiter.step, text: outcome.until, hand, told: false });
  if (outcome.limit !== null) {
    const item = { do: 'finish-step', ...waiter, gaveUp: true } as const;
    if (outcome.limit === 0) state.queue.push(item);
    else schedule(rehearsing, outcome.limit, item);
  }
  return 1;
}
