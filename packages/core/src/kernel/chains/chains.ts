import type { Chain } from '../../document/chains';
import { kindOfStep } from '../../kinds/steps';
import type { Step } from '../../kinds/steps';
import { ChainStepContext, actsOn } from './acting';
import type { ChainActs } from './acting';
import type { WorldContext, ReportingContext, KernelContext } from '../state/context';
import { count } from '../state/runaway';
import type { DetailsOf } from '../../ledger/entry';
import { firstFailure } from '../../kinds/gates';
import type { GateInput } from '../../kinds/gates/gate';
import type { Outcome } from '../../kinds/steps/stage';
import type { ChainRun, Trigger, Waiter } from '../state/world';
import { ticksOf } from '../../vocabulary/ticks';
import { raiseFromStep, touch, write } from '../state/raising';
import { schedule } from '../state/schedule';

/** Starts a chain that has passed its gates, by its rule for triggers while it runs. */
export function startRun(ctx: KernelContext, chain: Chain, trigger: Trigger): void {
  const { state } = ctx;
  if (state.runs.has(chain.id)) {
    if (chain.whileRunning === 'restart') endRuns(ctx, chain.id, 'restarted', trigger.entry);
    if (chain.whileRunning === 'queue') {
      const queued = state.queued.get(chain.id);
      if (queued === undefined) state.queued.set(chain.id, [trigger]);
      else queued.push(trigger);
      const details = { event: trigger.kind, reason: 'running', queued: true } as const;
      write(ctx, { kind: 'held', who: trigger.who, what: trigger.what, chain: chain.id, cause: trigger.entry, details });
      return;
    }
  }
  beginRun(ctx, chain, trigger);
}

function beginRun(ctx: KernelContext, chain: Chain, { entry: cause, who, what, causes }: Trigger): void {
  const { state, plan } = ctx;
  const entry = write(ctx, { kind: 'chain-started', who, what, chain: chain.id, cause });
  // A cooldown counts from here, also for a start that was queued.
  for (const key of causes) state.causes.set(key, { count: state.causes.get(key)?.count ?? 0, lastTick: state.tick });
  state.runsBegun += 1;
  const delay = ticksOf(chain.delay, plan.level.rate);
  const run: ChainRun = {
    run: state.runsBegun,
    entry,
    triggeredBy: who,
    source: what,
    begun: delay === 0,
    steps: chain.steps.map(() => 'waiting'),
    pending: chain.steps.map(() => 0),
  };
  const runs = state.runs.get(chain.id);
  if (runs === undefined) state.runs.set(chain.id, [run]);
  else runs.push(run);
  touch(ctx, 'chains');
  if (delay === 0) advance(ctx, chain, run);
  else schedule(ctx, delay, { do: 'begin-run', chain: chain.id, run: run.run });
}

/** A chain's delay is over. */
export function beginDelayed(ctx: KernelContext, chainId: string, runNumber: number): void {
  const run = running(ctx, chainId, runNumber);
  if (run === undefined) return;
  run.begun = true;
  advance(ctx, chainOf(ctx, chainId), run);
}

/** A visitor has left a thing: delayed starts that it caused there are given up, where they are to be. */
export function giveUpLeft(ctx: ReportingContext, who: string, what: string): void {
  const leaving: { chain: Chain; run: ChainRun }[] = [];
  for (const [id, runs] of ctx.state.runs) {
    const chain = chainOf(ctx, id);
    if (!chain.givesUp) continue;
    for (const run of runs) if (!run.begun && run.triggeredBy === who && run.source === what) leaving.push({ chain, run });
  }
  leaving.sort((a, b) => a.run.run - b.run.run);
  for (const { chain, run } of leaving) {
    write(ctx, { kind: 'gave-up', who, what, chain: chain.id, cause: run.entry, details: { reason: 'left' } });
    endRun(ctx, chain, run);
  }
}

/** Ends every run of a chain where it stands, and forgets those that were to follow. */
function endRuns(ctx: ReportingContext, chainId: string, reason: DetailsOf['gave-up']['reason'], cause: number): void {
  const { state } = ctx;
  state.queued.delete(chainId);
  for (const run of [...(state.runs.get(chainId) ?? [])]) {
    write(ctx, { kind: 'gave-up', who: run.triggeredBy, chain: chainId, cause, details: { reason } });
    endRun(ctx, chainOf(ctx, chainId), run);
  }
}

/** Takes a run away; the next one that was queued begins in its turn. */
function endRun(ctx: WorldContext, chain: Chain, run: ChainRun): void {
  const { state } = ctx;
  const runs = state.runs.get(chain.id)!.filter((one) => one !== run);
  if (runs.length > 0) state.runs.set(chain.id, runs);
  else state.runs.delete(chain.id);
  state.untils = state.untils.filter((until) => until.chain !== chain.id || until.run !== run.run);
  touch(ctx, 'chains');
  if (runs.length === 0 && state.queued.has(chain.id)) state.queue.push({ do: 'begin-queued', chain: chain.id });
}

/** The next start that was queued behind a run begins, unless another has begun by now. */
export function beginQueued(ctx: KernelContext, chainId: string): void {
  const { state } = ctx;
  if (state.runs.has(chainId)) return;
  const next = state.queued.get(chainId)?.shift();
  if (next !== undefined) beginRun(ctx, chainOf(ctx, chainId), next);
}

/** A delayed step's time has come. */
export function startDelayed(ctx: KernelContext, chainId: string, runNumber: number, at: number): void {
  const run = running(ctx, chainId, runNumber);
  if (run === undefined) return;
  const chain = chainOf(ctx, chainId);
  runStep(ctx, chain, run, at);
  advance(ctx, chain, run);
}

/** Something that a step waited for has ended; when all of it has, what follows goes on in the same breath. */
export function finishStep(ctx: KernelContext, { chain: chainId, run: runNumber, step: at }: Omit<Waiter, 'entry'>): void {
  const run = running(ctx, chainId, runNumber);
  if (run?.steps[at] !== 'running') return;
  run.pending[at]! -= 1;
  if (run.pending[at]! > 0) return;
  run.steps[at] = 'done';
  ctx.state.untils = ctx.state.untils.filter((until) => until.run !== runNumber || until.step !== at);
  advance(ctx, chainOf(ctx, chainId), run);
}

/** A step has waited as long as it may; the chain goes on without what it waited for. */
export function giveUpWaiting(ctx: KernelContext, waiter: Omit<Waiter, 'entry'>): void {
  const run = running(ctx, waiter.chain, waiter.run);
  if (run?.steps[waiter.step] !== 'running') return;
  const { id } = chainOf(ctx, waiter.chain).steps[waiter.step]!;
  write(ctx, {
    kind: 'gave-up',
    who: run.triggeredBy,
    chain: waiter.chain,
    step: id,
    cause: run.entry,
    details: { reason: 'time limit' },
  });
  finishStep(ctx, waiter);
}

export function finishWaiters(ctx: KernelContext, waiters: readonly Waiter[]): void {
  for (const waiter of waiters) finishStep(ctx, waiter);
}

function chainOf({ plan }: WorldContext, id: string): Chain {
  return plan.level.chains[plan.chains.get(id)!]!;
}

function running({ state }: WorldContext, chainId: string, runNumber: number): ChainRun | undefined {
  return state.runs.get(chainId)?.find((run) => run.run === runNumber);
}

/** Begins every step whose turn has come, in order, and finishes the chain when all are done. */
function advance(ctx: KernelContext, chain: Chain, run: ChainRun): void {
  const isAlive = (): boolean => running(ctx, chain.id, run.run) === run;
  for (let at = 0; at < chain.steps.length && isAlive(); at++) {
    const step = chain.steps[at]!;
    if (run.steps[at] !== 'waiting' || !mayBegin(run, step, at)) continue;
    const delay = ticksOf(step.delay, ctx.plan.level.rate);
    if (delay === 0) {
      runStep(ctx, chain, run, at);
    } else {
      run.steps[at] = 'delayed';
      schedule(ctx, delay, { do: 'start-step', chain: chain.id, run: run.run, step: at });
    }
  }
  if (!isAlive() || run.steps.some((one) => one !== 'done')) return;
  const event = { kind: 'chain-finished', who: run.triggeredBy, what: chain.id, cause: run.entry, details: {} } as const;
  const entry = write(ctx, { kind: event.kind, who: run.triggeredBy, chain: chain.id, cause: run.entry });
  // Where nobody listens there is nothing to come.
  if (ctx.plan.listeners.get('chain-finished')!.has(chain.id)) ctx.state.queue.push({ do: 'tell', event, entry });
  endRun(ctx, chain, run);
}

function mayBegin(run: ChainRun, step: Step, at: number): boolean {
  if (at === 0) return true;
  if (step.start === 'with') return run.steps[at - 1] === 'running' || run.steps[at - 1] === 'done';
  return run.steps.slice(0, at).every((one) => one === 'done');
}

function runStep(ctx: KernelContext, chain: Chain, run: ChainRun, at: number): void {
  const step = chain.steps[at]!;
  const { targets, what, details } = actsOn(ctx, step, run.triggeredBy);
  const entry = write(ctx, {
    kind: 'step',
    who: run.triggeredBy,
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
  const stage = new ChainStepContext(ctx, run, step, waiter, acts);
  const outcome = details.problem === undefined ? kindOfStep(step.kind).run(step, stage, targets) : { done: true as const };
  run.pending[at] += waitFor(ctx, outcome, waiter, run.triggeredBy) - 1;
  if (run.pending[at] === 0) run.steps[at] = 'done';
  finishWaiters(ctx, stage.ended);
}

/** What the gates ask of a chain that is to start for a visitor. */
export function standingOf(ctx: KernelContext, chain: Chain, triggeredBy: string | null): NonNullable<GateInput['chain']> {
  const { state } = ctx;
  return {
    enabled: !state.disabled.has(chain.id),
    guard: () => {
      ctx.triggeredBy = triggeredBy;
      return ctx.conditions.of(chain.guard).verdict();
    },
    runs: state.runs.has(chain.id),
    whileRunning: chain.whileRunning,
  };
}

/** What a step does to chains: the gates of a chain stand before one that it starts. */
const acts: ChainActs = {
  start: (ctx, { triggeredBy: who, source: what }, entry, id) => {
    const chain = chainOf(ctx, id);
    const shut = firstFailure({ chain: standingOf(ctx, chain, who) });
    if (shut !== null) {
      write(ctx, { kind: 'held', who, what, chain: id, cause: entry, details: { event: 'step', ...shut } });
      return;
    }
    // A chain that starts itself again and again does not come to an end either.
    ctx.state.depth += 1;
    count(ctx);
    startRun(ctx, chain, { entry, who, what, kind: 'step', causes: [] });
    ctx.state.depth -= 1;
  },
  stop: (ctx, entry, id) => endRuns(ctx, id, 'stopped', entry),
  reset: (ctx, { triggeredBy }, entry, id) => {
    const { state } = ctx;
    endRuns(ctx, id, 'reset', entry);
    const causes = new Set(chainOf(ctx, id).causes.map((cause) => cause.id));
    for (const key of [...state.causes.keys()]) if (causes.has(key.split(' ')[0]!)) state.causes.delete(key);
    const details = { field: 'reset', from: false, to: true } as const;
    raiseFromStep(ctx, { kind: 'changed', who: triggeredBy, what: id, cause: entry, details });
  },
};

/** Lets a step wait for what it said; how many more things it waits for than those that it has set in motion. */
function waitFor(ctx: KernelContext, outcome: Outcome, waiter: Waiter, triggeredBy: string | null): number {
  const { state } = ctx;
  if ('done' in outcome) return 0;
  if ('ticks' in outcome) {
    schedule(ctx, outcome.ticks, { do: 'finish-step', ...waiter });
    return 1;
  }
  if ('cue' in outcome) {
    const item = { do: 'cue-end', cue: outcome.cue, cause: outcome.cause, triggeredBy, waiter } as const;
    if (outcome.length === 0) state.queue.push(item);
    else schedule(ctx, outcome.length, item);
    return 1;
  }
  ctx.triggeredBy = triggeredBy;
  if (ctx.conditions.of(outcome.until).verdict().holds) return 0;
  state.untils.push({
    chain: waiter.chain,
    run: waiter.run,
    step: waiter.step,
    text: outcome.until,
    triggeredBy,
    resumeQueued: false,
  });
  if (outcome.limit !== null) {
    const item = { do: 'finish-step', ...waiter, gaveUp: true } as const;
    if (outcome.limit === 0) state.queue.push(item);
    else schedule(ctx, outcome.limit, item);
  }
  return 1;
}
