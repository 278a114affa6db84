import type { Chain } from '../document/chains';
import type { Level } from '../document/level';
import { targetsOf } from '../document/targets';
import { timeline } from '../document/timeline';
import { kindOfCause } from '../kinds/causes';
import type { Cause } from '../kinds/causes/cause';
import { kindOfStep } from '../kinds/steps';
import { switchable } from '../kinds/steps/switchable';
import { fixturesThatCan } from '../kinds/words';
import { reasonOf } from '../ledger/entry';
import type { Entry } from '../ledger/entry';
import type { Ledger } from '../ledger/ledger';
import { gates } from '../vocabulary/entries';
import type { Gate } from '../vocabulary/entries';
import type { CauseEvent } from '../vocabulary/events';
import type { Runs } from './matrix';

/** One thing that runs should have tried. */
export interface Covered {
  kind: 'zone' | 'fixture' | 'chain' | 'step' | 'gate';
  /** The zone or fixture, or the chain. */
  thing: string;
  /** What of it: the step's id, or the gate and its answer. */
  part: string;
  /** Of a gate: the cause that it stands before, or null where a step starts the chain; null of all others. */
  cause: string | null;
  tried: boolean;
}

/** The gates that are asked of an event itself, and those of a chain that a step starts. */
const ofTheEvent: readonly Gate[] = ['disabled', 'silent-visitor'];
const ofAStep: readonly Gate[] = ['chain-off', 'condition-false', 'running'];

/**
 * What all runs together have tried: zones and fixtures to which anything has happened, chains that started, steps that were done, and
 * both answers of each gate of each cause, as far as it can hold anything. A gate has let through only what it was asked about: what a
 * later gate held, or what started.
 */
export function coverageOf(level: Level, runs: Runs): Covered[] {
  const seen = new Seen(level);
  for (const ledger of runs.values()) seen.read(ledger);
  const found: Covered[] = [];
  const add = (kind: Covered['kind'], thing: string, part: string, cause: string | null, tried: boolean): void =>
    void found.push({ kind, thing, part, cause, tried });
  for (const { id } of level.zones) add('zone', id, '', null, seen.touched.has(id));
  for (const { id } of level.fixtures) add('fixture', id, '', null, seen.touched.has(id));
  const can = new CanHold(level);
  for (const chain of level.chains) {
    const { id } = chain;
    add('chain', id, '', null, seen.started.has(id));
    for (const step of chain.steps) add('step', id, step.id, null, seen.done.has(step.id));
    for (const cause of [...chain.causes, null])
      for (const gate of gates) {
        if (!can.hold(chain, cause, gate)) continue;
        const key = keyOf(id, cause, gate);
        add('gate', id, `${gate} passed`, cause?.id ?? null, seen.passed.has(key));
        add('gate', id, `${gate} held`, cause?.id ?? null, seen.held.has(key));
      }
  }
  return found;
}

function keyOf(chain: string, cause: Cause | null, gate: Gate): string {
  return `${chain} ${cause?.id ?? ''} ${gate}`;
}

/** How much of what could be tried was, from 0 to 100; 100 where there is nothing to try. */
export function percentage(covered: readonly Covered[]): number {
  return covered.length === 0 ? 100 : (100 * covered.filter(({ tried }) => tried).length) / covered.length;
}

/** Which gates can hold anything at all in a level. */
class CanHold {
  /** What any step switches on or off. */
  private readonly switched: ReadonlySet<string>;
  private readonly startedBySteps: ReadonlySet<string>;
  private readonly enabled: ReadonlyMap<string, boolean>;
  private readonly isAnySilent: boolean;

  constructor(private readonly level: Level) {
    const steps = level.chains.flatMap((chain) => chain.steps);
    // What is collected is disabled.
    const collectibles: readonly string[] = fixturesThatCan('be collected');
    this.switched = new Set([
      ...steps.filter(({ kind }) => kindOfStep(kind).accepts === switchable).flatMap((step) => targetsOf(level, step)),
      ...level.fixtures.filter(({ kind }) => collectibles.includes(kind)).map(({ id }) => id),
    ]);
    this.startedBySteps = new Set(
      steps.filter(({ kind }) => kindOfStep(kind).starts === true).flatMap((step) => targetsOf(level, step)),
    );
    this.enabled = new Map([...level.zones, ...level.fixtures, ...level.chains].map(({ id, enabled }) => [id, enabled]));
    this.isAnySilent = level.visitors.some(({ raisesOverlaps }) => !raisesOverlaps);
  }

  /** Whether a gate can hold a cause of a chain; or, without a cause, a step that starts the chain. */
  hold(chain: Chain, cause: Cause | null, gate: Gate): boolean {
    if (cause === null) return this.startedBySteps.has(chain.id) && ofAStep.includes(gate) && this.holdChain(chain, gate);
    const { filter, counts, hears, limit, cooldown } = cause;
    const kind = kindOfCause(cause.on);
    switch (gate) {
      case 'disabled':
        return kind.needsEnabled === true && this.canBeOff(cause.of);
      case 'silent-visitor':
        return kind.fromOverlap === true && this.isAnySilent;
      case 'filtered':
        return (
          filter.kinds.length + filter.anyOf.length + filter.allOf.length + filter.noneOf.length > 0 ||
          filter.named !== '' ||
          filter.ownerOnly ||
          hears !== '' ||
          (counts === 'first-and-last' && kind.once !== undefined)
        );
      case 'used-up':
        return limit !== null;
      case 'cooling':
        return cooldown > 0;
      default:
        return this.holdChain(chain, gate);
    }
  }

  private holdChain(chain: Chain, gate: Gate): boolean {
    if (gate === 'chain-off') return this.canBeOff(chain.id);
    if (gate === 'condition-false') return chain.guard.trim() !== '';
    // What takes no time never runs when something else comes.
    return chain.whileRunning === 'ignore' && takesTime(this.level, chain);
  }

  private canBeOff(id: string): boolean {
    return this.switched.has(id) || this.enabled.get(id) === false;
  }
}

/** Whether a chain can take time. What only a run can tell, such as how long somebody walks, counts as time. */
function takesTime(level: Level, chain: Chain): boolean {
  const afterOneSecond = new Map(chain.steps.map(({ id, kind }) => [id, kindOfStep(kind).control === 'takes' ? 1 : 0]));
  return (
    chain.delay > 0 ||
    chain.steps.some((step) => kindOfStep(step.kind).conditions !== undefined) ||
    timeline(level, chain, afterOneSecond).some(({ end }) => end > 0)
  );
}

/** What was seen in some ledgers. */
class Seen {
  readonly touched = new Set<string>();
  readonly started = new Set<string>();
  readonly done = new Set<string>();
  /** Of each gate: whether it let anything through, and whether it held anything. */
  readonly passed = new Set<string>();
  readonly held = new Set<string>();
  /** The causes that listen to an event of a thing, and those of each chain, in their order. */
  private readonly listening = new Map<string, { chain: string; cause: Cause }[]>();
  private readonly ofChain = new Map<string, Cause[]>();

  constructor(level: Level) {
    for (const { id: chain, causes } of level.chains)
      for (const cause of causes) {
        pushTo(this.listening, `${cause.on} ${cause.of}`, { chain, cause });
        pushTo(this.ofChain, `${chain} ${cause.on} ${cause.of}`, cause);
      }
  }

  read(ledger: Ledger): void {
    /** How many causes of a chain have answered to an event: each answers once, at once, in their order. */
    const answered = new Map<string, number>();
    for (const entry of ledger) {
      const { kind, what, chain, step } = entry;
      if (what !== null && kind !== 'held') this.touched.add(what);
      if (kind === 'step' && step !== null) this.done.add(step);
      if (kind === 'chain-started' && chain !== null) this.started.add(chain);
      if (chain === null && what !== null) this.ofEvent(entry, what);
      if (kind === 'chain-started' || (kind === 'held' && chain !== null)) this.ofAnswer(entry, ledger, answered);
    }
  }

  /** What an event of a thing passed on its way to whoever listens. */
  private ofEvent(entry: Entry, what: string): void {
    const on = entry.kind === 'held' ? entry.details.event : entry.kind;
    const reason = reasonOf(entry);
    for (const { chain, cause } of this.listening.get(`${on} ${what}`) ?? []) this.asked(chain, cause, ofTheEvent, reason);
  }

  /** What the answer of a chain to an event, or to a step that starts it, says of its gates. */
  private ofAnswer(entry: Entry, ledger: Ledger, answered: Map<string, number>): void {
    const { chain, cause: of } = entry;
    const origin = of === null ? undefined : ledger.at(of);
    if (chain === null || origin === undefined) return;
    const isQueued = entry.kind === 'held' && 'queued' in entry.details && entry.details.queued === true;
    const reason = entry.kind === 'held' && !isQueued ? reasonOf(entry) : null;
    if (origin.kind === 'step') {
      this.asked(chain, null, ofAStep, reason);
      return;
    }
    const source = origin.kind === 'chain-finished' ? origin.chain : origin.what;
    const causes = this.ofChain.get(`${chain} ${origin.kind as CauseEvent} ${source}`) ?? [];
    const key = `${chain} ${of}`;
    const at = answered.get(key) ?? 0;
    answered.set(key, at + 1);
    // What was queued begins later: it has been answered already.
    const cause = causes[at];
    if (cause !== undefined) this.asked(chain, cause, gates.slice(ofTheEvent.length), reason);
  }

  /** Some gates were asked in their order, up to the one that held. */
  private asked(chain: string, cause: Cause | null, which: readonly Gate[], reason: string | null): void {
    for (const gate of which) {
      const isShut = gate === reason;
      (isShut ? this.held : this.passed).add(keyOf(chain, cause, gate));
      if (isShut) return;
    }
  }
}

function pushTo<K, T>(map: Map<K, T[]>, key: K, one: T): void {
  const list = map.get(key);
  if (list === undefined) map.set(key, [one]);
  else list.push(one);
}
