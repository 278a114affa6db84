import type { Vector } from '../../vocabulary/quantities';
import { kindOfStep } from '../../kinds/steps';
import { article } from '../../vocabulary/phrase';
import type { Step, Who } from '../../kinds/steps';
import { claim, collect, giveUp } from '../bodies/belongings';
import { change, enterThoseInside, factOf, resetFixture } from './changes';
import type { Address, DetailsOf } from '../../ledger/entry';
import { sendMachine, putMachine } from '../motion/machines';
import {
  pushVisitor,
  releaseOrHold,
  removeVisitor,
  spawnVisitor,
  stopVelocity,
  turnVisitor,
  walkVisitor,
} from '../bodies/people';
import { raiseFromStep, write } from '../rehearsing';
import type { Rehearsing } from '../rehearsing';
import { standOf } from '../bodies/spots';
import type { Stage } from '../../kinds/steps/stage';
import { insideOf } from '../world';
import type { ChainRun, Waiter } from '../world';
import { ticksOf } from '../../vocabulary/ticks';
import { travel } from '../bodies/travel';

/** What a step acts on: the ids of its targets, the one that its entry names, and what the entry says. */
export interface ActsOn {
  targets: string[];
  what: string | null;
  details: DetailsOf['step'];
}

/** Finds the targets of a step. Its details name a problem if there are none where one is needed. */
export function actsOn(rehearsing: Rehearsing, step: Step, hand: string | null): ActsOn {
  const { things } = rehearsing.plan;
  if ('who' in step) {
    const targets = visitorsMeant(rehearsing, step.who, hand);
    const what = targets.length === 1 ? targets[0]! : null;
    return { targets, what, details: targets.length > 0 ? { do: step.kind } : { do: step.kind, problem: 'nobody' } };
  }
  const [reference] = kindOfStep(step.kind).references(step);
  if ('tagged' in step && step.tagged !== '' && reference !== undefined) {
    const tagged = taggedThings(rehearsing, step.tagged);
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
function taggedThings({ plan }: Rehearsing, tag: string): string[] {
  return [...plan.level.zones, ...plan.level.fixtures].filter((one) => one.tags.includes(tag)).map((one) => one.id);
}

function visitorsMeant({ plan, state }: Rehearsing, who: Who, hand: string | null): string[] {
  switch (who.by) {
    case 'cause':
      return hand === null ? [] : [hand];
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
  start(id: string): void;
  stop(id: string): void;
  reset(id: string): void;
}

/**
 * What a step of a run may do. `ended` gathers the steps that end because it turned their motions back. What the step sets in
 * motion it waits for from the very first, so that it is known to whatever is drained at once.
 */
export function stageFor(
  rehearsing: Rehearsing,
  run: ChainRun,
  step: Step,
  waiter: Waiter,
  chains: ChainActs,
): { stage: Stage; ended: Waiter[] } {
  const { plan, state } = rehearsing;
  const { hand } = run;
  const { entry } = waiter;
  const ended: Waiter[] = [];
  const visitor = (id: string) => state.visitors[plan.visitorOf.get(id)!]!;
  const waitFor = (waiters: Waiter[]): void => {
    waiters.push(waiter);
    run.pending[waiter.step]! += 1;
  };
  /** Says why nothing came of a step for one of its visitors. */
  const unless = (id: string, problem: string | null): void => {
    if (problem === null) return;
    const details = { event: step.kind, reason: 'impossible', problem } as const;
    write(rehearsing, { kind: 'held', who: hand, what: id, chain: waiter.chain, step: step.id, cause: entry, details });
  };
  const stage: Stage = {
    hand,
    ticksOf: (seconds) => ticksOf(seconds, plan.level.rate),
    change: (part, id, to) => change(rehearsing, part, id, to, entry, hand),
    counter: (id) => Number(factOf(rehearsing, id, hand)),
    worded: (text) => text.replaceAll('{visitor}', hand === null ? '' : visitorName(rehearsing, hand)),
    move: (ids, to) => {
      for (const id of ids) {
        const { frames } = plan.courses.get(id)!;
        const own = state.machines.get(id)!;
        const last = frames.length - 1;
        if (to === 'again') ended.push(...putMachine(rehearsing, id, 0));
        const goal =
          typeof to === 'number'
            ? Math.min(to - 1, last)
            : to === 'closed'
              ? 0
              : to === 'other'
                ? (own.motion?.to ?? own.clock) === 0
                  ? last
                  : 0
                : last;
        const sent = sendMachine(rehearsing, id, goal, entry, hand);
        ended.push(...sent.ended);
        if (own.motion !== null) waitFor(own.motion.waiters);
        if (sent.event !== null) raiseFromStep(rehearsing, sent.event.happening, { motionBegan: sent.event.motion });
      }
    },
    enterThoseInside: (id) => enterThoseInside(rehearsing, id, entry),
    signal: (id, to) =>
      raiseFromStep(rehearsing, { kind: 'signal', who: hand, what: id, cause: entry, ...addressOf(rehearsing, run, to) }),
    cue: (id) => {
      const { medium, seconds } = plan.cues.get(id)!;
      const length = ticksOf(seconds, plan.level.rate);
      raiseFromStep(rehearsing, { kind: 'cue-started', who: hand, what: id, cause: entry, details: { medium, ticks: length } });
      return { cue: id, cause: entry, length };
    },
    travel: (id, journey, warp) => unless(id, travel(rehearsing, visitor(id), journey, warp, entry, hand)),
    claim: (id) => claim(rehearsing, id, entry, hand),
    giveUp: (id) => giveUp(rehearsing, id, entry, hand),
    collect: (id) => collect(rehearsing, id, entry, hand),
    spawn: (id, at) => unless(id, spawnVisitor(rehearsing, visitor(id), at, entry, hand)),
    remove: (id) => removeVisitor(rehearsing, visitor(id), entry, hand),
    control: (id, held) => releaseOrHold(rehearsing, visitor(id), held, entry, hand),
    walk: (id, to) => {
      const walked = walkVisitor(rehearsing, visitor(id), to, entry, hand);
      ended.push(...walked.ended);
      if (walked.problem === null) waitFor(visitor(id).forced!.waiters);
      else unless(id, walked.problem);
    },
    push: (id, velocity, seconds) => unless(id, pushVisitor(rehearsing, visitor(id), velocity, seconds, entry)),
    turn: (id, degrees, facing) => unless(id, turnVisitor(rehearsing, visitor(id), degrees, facing)),
    stopVelocity: (id) => stopVelocity(rehearsing, visitor(id)),
    startChain: chains.start,
    stopChain: chains.stop,
    resetChain: chains.reset,
    resetFixture: (id) => ended.push(...resetFixture(rehearsing, id, entry, hand)),
  };
  return { stage, ended };
}

function visitorName({ plan }: Rehearsing, id: string): string {
  return plan.things.get(id)?.thing.name.trim() ?? id;
}

/** To whom a signal goes; one with a radius goes out from the visitor in hand, else from what set the chain off. */
function addressOf(
  rehearsing: Rehearsing,
  run: ChainRun,
  to: Parameters<Stage['signal']>[1],
): { details: Address; origin?: { room: string; at: Vector } } {
  if ('all' in to) return { details: { to: 'all' } };
  if ('tag' in to) return { details: { to: 'tag', tag: to.tag } };
  const { room, at } = standOf(rehearsing, run.hand ?? run.source ?? '') ?? { room: '', at: { x: 0, y: 0, z: 0 } };
  const rounded = (metres: number): number => Math.round(metres * 1e6) / 1e6 + 0;
  const origin = { room, at: { x: rounded(at.x), y: rounded(at.y), z: rounded(at.z) } };
  const from = [origin.at.x, origin.at.y, origin.at.z].join(' ');
  return { details: { to: 'radius', metres: to.radius, room, from }, origin };
}
