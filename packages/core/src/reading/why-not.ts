import { conditionWords } from '../conditions/by-names';
import type { Chain } from '../document/chains';
import { change } from '../document/edits';
import type { Level } from '../document/level';
import { lookup, nameOf } from '../document/lookup';
import type { Visitor } from '../document/people';
import { connections } from '../document/references';
import type { Cause } from '../kinds/causes/cause';
import { kindOfFixture } from '../kinds/fixtures';
import type { Fixture } from '../kinds/fixtures';
import { kindOfStep } from '../kinds/steps';
import type { Step } from '../kinds/steps';
import type { Entry } from '../ledger/entry';
import type { CauseEvent } from '../vocabulary/events';
import { spoken } from '../vocabulary/phrase';
import { kindOfCause } from '../kinds/causes';
import type { Run } from './approach';
import type { Expectation } from '../document/walks';
import { cameAbout } from './came-about';
import { entrySentence } from './entries';
import { isMatch } from './expectations';
import { keptOut, nearestTo } from './obstacles';
import { MAX_CHAIN_DEPTH, unmet } from './unmet';
import type { Answering } from './unmet';
import { at, nothing, quoted, reason, remedyOf } from './reason';
import type { Reason } from './reason';

/**
 * Why nothing happened at a thing, a chain or a visitor in a run, or what did: never reached, held, given up, found so already,
 * undone later; or why an expectation of a walk was not met. The first reason is the nearest; from a condition that is false it goes
 * on to what should have made it true.
 */
export function whyNot(level: Level, run: Run, id: string): Reason[] {
  return eachOnce(new WhyNotAnalysis(level, run).of(id));
}

function expectationIn(level: Level, id: string): Expectation | undefined {
  return level.walks.flatMap(({ expectations }) => expectations).find((one) => one.id === id);
}

/** Why a step of a chain did nothing in a run, or what it did. */
export function whyNotStep(level: Level, run: Run, chain: string, step: string): Reason[] {
  return eachOnce(new WhyNotAnalysis(level, run).ofOneStep(chain, step));
}

/** No sentence is said twice: what several chains wait for is named once. */
function eachOnce(reasons: readonly Reason[]): Reason[] {
  const said = new Set<string>();
  return reasons.filter(({ says }) => !said.has(says) && said.add(says));
}

class WhyNotAnalysis implements Answering {
  private readonly things;
  readonly entries: readonly Entry[];
  private readonly asked = new Set<string>();

  constructor(
    readonly level: Level,
    readonly run: Run,
  ) {
    this.things = lookup(level);
    this.entries = [...run.ledger];
  }

  of(id: string, depth = 0): Reason[] {
    if (this.asked.has(id) || depth > MAX_CHAIN_DEPTH) return [];
    this.asked.add(id);
    const found = this.things.get(id);
    switch (found?.collection) {
      case 'chains':
        return this.ofChain(found.thing as Chain, depth);
      case 'visitors':
        return this.ofVisitor(found.thing as Visitor);
      case undefined:
        return this.ofExpectation(expectationIn(this.level, id));
      default:
        return this.ofThing(id, depth);
    }
  }

  /** What was expected: why it did not happen, or what made it happen. */
  private ofExpectation(expectation: Expectation | undefined): Reason[] {
    if (expectation === undefined) return [reason('This is not in the level any more.')];
    if (expectation.expect === 'at-end') return unmet(this, expectation.state, 0);
    const { chain, what, who } = expectation.entry;
    const found = this.entries.filter((entry) => isMatch(entry, expectation.entry));
    const tooOften = expectation.expect === 'never' || (expectation.expect === 'exactly' && found.length > expectation.times);
    if (tooOften) return found.slice(0, 3).map((entry) => cameAbout(this.level, this.entries, entry));
    const [first] = found;
    if (expectation.expect === 'before' && first !== undefined) {
      const then = this.entries.find((entry) => isMatch(entry, expectation.then));
      return [then, first].flatMap((entry) => (entry === undefined ? [] : [cameAbout(this.level, this.entries, entry)]));
    }
    if (expectation.expect === 'within' && first !== undefined) return [cameAbout(this.level, this.entries, first)];
    const about = [chain, what, who].find((id) => id !== '' && this.things.has(id));
    return about === undefined ? [] : this.of(about);
  }

  ofOneStep(chainId: string, stepId: string): Reason[] {
    const chain = this.things.get(chainId)?.thing as Chain | undefined;
    const step = chain?.steps?.find(({ id }) => id === stepId);
    if (chain === undefined || step === undefined) return [reason('This is not in the level any more.')];
    const done = this.entries.filter((one) => one.kind === 'step' && one.chain === chainId && one.step === stepId);
    const [first] = done;
    // What never started has no step that could have done anything.
    if (first === undefined && this.entries.every(({ kind, chain: own }) => kind !== 'chain-started' || own !== chainId))
      return this.ofChain(chain, 0);
    const wrong = this.ofStep(chain, step, 0);
    if (first === undefined) return [...wrong, ...this.gaveUp(chain)];
    const effects = this.entries.filter(({ cause }) => cause === first.number);
    const numbers = [first, ...effects].map(({ number }) => number);
    const times = done.length === 1 ? 'once' : `${done.length} times, first`;
    const came = effects.length === 0 ? '' : `, and ${this.say(effects[0]!)}`;
    return [reason(`${this.said(step)} was done ${times} at ${at(first)}${came}.`, numbers), ...wrong];
  }

  private ofChain(chain: Chain, depth: number): Reason[] {
    const name = this.name(chain.id);
    const started = this.entries.filter(({ kind, chain: own }) => kind === 'chain-started' && own === chain.id);
    const held = this.entries.filter(({ kind, chain: own }) => kind === 'held' && own === chain.id);
    const [first] = started;
    if (first !== undefined) {
      const times = started.length === 1 ? 'once' : `${started.length} times`;
      const fired = reason(
        `${name} did start, ${times}, first at ${at(first)}.`,
        started.map(({ number }) => number),
      );
      return [
        fired,
        ...this.gaveUp(chain),
        ...chain.steps.flatMap((step) => this.ofStep(chain, step, depth)),
        ...this.heldBack(chain, held, depth),
      ];
    }
    if (held.length > 0) return this.heldBack(chain, held, depth);
    if (!chain.enabled)
      return [{ ...reason(`${name} is switched off.`), mend: 'Switch it on.', edit: change('chains', chain, { enabled: true }) }];
    if (chain.causes.length === 0) return [reason(`${name} was never triggered: it has no cause.`, [], 'Add a cause.')];
    return chain.causes.flatMap((cause) => this.ofCause(chain, cause, depth));
  }

  /** What was held, once for each reason, with its remedy. */
  private heldBack(chain: Chain, held: readonly Entry[], depth: number): Reason[] {
    const byReason = new Map<string, Entry[]>();
    for (const entry of held) {
      if (entry.kind !== 'held') continue;
      const key = `${entry.details.reason} ${entry.who ?? ''}`;
      byReason.set(key, [...(byReason.get(key) ?? []), entry]);
    }
    return [...byReason.values()].flatMap((entries) => {
      const [first] = entries;
      const times = entries.length === 1 ? '' : `, ${entries.length} times`;
      const held = {
        ...reason(
          `Held at ${at(first!)}${times}: ${this.say(first!)}.`,
          entries.map(({ number }) => number),
        ),
        ...remedyOf(this.level, chain, first!),
      };
      const isUntrue = first!.kind === 'held' && first!.details.reason === 'condition-false';
      return isUntrue ? [held, ...unmet(this, chain.guard, depth + 1, first)] : [held];
    });
  }

  private gaveUp(chain: Chain): Reason[] {
    return this.entries
      .filter(({ kind, chain: own }) => kind === 'gave-up' && own === chain.id)
      .slice(0, 3)
      .map((entry) => reason(`It gave up at ${at(entry)}: ${this.say(entry)}.`, [entry.number]));
  }

  /** A step that was never come to, that found nobody, that changed nothing, or whose effect was undone. */
  private ofStep(chain: Chain, step: Step, depth: number): Reason[] {
    const said = this.said(step);
    const done = this.entries.filter(
      ({ kind, chain: own, step: which }) => kind === 'step' && own === chain.id && which === step.id,
    );
    const [first] = done;
    if (first === undefined) return [reason(`${said} was never reached.`)];
    const [awaited] = kindOfStep(step.kind).conditions?.(step) ?? [];
    if (awaited !== undefined && !this.goesOn(chain, first)) {
      const until = conditionWords(awaited.text, (id) => nameOf(this.level, id));
      return [
        reason(`${this.name(chain.id)} waits from ${at(first)} on until ${until}.`, [first.number]),
        ...unmet(this, awaited.text, depth + 1),
      ];
    }
    const problem = done.find((entry) => entry.kind === 'step' && entry.details.problem !== undefined);
    if (problem?.kind === 'step') return [reason(`${said} at ${at(problem)}: ${problem.details.problem!}.`, [problem.number])];
    if (changesNothingByNature.has(step.kind)) return [];
    const effects = this.entries.filter(
      ({ cause, kind }) => cause === first.number && kind !== 'step' && kind !== 'chain-finished',
    );
    if (effects.length === 0 && first.what !== null)
      return [reason(`${said} at ${at(first)} changed nothing: already in that state.`, [first.number])];
    const last = effects.at(-1);
    return last === undefined ? [] : this.undone(said, last);
  }

  /** Whether a run of a chain came beyond a step: to another step, to its end, or gave up. */
  private goesOn(chain: Chain, step: Entry): boolean {
    return this.entries.some(
      ({ number, kind, chain: own }) =>
        number > step.number && own === chain.id && (kind === 'step' || kind === 'chain-finished' || kind === 'gave-up'),
    );
  }

  /** What was changed and later changed back, by what. */
  private undone(said: string, effect: Entry): Reason[] {
    if (effect.kind === 'changed') {
      const { field, from } = effect.details;
      const back = this.entries.find(
        (one) =>
          one.number > effect.number &&
          one.kind === 'changed' &&
          one.what === effect.what &&
          one.details.field === field &&
          one.details.to === from,
      );
      if (back !== undefined)
        return [reason(`${said} at ${at(effect)} was undone at ${at(back)}: ${this.say(back)}.`, [back.number, effect.number])];
    }
    if (effect.kind === 'moving') {
      const back = this.entries.find(
        (one) =>
          one.number > effect.number && one.kind === 'moving' && one.what === effect.what && one.details.to !== effect.details.to,
      );
      if (back?.kind === 'moving') {
        const turned = back.details.turnedBack === true ? 'was turned back' : 'went back';
        return [
          reason(`${this.name(effect.what ?? '')} ${turned} at ${at(back)}: ${this.say(back)}.`, [back.number, effect.number]),
        ];
      }
    }
    return [];
  }

  private ofCause(chain: Chain, cause: Cause, depth: number): Reason[] {
    if (cause.of === '' || !this.things.has(cause.of))
      return [reason(`A cause of ${this.name(chain.id)} has no source.`, [], 'Choose its source.')];
    const raised = this.entries.filter(({ kind, what }) => kind === cause.on && what === cause.of);
    const what = this.name(cause.of);
    if (raised.length > 0)
      return [
        reason(
          `${what}: ${this.say(raised[0]!)} at ${at(raised[0]!)}, but the chain did not start.`,
          raised.map(({ number }) => number),
        ),
      ];
    const heldThere = this.entries.filter(
      (one) => one.kind === 'held' && one.what === cause.of && one.details.event === cause.on,
    );
    if (heldThere.length > 0) return this.heldBack(chain, heldThere, depth);
    const shut = keptOut(this.level, this.entries, cause.of, cause.on);
    if (kindOfCause(cause.on).saidOf === 'visitor') return [...shut, nearestTo(this.level, this.run, cause)];
    return [reason(`${what} ${negated(kindOfCause(cause.on).verb)}.`), ...this.source(cause.of, cause.on, depth)];
  }

  /** What should have made a thing do something: the chains that act on it, or what a watch waits for. */
  private source(id: string, on: CauseEvent, depth: number): Reason[] {
    const found = this.things.get(id);
    if (found?.collection === 'watches') {
      const { when } = found.thing as { when: string } & typeof found.thing;
      return [
        reason(`It waits until ${conditionWords(when, (one) => nameOf(this.level, one))}.`),
        ...(on === 'became-true' ? unmet(this, when, depth + 1) : []),
      ];
    }
    const { actedOnBy } = connections(this.level, id);
    if (actedOnBy.length === 0 && ['signal', 'opened', 'closed', 'chain-finished'].includes(on))
      return [reason(`No chain acts on ${this.name(id)}.`, [], 'Let a step act on it.')];
    return actedOnBy.flatMap((chain) => this.of(chain, depth + 1));
  }

  private ofThing(id: string, depth: number): Reason[] {
    const own = this.entries.filter(({ what, kind }) => what === id && kind !== 'held');
    const held = this.entries.filter((one) => one.kind === 'held' && one.what === id && one.chain === null);
    const reasons: Reason[] = [];
    const [first] = own;
    if (first !== undefined) {
      const more = own.length === 1 ? '' : `, and ${own.length - 1} more`;
      reasons.push(
        reason(
          `At ${at(first)} ${this.say(first)}${more}.`,
          own.map(({ number }) => number),
        ),
      );
    }
    for (const entry of held.slice(0, 3)) reasons.push(reason(`Held at ${at(entry)}: ${this.say(entry)}.`, [entry.number]));
    reasons.push(...keptOut(this.level, this.entries, id));
    const { setsOff, actedOnBy } = connections(this.level, id);
    const found = this.things.get(id)!;
    const passes = found.collection === 'fixtures' && kindOfFixture((found.thing as Fixture).kind).entered !== undefined;
    if (setsOff.length === 0 && actedOnBy.length === 0 && !passes)
      reasons.push(reason(`No chain uses ${this.name(id)}.`, [], 'Add a chain for it.'));
    return [...reasons, ...[...setsOff, ...actedOnBy].flatMap((chain) => this.of(chain, depth + 1))];
  }

  private ofVisitor(visitor: Visitor): Reason[] {
    const name = this.name(visitor.id);
    const walks = this.run.tracks.visitors.has(visitor.id);
    const blocked = this.entries.filter(
      ({ kind, who, what }) => kind === 'blocked' && (who === visitor.id || what === visitor.id),
    );
    const held = this.entries.filter(({ kind, who }) => kind === 'held' && who === visitor.id);
    const spawned = this.entries.some(({ kind, what }) => kind === 'spawned' && what === visitor.id);
    const bumps = this.entries.filter(({ kind, who }) => kind === 'bump' && who === visitor.id);
    const bumped = [...new Set(bumps.flatMap(({ what }) => (what === null ? [] : [what])))];
    return [
      ...(visitor.inPlay || spawned
        ? []
        : [
            {
              ...reason(`${name} is not in play, and nothing spawned it.`, [], 'Put it in play.'),
              edit: change('visitors', visitor, { inPlay: true }),
            },
          ]),
      ...(walks ? [] : [reason(`${name} does not move in this walk.`, [], 'Give it a route.')]),
      ...(visitor.raisesOverlaps
        ? []
        : [
            {
              ...reason(`${name} raises no overlaps.`),
              mend: 'Turn on “raises overlaps”.',
              edit: change('visitors', visitor, { raisesOverlaps: true }),
            },
          ]),
      ...bumped.slice(0, 3).flatMap((id) => keptOut(this.level, this.entries, id)),
      ...blocked.slice(0, 2).map((entry) => reason(`At ${at(entry)} ${this.say(entry)}.`, [entry.number])),
      ...held.slice(0, 5).map((entry) => {
        const chain = this.things.get(entry.chain ?? '')?.thing as Chain | undefined;
        const remedy = chain === undefined ? nothing : remedyOf(this.level, chain, entry);
        return { ...reason(`Held at ${at(entry)}: ${this.say(entry)}.`, [entry.number]), ...remedy };
      }),
    ];
  }

  private say(entry: Entry): string {
    return entrySentence(entry, (id) => nameOf(this.level, id), this.level);
  }

  private said(step: Step): string {
    return `“${spoken(kindOfStep(step.kind).phrase(step), (id) => nameOf(this.level, id))}”`;
  }

  private name(id: string): string {
    return quoted(this.level, id);
  }
}

/** Steps that are over when they are done: there is nothing of theirs to look for. */
const changesNothingByNature: ReadonlySet<string> = new Set([
  'wait',
  'wait-until',
  'stop-velocity',
  'turn',
  'push',
  'walk-visitor',
]);

/** A verb of a cause, denied: "was never pressed", "has never opened", "never becomes true". */
function negated(verb: string): string {
  if (verb.startsWith('is ')) return `was never ${verb.slice(3)}`;
  return verb.startsWith('has ') ? `has never ${verb.slice(4)}` : `never ${verb}`;
}
