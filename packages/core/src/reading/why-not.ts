import { conditionWords } from '../conditions/clauses';
import type { Chain } from '../document/chains';
import { change } from '../document/edits';
import type { Level } from '../document/level';
import { lookup, nameOf } from '../document/lookup';
import type { Visitor } from '../document/people';
import type { Zone } from '../document/places';
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
import { nearestApproach } from './approach';
import type { Run } from './approach';
import { obstructionsBetween } from './between';
import { entrySentence } from './entries';
import { at, nothing, quoted, reason, remedyOf, round } from './reason';
import type { Reason } from './reason';

/** How far answers go back from chain to chain. */
const DEEPEST = 4;

/**
 * Why nothing happened at a thing, a chain or a visitor in a run, or what did: never reached, held, given up, found so already,
 * undone later. The first reason is the nearest.
 */
export function whyNot(level: Level, run: Run, id: string): Reason[] {
  return eachOnce(new Asking(level, run).of(id));
}

/** Why a step of a chain did nothing in a run, or what it did. */
export function whyNotStep(level: Level, run: Run, chain: string, step: string): Reason[] {
  return eachOnce(new Asking(level, run).ofOneStep(chain, step));
}

/** No sentence is said twice: what several chains wait for is named once. */
function eachOnce(reasons: readonly Reason[]): Reason[] {
  const said = new Set<string>();
  return reasons.filter(({ says }) => !said.has(says) && said.add(says));
}

class Asking {
  private readonly things;
  private readonly entries: readonly Entry[];
  private readonly asked = new Set<string>();

  constructor(
    private readonly level: Level,
    private readonly run: Run,
  ) {
    this.things = lookup(level);
    this.entries = [...run.ledger];
  }

  of(id: string, depth = 0): Reason[] {
    if (this.asked.has(id) || depth > DEEPEST) return [];
    this.asked.add(id);
    const found = this.things.get(id);
    switch (found?.collection) {
      case 'chains':
        return this.ofChain(found.thing as Chain, depth);
      case 'visitors':
        return this.ofVisitor(found.thing as Visitor);
      case undefined:
        return [reason('This is not in the level any more.')];
      default:
        return this.ofThing(id, depth);
    }
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
    const wrong = this.ofStep(chain, step);
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
        ...chain.steps.flatMap((step) => this.ofStep(chain, step)),
        ...this.heldBack(chain, held),
      ];
    }
    if (held.length > 0) return this.heldBack(chain, held);
    if (!chain.enabled)
      return [{ ...reason(`${name} is switched off.`), mend: 'Switch it on.', edit: change('chains', chain, { enabled: true }) }];
    if (chain.causes.length === 0) return [reason(`${name} was never triggered: it has no cause.`, [], 'Add a cause.')];
    return chain.causes.flatMap((cause) => this.ofCause(chain, cause, depth));
  }

  /** What was held, once for each reason, with its remedy. */
  private heldBack(chain: Chain, held: readonly Entry[]): Reason[] {
    const byReason = new Map<string, Entry[]>();
    for (const entry of held) {
      if (entry.kind !== 'held') continue;
      const key = `${entry.details.reason} ${entry.who ?? ''}`;
      byReason.set(key, [...(byReason.get(key) ?? []), entry]);
    }
    return [...byReason.values()].map((entries) => {
      const [first] = entries;
      const times = entries.length === 1 ? '' : `, ${entries.length} times`;
      return {
        ...reason(
          `Held at ${at(first!)}${times}: ${this.say(first!)}.`,
          entries.map(({ number }) => number),
        ),
        ...remedyOf(this.level, chain, first!),
      };
    });
  }

  private gaveUp(chain: Chain): Reason[] {
    return this.entries
      .filter(({ kind, chain: own }) => kind === 'gave-up' && own === chain.id)
      .slice(0, 3)
      .map((entry) => reason(`It gave up at ${at(entry)}: ${this.say(entry)}.`, [entry.number]));
  }

  /** A step that was never come to, that found nobody, that changed nothing, or whose effect was undone. */
  private ofStep(chain: Chain, step: Step): Reason[] {
    const said = this.said(step);
    const done = this.entries.filter(
      ({ kind, chain: own, step: which }) => kind === 'step' && own === chain.id && which === step.id,
    );
    const [first] = done;
    if (first === undefined) return [reason(`${said} was never reached.`)];
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
    if (heldThere.length > 0) return this.heldBack(chain, heldThere);
    const shut = this.shut(cause.of, cause.on);
    if (kindOfCause(cause.on).saidOf === 'visitor') return [...shut, this.nearestTo(cause)];
    return [reason(`${what} ${negated(kindOfCause(cause.on).verb)}.`), ...this.source(cause.of, cause.on, depth)];
  }

  /** What should have made a thing do something: the chains that act on it, or what a watch waits for. */
  private source(id: string, on: CauseEvent, depth: number): Reason[] {
    const found = this.things.get(id);
    if (found?.collection === 'watches') {
      const { when } = found.thing as { when: string } & typeof found.thing;
      return [reason(`It waits until ${conditionWords(when, (one) => nameOf(this.level, one))}.`)];
    }
    const { actedOnBy } = connections(this.level, id);
    if (actedOnBy.length === 0 && ['signal', 'opened', 'closed', 'chain-finished'].includes(on))
      return [reason(`No chain acts on ${this.name(id)}.`, [], 'Let a step act on it.')];
    return actedOnBy.flatMap((chain) => this.of(chain, depth + 1));
  }

  /** What of a thing itself keeps others out: it is solid where it is to be entered, or disabled, and stayed so. */
  private shut(id: string, on: CauseEvent = 'enter'): Reason[] {
    const found = this.things.get(id);
    if (found?.collection !== 'zones' && found?.collection !== 'fixtures') return [];
    const { thing, collection } = found as { collection: 'zones' | 'fixtures'; thing: Zone | Fixture };
    const became = (field: string, to: boolean): boolean =>
      this.entries.some(
        (one) => one.kind === 'changed' && one.what === id && one.details.field === field && one.details.to === to,
      );
    const reasons: Reason[] = [];
    const isEntered = 'kind' in thing && kindOfFixture(thing.kind).entered !== undefined;
    const enters = on === 'enter' || on === 'leave' || on === 'dwell';
    const heard = this.level.chains.some(({ causes }) => causes.some((one) => one.of === id && one.on === 'enter'));
    if ('solid' in thing && thing.solid && enters && (isEntered || heard) && !became('solid', false))
      reasons.push({
        ...reason(`${this.name(id)} is solid, so nobody can enter it.`, [], 'Make it passable.'),
        edit: change<Fixture>('fixtures', thing, { solid: false }),
      });
    if (!thing.enabled && !became('enabled', true))
      reasons.push({
        ...reason(`${this.name(id)} is disabled, and nothing enabled it.`, [], 'Enable it.'),
        edit: change(collection, thing, { enabled: true }),
      });
    return reasons;
  }

  /** How near anybody came to what was never entered, and when. */
  private nearestTo(cause: Cause): Reason {
    const verb =
      { enter: 'entered', leave: 'left', dwell: 'stayed in', bump: 'bumped into', use: 'used' }[cause.on as string] ?? 'entered';
    const name = this.name(cause.of);
    const best = nearestApproach(this.level, this.run, cause.of);
    if (best === 'no place') return reason(`Nobody ${verb} ${name}.`);
    if (best === null) return reason(`Nobody ${verb} ${name}: nobody was in its room.`, [], 'Add a walk in that room.');
    const when = `${round(best.tick / this.level.rate)} s`;
    const near = round(best.metres);
    const between = obstructionsBetween(this.level, this.run, best, cause.of);
    const says =
      near === 0
        ? `Nobody ${verb} ${name}. ${this.name(best.visitor)} touched it at ${when}.`
        : `Nobody ${verb} ${name}. ${this.name(best.visitor)} came nearest: ${near} m away, at ${when}.${between.says}`;
    const edit = cause.on === 'enter' ? between.edit : null;
    const mend = edit !== null || near < 2 ? 'Enlarge it, or route the walk through it.' : 'Route the walk through it.';
    return { ...reason(says, [], mend), tick: best.tick, edit };
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
    reasons.push(...this.shut(id));
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
      ...blocked.slice(0, 2).map((entry) => reason(`At ${at(entry)} ${this.say(entry)}.`, [entry.number])),
      ...held.slice(0, 5).map((entry) => {
        const chain = this.things.get(entry.chain ?? '')?.thing as Chain | undefined;
        const remedy = chain === undefined ? nothing : remedyOf(this.level, chain, entry);
        return { ...reason(`Held at ${at(entry)}: ${this.say(entry)}.`, [entry.number]), ...remedy };
      }),
    ];
  }

  private say(entry: Entry): string {
    return entrySentence(entry, (id) => nameOf(this.level, id));
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
