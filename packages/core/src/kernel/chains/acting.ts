import { idsByTag } from '../../conditions/known';
import { startCue } from '../state/cues';
import type { Vector } from '../../vocabulary/quantities';
import { kindOfStep } from '../../kinds/steps';
import { article } from '../../vocabulary/phrase';
import type { Step, Who } from '../../kinds/steps';
import { claim, collect, giveUp } from '../physics/belongings';
import { change, enterThoseInside, resetFixture } from '../physics/changes';
import type { Address, DetailsOf } from '../../ledger/entry';
import { sendMachine, putMachine } from '../physics/machines';
import {
  pushVisitor,
  releaseOrHold,
  removeVisitor,
  spawnVisitor,
  stopVelocity,
  turnVisitor,
  walkVisitor,
} from '../physics/people';
import type { WorldContext, ReportingContext, EventContext, KernelContext } from '../state/context';
import { standOf } from '../physics/spots';
import type { Outcome, Part, StepContext } from '../../kinds/steps/stage';
import type { Journey, Place } from '../../vocabulary/places';
import { insideOf } from '../state/world';
import type { ChainRun, VisitorState, Waiter } from '../state/world';
import { ticksOf } from '../../vocabulary/ticks';
import { travel } from '../sensing/travel';
import { roundTo } from '../../vocabulary/rounding';
import { raiseFromStep, write } from '../state/raising';
import { factOf } from '../state/facts';

/** What a step acts on: the ids of its targets, the one that its entry names, and what the entry says. */
export interface ActsOn {
  targets: string[];
  what: string | null;
  details: DetailsOf['step'];
}

/** Finds the targets of a step. Its details name a problem if there are none where one is needed. */
export function actsOn(ctx: WorldContext, step: Step, triggeredBy: string | null): ActsOn {
  const { things } = ctx.plan;
  if ('who' in step) {
    const targets = visitorsMeant(ctx, step.who, triggeredBy);
    const what = targets.length === 1 ? targets[0]! : null;
    return { targets, what, details: targets.length > 0 ? { do: step.kind } : { do: step.kind, problem: 'nobody' } };
  }
  const [reference] = kindOfStep(step.kind).references(step);
  if ('tagged' in step && step.tagged !== '' && reference !== undefined) {
    const tagged = taggedThings(ctx, step.tagged);
    const targets = tagged.filter((id) => reference.accepts.includes(things.get(id)!.word));
    const details = { do: step.kind, tag: step.tagged };
    const problem = tagged.length > 0 ? 'nothing with this tag that can do this' : 'nothing with this tag';
    return { targets, what: null, details: targets.length > 0 ? details : { ...details, problem } };
  }
  if (reference === undefined) return { targets: [], what: null, details: { do: step.kind } };
  const found = things.get(reference.to);
  const there = found !== undefined && reference.accepts.includes(found.word);
  return {
    targets: there ? [reference.to] : [],
    what: reference.to,
    details: there
      ? { do: step.kind }
      : {
          do: step.kind,
          problem: found === undefined ? 'no such target' : `nothing that ${article(found.word)} ${found.word} can do`,
        },
  };
}

/** The zones and fixtures that have a tag, in listing order. */
function taggedThings({ plan }: WorldContext, tag: string): string[] {
  return (idsByTag(plan.things).get(tag) ?? []).filter((id) => !plan.visitorOf.has(id));
}

function visitorsMeant({ plan, state }: WorldContext, who: Who, triggeredBy: string | null): string[] {
  switch (who.by) {
    case 'cause':
      return triggeredBy === null ? [] : [triggeredBy];
    case 'name':
      return plan.visitorOf.has(who.visitor) ? [who.visitor] : [];
    case 'tag':
      return state.visitors
        .filter((one) => one.inPlay && plan.visitors[one.order]!.visitor.tags.includes(who.tag))
        .map((one) => one.id);
    case 'holder': {
      const order = plan.visitorOf.get(who.prop);
      const holder = order === undefined ? null : state.visitors[order]!.lastHolder;
      return holder === null ? [] : [holder];
    }
    case 'inside': {
      const number = plan.volumeOf.get(who.zone);
      if (number === undefined) return [];
      return [...insideOf(state, number)].sort((a, b) => a - b).map((order) => state.visitors[order]!.id);
    }
  }
}

/** What a step may do to chains. */
export interface ChainActs {
  start(ctx: KernelContext, run: ChainRun, entry: number, id: string): void;
  stop(ctx: ReportingContext, entry: number, id: string): void;
  reset(ctx: EventContext, run: ChainRun, entry: number, id: string): void;
}

/**
 * What a step of a run may do. What the step sets in motion it waits for from the very first, so that it is known to whatever is
 * drained at once.
 */
export class ChainStepContext implements StepContext {
  readonly triggeredBy: string | null;
  /** The steps that end because this one turned their motions back. */
  readonly ended: Waiter[] = [];
  private readonly entry: number;

  constructor(
    private readonly ctx: KernelContext,
    private readonly run: ChainRun,
    private readonly step: Step,
    private readonly waiter: Waiter,
    private readonly chains: ChainActs,
  ) {
    this.triggeredBy = run.triggeredBy;
    this.entry = waiter.entry;
  }

  ticksOf(seconds: number): number {
    return ticksOf(seconds, this.ctx.plan.level.rate);
  }

  change(part: Part, id: string, to: boolean | string | number): boolean {
    return change(this.ctx, part, id, to, this.entry, this.triggeredBy);
  }

  counter(id: string): number {
    return Number(factOf(this.ctx, id, this.triggeredBy));
  }

  worded(text: string): string {
    return text.replaceAll('{visitor}', this.triggeredBy === null ? '' : visitorName(this.ctx, this.triggeredBy));
  }

  move(ids: readonly string[], to: Parameters<StepContext['move']>[1]): void {
    const { ctx, entry, triggeredBy, ended } = this;
    for (const id of ids) {
      if (to === 'again') ended.push(...putMachine(ctx, id, 0));
      const sent = sendMachine(ctx, id, this.goalOf(id, to), entry, triggeredBy);
      ended.push(...sent.ended);
      const { motion } = ctx.state.machines.get(id)!;
      if (motion !== null) this.waitFor(motion.waiters);
      if (sent.event !== null) raiseFromStep(ctx, sent.event.happening, { motionBegan: sent.event.motion });
    }
  }

  /** The position that a machine is sent to. */
  private goalOf(id: string, to: Parameters<StepContext['move']>[1]): number {
    const { plan, state } = this.ctx;
    const last = plan.courses.get(id)!.frames.length - 1;
    if (typeof to === 'number') return Math.min(to - 1, last);
    if (to === 'closed') return 0;
    const { motion, clock } = state.machines.get(id)!;
    return to === 'other' && (motion?.to ?? clock) !== 0 ? 0 : last;
  }

  enterThoseInside(id: string): void {
    enterThoseInside(this.ctx, id, this.entry);
  }

  signal(id: string, to: Parameters<StepContext['signal']>[1]): void {
    const { ctx, run, entry: cause, triggeredBy: who } = this;
    raiseFromStep(ctx, { kind: 'signal', who, what: id, cause, ...addressOf(ctx, run, to) });
  }

  cue(id: string): Outcome {
    const { ctx, entry: cause, triggeredBy: who } = this;
    return { cue: id, cause, length: startCue(ctx, id, cause, who) };
  }

  travel(id: string, journey: Journey, toAnotherRoom: boolean): void {
    this.unless(id, travel(this.ctx, this.visitor(id), journey, toAnotherRoom, this.entry, this.triggeredBy));
  }

  claim(id: string): void {
    claim(this.ctx, id, this.entry, this.triggeredBy);
  }

  giveUp(id: string): void {
    giveUp(this.ctx, id, this.entry, this.triggeredBy);
  }

  collect(id: string): void {
    collect(this.ctx, id, this.entry, this.triggeredBy);
  }

  spawn(id: string, at: Place | null): void {
    this.unless(id, spawnVisitor(this.ctx, this.visitor(id), at, this.entry, this.triggeredBy));
  }

  remove(id: string): void {
    removeVisitor(this.ctx, this.visitor(id), this.entry, this.triggeredBy);
  }

  control(id: string, held: boolean): void {
    releaseOrHold(this.ctx, this.visitor(id), held, this.entry, this.triggeredBy);
  }

  walk(id: string, to: Place): void {
    const walked = walkVisitor(this.ctx, this.visitor(id), to, this.entry, this.triggeredBy);
    this.ended.push(...walked.ended);
    if (walked.problem === null) this.waitFor(this.visitor(id).forced!.waiters);
    else this.unless(id, walked.problem);
  }

  push(id: string, velocity: Vector, seconds: number): void {
    this.unless(id, pushVisitor(this.ctx, this.visitor(id), velocity, seconds, this.entry));
  }

  turn(id: string, degrees: number, facing: Place | null): void {
    this.unless(id, turnVisitor(this.ctx, this.visitor(id), degrees, facing));
  }

  stopVelocity(id: string): void {
    stopVelocity(this.ctx, this.visitor(id));
  }

  startChain(id: string): void {
    this.chains.start(this.ctx, this.run, this.entry, id);
  }

  stopChain(id: string): void {
    this.chains.stop(this.ctx, this.entry, id);
  }

  resetChain(id: string): void {
    this.chains.reset(this.ctx, this.run, this.entry, id);
  }

  resetFixture(id: string): void {
    this.ended.push(...resetFixture(this.ctx, id, this.entry, this.triggeredBy));
  }

  private visitor(id: string): VisitorState {
    const { state, plan } = this.ctx;
    return state.visitors[plan.visitorOf.get(id)!]!;
  }

  private waitFor(waiters: Waiter[]): void {
    waiters.push(this.waiter);
    this.run.pending[this.waiter.step]! += 1;
  }

  /** Says why nothing came of a step for one of its visitors. */
  private unless(id: string, problem: string | null): void {
    if (problem === null) return;
    const { step, waiter, triggeredBy: who, entry: cause } = this;
    const details = { event: step.kind, reason: 'impossible', problem } as const;
    write(this.ctx, { kind: 'held', who, what: id, chain: waiter.chain, step: step.id, cause, details });
  }
}

function visitorName({ plan }: WorldContext, id: string): string {
  return plan.things.get(id)?.thing.name.trim() ?? id;
}

/** To whom a signal goes; one with a radius goes out from the visitor in hand, else from what set the chain off. */
function addressOf(
  ctx: ReportingContext,
  run: ChainRun,
  to: Parameters<StepContext['signal']>[1],
): { details: Address; origin?: { room: string; at: Vector } } {
  if ('all' in to) return { details: { to: 'all' } };
  if ('tag' in to) return { details: { to: 'tag', tag: to.tag } };
  const { room, at } = standOf(ctx, run.triggeredBy ?? run.source ?? '') ?? { room: '', at: { x: 0, y: 0, z: 0 } };
  const origin = { room, at: { x: roundTo(at.x, 6), y: roundTo(at.y, 6), z: roundTo(at.z, 6) } };
  const from = [origin.at.x, origin.at.y, origin.at.z].join(' ');
  return { details: { to: 'radius', metres: to.radius, room, from }, origin };
}
