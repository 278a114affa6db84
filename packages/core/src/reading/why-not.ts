import { conditionWords } from '../conditions/clauses';
import type { Chain } from '../document/chains';
import { change } from '../document/edits';
import type { Edit } from '../document/edits';
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
import { nearestApproach, nearestAt } from './approach';
import type { Run } from './approach';
import { betweenOf } from './between';
import { entrySentence } from './entries';

/** One part of an answer: in a sentence, with the entries that say so, and the remedy as an edit where there is one. */
export interface Reason {
  says: string;
  /** Numbers of entries, the first the most telling. */
  entries: number[];
  /** A tick to look at, where no entry says it. */
  tick: number | null;
  /** What to do about it; empty for nothing. */
  mend: string;
  edit: Edit | null;
}

/** How far answers go back from chain to chain. */
const DEEPEST = 4;
/** Of what goes on at a moment so much of a sort is told. */
const MOST = 4;

/**
 * Why nothing happened at a thing, a chain or a visitor in a run, or what did: never reached, held, given up, found so already,
 * undone later. The first reason is the nearest.
 */
export function whyNot(level: Level, run: Run, id: string): Reason[] {
  return new Asking(level, run).of(id);
}

/** Why a step of a chain did nothing in a run, or what it did. */
export function whyNotStep(level: Level, run: Run, chain: string, step: string): Reason[] {
  return new Asking(level, run).ofOneStep(chain, step);
}

/** Why nothing happened at a tick of a run, or what did: what was held, what was under way, and who was near or inside of what. */
export function whyNotAt(level: Level, run: Run, tick: number): Reason[] {
  return new Asking(level, run).ofMoment(tick);
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

  ofMoment(tick: number): Reason[] {
    const now = this.entries.filter((entry) => entry.tick === tick && entry.kind !== 'start' && entry.kind !== 'end');
    const seconds = `${round(tick / this.level.rate)} s`;
    const held = now.filter(({ kind }) => kind === 'held');
    const happened = now.filter(({ kind }) => kind !== 'held');
    const found: Reason[] = [];
    const [first] = happened;
    if (first !== undefined) {
      const more = happened.length === 1 ? '' : `, and ${happened.length - 1} more`;
      found.push(
        reason(
          `At ${seconds} ${this.say(first)}${more}.`,
          happened.map(({ number }) => number),
        ),
      );
    } else if (held.length === 0) found.push(this.nothingAt(tick, seconds));
    for (const entry of held) {
      const chain = this.things.get(entry.chain ?? '')?.thing as Chain | undefined;
      const remedy = chain === undefined ? nothing : this.remedy(chain, entry);
      found.push({ ...reason(`Held: ${this.say(entry)}.`, [entry.number]), ...remedy });
    }
    return [...found, ...this.underWay(tick), ...this.insideAt(tick)];
  }

  /** What came before and after a tick at which nothing was written. */
  private nothingAt(tick: number, seconds: string): Reason {
    const before = this.entries.findLast((entry) => entry.tick < tick && entry.kind !== 'start');
    const after = this.entries.find((entry) => entry.tick > tick && entry.kind !== 'end');
    const parts = [
      ...(before === undefined ? [] : [`the last before it, at ${at(before)}: ${this.say(before)}`]),
      ...(after === undefined ? ['nothing comes after it'] : [`the next, at ${at(after)}: ${this.say(after)}`]),
    ];
    return reason(
      `Nothing fired at ${seconds}; ${parts.join('; ')}.`,
      [before, after].flatMap((entry) => entry?.number ?? []),
    );
  }

  /** The chains that had started by a tick and were not over, and what of them comes next. */
  private underWay(tick: number): Reason[] {
    const begun = new Map<string, Entry>();
    for (const entry of this.entries) {
      if (entry.tick > tick) break;
      if (entry.chain === null) continue;
      if (entry.kind === 'chain-started') begun.set(entry.chain, entry);
      else if (entry.kind === 'chain-finished' || entry.kind === 'gave-up') begun.delete(entry.chain);
    }
    return [...begun].slice(0, MOST).map(([chain, started]) => {
      const next = this.entries.find(
        (one) => one.tick > tick && one.chain === chain && (one.kind === 'step' || one.kind === 'chain-finished'),
      );
      const then =
        next === undefined
          ? 'nothing more of it comes'
          : next.kind === 'step'
            ? `next comes “${this.say(next)}”, at ${at(next)}`
            : `it is over at ${at(next)}`;
      return reason(`${this.name(chain)} had started at ${at(started)}: ${then}.`, [
        started.number,
        ...(next === undefined ? [] : [next.number]),
      ]);
    });
  }

  /** Who was inside of what that is listened to, since when; or, of those inside of nothing, what was nearest. */
  private insideAt(tick: number): Reason[] {
    const inside = new Map<string, Entry>();
    for (const entry of this.entries) {
      if (entry.tick > tick) break;
      const key = `${entry.who} ${entry.what}`;
      if (entry.kind === 'enter' || entry.kind === 'arrived-inside') inside.set(key, entry);
      else if (entry.kind === 'leave') inside.delete(key);
    }
    const within = new Set([...inside.values()].map(({ who }) => who));
    const stays = [...inside.values()].slice(0, MOST).map((entry) => {
      const listening = this.level.chains.some(({ causes }) => causes.some(({ on, of }) => of === entry.what && on === 'enter'));
      const since = `${this.name(entry.who!)} was inside of ${this.name(entry.what!)} since ${at(entry)}`;
      return reason(`${since}${listening ? ': entering it fires once, staying does not' : ''}.`, [entry.number]);
    });
    const near = this.level.visitors
      .filter(({ id, kind, inPlay }) => inPlay && kind !== 'prop' && !within.has(id))
      .flatMap((visitor) => nearestAt(this.level, this.run, visitor, tick) ?? [])
      .sort((a, b) => a.metres - b.metres)
      .slice(0, MOST)
      .map(({ visitor, of, metres }) => ({
        ...reason(`${this.name(visitor)} was inside of nothing; nearest was ${this.name(of)}, ${round(metres)} m away.`),
        tick,
      }));
    return [...stays, ...near];
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
    if (chain.causes.length === 0) return [reason(`${name} was never tried: nothing sets it off.`, [], 'Give it a cause.')];
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
        ...this.remedy(chain, first!),
      };
    });
  }

  private remedy(chain: Chain, entry: Entry): { mend: string; edit: Edit | null } {
    if (entry.kind !== 'held') return nothing;
    const cause = this.causeOf(chain, entry);
    const at = cause === undefined ? -1 : chain.causes.indexOf(cause);
    const withCause = (fields: Partial<Cause>): Edit | null =>
      cause === undefined ? null : change('chains', chain, { causes: chain.causes.with(at, { ...cause, ...fields }) });
    const visitor = this.things.get(entry.who ?? '')?.thing as Visitor | undefined;
    switch (entry.details.reason) {
      case 'filtered': {
        const { part, asked } = entry.details;
        if (part === 'kinds' && cause !== undefined && visitor !== undefined) {
          const kinds = [...cause.filter.kinds, visitor.kind];
          return {
            mend: `Let ${visitor.kind}s count too.`,
            edit: withCause({ filter: { ...cause.filter, kinds: kinds.length === 3 ? [] : kinds } }),
          };
        }
        const [tag] = asked.split(', ');
        if (
          (part === 'any of the tags' || part === 'all of the tags') &&
          visitor !== undefined &&
          tag !== undefined &&
          tag !== ''
        )
          return {
            mend: `Tag ${this.name(visitor.id)} “${tag}”.`,
            edit: change('visitors', visitor, { tags: [...visitor.tags, tag] }),
          };
        return { mend: 'Ask for others in its cause.', edit: null };
      }
      case 'chain-off':
        return { mend: 'Switch the chain on.', edit: change('chains', chain, { enabled: true }) };
      case 'used-up':
        return { mend: 'Let it start every time.', edit: withCause({ limit: null }) };
      case 'cooling':
        return { mend: 'Take the cooldown away.', edit: withCause({ cooldown: 0 }) };
      case 'condition-false':
        return { mend: 'Ask no condition of it.', edit: change('chains', chain, { guard: '' }) };
      case 'running':
        return { mend: 'Let it run once more afterwards.', edit: change('chains', chain, { whileRunning: 'queue' }) };
      case 'silent-visitor':
        return visitor === undefined
          ? nothing
          : { mend: 'Let it raise overlaps.', edit: change('visitors', visitor, { raisesOverlaps: true }) };
      default:
        return nothing;
    }
  }

  private causeOf(chain: Chain, entry: Entry): Cause | undefined {
    const event = entry.kind === 'held' ? entry.details.event : '';
    return chain.causes.find(({ on, of }) => on === event && (entry.what === null || of === entry.what)) ?? chain.causes[0];
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
    if (first === undefined) return [reason(`${said} was never come to.`)];
    const problem = done.find((entry) => entry.kind === 'step' && entry.details.problem !== undefined);
    if (problem?.kind === 'step') return [reason(`${said} at ${at(problem)}: ${problem.details.problem!}.`, [problem.number])];
    if (changesNothingByNature.has(step.kind)) return [];
    const effects = this.entries.filter(
      ({ cause, kind }) => cause === first.number && kind !== 'step' && kind !== 'chain-finished',
    );
    if (effects.length === 0 && first.what !== null)
      return [reason(`${said} at ${at(first)} changed nothing: it was so already.`, [first.number])];
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
        return [
          reason(`What ${said} did at ${at(effect)} was undone at ${at(back)}: ${this.say(back)}.`, [back.number, effect.number]),
        ];
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
      return [reason(`Nothing is chosen that sets off ${this.name(chain.id)}.`, [], 'Choose what sets it off.')];
    const raised = this.entries.filter(({ kind, what }) => kind === cause.on && what === cause.of);
    const what = this.name(cause.of);
    if (raised.length > 0)
      return [
        reason(
          `${what}: ${this.say(raised[0]!)} at ${at(raised[0]!)}, and the chain did not answer.`,
          raised.map(({ number }) => number),
        ),
      ];
    const heldThere = this.entries.filter(
      (one) => one.kind === 'held' && one.what === cause.of && one.details.event === cause.on,
    );
    if (heldThere.length > 0) return this.heldBack(chain, heldThere);
    if (kindOfCause(cause.on).saidOf === 'visitor') return [this.nearestTo(cause)];
    return [
      reason(`${what} never did it: it ${kindOfCause(cause.on).verb} at no time.`),
      ...this.source(cause.of, cause.on, depth),
    ];
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

  /** How near anybody came to what was never entered, and when. */
  private nearestTo(cause: Cause): Reason {
    const verb =
      { enter: 'entered', leave: 'left', dwell: 'stayed in', bump: 'bumped into', use: 'used' }[cause.on as string] ?? 'entered';
    const name = this.name(cause.of);
    const best = nearestApproach(this.level, this.run, cause.of);
    if (best === 'no place') return reason(`Nobody ${verb} ${name}.`);
    if (best === null) return reason(`Nobody ${verb} ${name}: nobody was in its room.`, [], 'Let a walk lead there.');
    const when = `${round(best.tick / this.level.rate)} s`;
    const near = round(best.metres);
    const between = betweenOf(this.level, this.run, best, cause.of);
    const says =
      near === 0
        ? `Nobody ${verb} ${name}, though ${this.name(best.visitor)} was at it, at ${when}.`
        : `Nobody ${verb} ${name}. ${this.name(best.visitor)} came nearest: ${near} m away, at ${when}.${between.says}`;
    const edit = cause.on === 'enter' ? between.edit : null;
    const mend = edit !== null || near < 2 ? 'Make it larger, or lead the walk through it.' : 'Lead the walk through it.';
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
    const { setsOff, actedOnBy } = connections(this.level, id);
    const found = this.things.get(id)!;
    const passes = found.collection === 'fixtures' && kindOfFixture((found.thing as Fixture).kind).entered !== undefined;
    if (setsOff.length === 0 && actedOnBy.length === 0 && !passes)
      reasons.push(reason(`No chain knows ${this.name(id)}.`, [], 'Wire it: say what happens there.'));
    return [...reasons, ...[...setsOff, ...actedOnBy].flatMap((chain) => this.of(chain, depth + 1))];
  }

  private ofVisitor(visitor: Visitor): Reason[] {
    const name = this.name(visitor.id);
    const walks = this.run.tracks.visitors.has(visitor.id);
    const blocked = this.entries.filter(
      ({ kind, who, what }) => kind === 'blocked' && (who === visitor.id || what === visitor.id),
    );
    const held = this.entries.filter(({ kind, who }) => kind === 'held' && who === visitor.id);
    return [
      ...(walks ? [] : [reason(`${name} does not move in this walk.`, [], 'Give it a route.')]),
      ...(visitor.raisesOverlaps
        ? []
        : [
            {
              ...reason(`${name} raises no overlaps.`),
              mend: 'Let it raise overlaps.',
              edit: change('visitors', visitor, { raisesOverlaps: true }),
            },
          ]),
      ...blocked.slice(0, 2).map((entry) => reason(`At ${at(entry)} ${this.say(entry)}.`, [entry.number])),
      ...held.slice(0, 5).map((entry) => {
        const chain = this.things.get(entry.chain ?? '')?.thing as Chain | undefined;
        const remedy = chain === undefined ? nothing : this.remedy(chain, entry);
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
    return `“${nameOf(this.level, id).trim()}”`;
  }
}

const nothing = { mend: '', edit: null };

/** Steps that are over when they are done: there is nothing of theirs to look for. */
const changesNothingByNature: ReadonlySet<string> = new Set([
  'wait',
  'wait-until',
  'stop-velocity',
  'turn',
  'push',
  'walk-visitor',
]);

function reason(says: string, entries: number[] = [], mend = ''): Reason {
  return { says, entries, tick: null, mend, edit: null };
}

function at(entry: Entry): string {
  return `${round(entry.seconds)} s`;
}

function round(value: number): number {
  return Math.round(value * 100) / 100;
}
