import type { Cause, Chain, Filter, Journey, Place, Step } from '../../src/index';
import type { Details } from './world';
import { headingTowards, meets, told } from './geometry';
import { Moves } from './moves';
import { TooMuch } from './world';
import type { Going, Job, Person, Then, Waiting, Written } from './world';

interface Run {
  chain: Chain;
  started: number;
  hand: string | null;
  source: string | null;
  begun: boolean;
  told: Set<Step>;
  running: Set<Step>;
  done: Set<Step>;
  alive: boolean;
}

interface Trigger {
  number: number;
  who: string | null;
  what: string | null;
  kind: string;
  /** Under which names it is kept when its cause started the chain. */
  kept: string[];
}

const listened = new Set<string>(
  'enter leave dwell bump use on off press release moving opened closed arrived signal changed became-true became-false chain-finished teleported warped claimed collected spawned removed cue-started cue-finished'.split(
    ' ',
  ),
);
const ofVisitors = new Set('enter leave dwell bump press release'.split(' '));
const ofEnabled = new Set('enter leave dwell bump press release use on off moving opened closed arrived'.split(' '));

const nothing = (): void => undefined;

/** A step that is being run. */
interface Doing {
  run: Run;
  step: Step;
  entry: number;
  /** The steps that end because this one turned their motions back. */
  ended: Waiting[];
  /** Lets it wait for something. */
  wait(list: Waiting[]): void;
  /** Lets it wait for one thing more, of which `finish` tells. */
  more(): void;
  finish: Job;
}

const doors = ['door'];
const machines = ['door', 'elevator', 'mover'];
const all = [
  ...machines,
  ...['plate', 'switch', 'barrier', 'teleporter', 'warp', 'collectible', 'sign', 'marker', 'cue', 'bell-pull', 'spawn-point'],
];
const movable = all.filter((kind) => !['plate', 'sign', 'marker', 'cue', 'spawn-point'].includes(kind));
const visitors = ['player', 'creature', 'prop'];

/** What a step that does not ask for visitors acts on, and what must be there; null for nothing. */
function targetOf(step: Step): { to: string; words: string[] } | null {
  switch (step.kind) {
    case 'open':
    case 'close':
    case 'toggle':
      return { to: step.door, words: doors };
    case 'send':
      return { to: step.elevator, words: ['elevator'] };
    case 'play':
      return { to: step.machine, words: machines };
    case 'set-flag':
      return { to: step.flag, words: ['flag'] };
    case 'set-counter':
      return { to: step.counter, words: ['counter'] };
    case 'set-text':
      return { to: step.target, words: ['text'] };
    case 'write-sign':
      return { to: step.sign, words: ['sign', 'marker'] };
    case 'show':
    case 'hide':
    case 'make-see-through':
    case 'make-opaque':
    case 'reset':
      return { to: step.fixture, words: all };
    case 'make-solid':
    case 'make-passable':
      return { to: step.fixture, words: movable };
    case 'enable':
    case 'disable':
      return { to: step.thing, words: ['zone', 'chain', ...all] };
    case 'signal':
      return { to: step.signal, words: ['signal'] };
    case 'cue':
      return { to: step.cue, words: ['cue'] };
    case 'claim':
    case 'give-up':
      return { to: step.thing, words: ['zone', ...all] };
    case 'collect':
      return { to: step.collectible, words: ['collectible'] };
    case 'spawn':
      return { to: step.visitor, words: visitors };
    case 'start-chain':
    case 'stop-chain':
    case 'reset-chain':
      return { to: step.chain, words: ['chain'] };
    default:
      return null;
  }
}

/** Events, gates, chains and steps. */
export abstract class Chains extends Moves {
  jobs = 0;
  depth = 0;
  runs: Run[] = [];
  untils: { run: Run; step: Step; text: string; finish: Job; seen: boolean }[] = [];
  readonly waitingTriggers = new Map<Chain, Trigger[]>();
  readonly used_ = new Map<string, { count: number; tick: number | null }>();
  readonly chainOff = new Set<string>(this.level.chains.filter((one) => !one.enabled).map((one) => one.id));
  readonly told = new Map<string, Set<string>>();

  abstract watch(): boolean;
  abstract senseOnly(people: Person[]): void;

  raise(event: Written, then: Then = nothing): void {
    this.queue.push(() => this.happen(event, then));
  }

  /** What a step raises. */
  emit(event: Written, then: Then = nothing, known: (number: number) => void = nothing): void {
    if (this.rules.draining === 'queued') {
      this.queue.push(() => this.happen(event, then, known));
      return;
    }
    this.depth += 1;
    this.count();
    this.happen(event, then, known);
    this.depth -= 1;
    if (this.rules.watches === 'at-once') this.watch();
  }

  count(): void {
    this.jobs += 1;
    if (this.jobs > 10_000 || this.depth > 200) throw new TooMuch();
  }

  /** Writes an event; `known` runs before anybody hears of it, `then` when all have been tried. */
  happen(event: Written, then: Then, known: (number: number) => void = nothing): void {
    const { kind, who = null, what = null } = event;
    const off = listened.has(kind) && ofEnabled.has(kind) && this.enabled.get(what ?? '') === false;
    const silent = ofVisitors.has(kind) && this.person(who)?.visitor.raisesOverlaps === false;
    const held = off || silent;
    const reason = off ? 'disabled' : 'silent-visitor';
    const details = { event: kind, reason, ...event.details };
    const number = this.write(held ? { ...event, kind: 'held', details } : event);
    if (who !== null && what !== null) {
      if (kind === 'enter') this.told.set(what, (this.told.get(what) ?? new Set()).add(who));
      if (kind === 'leave') {
        for (const run of [...this.runs]) {
          if (!run.alive || run.begun || !run.chain.givesUp || run.hand !== who || run.source !== what) continue;
          this.write({ kind: 'gave-up', who, what, chain: run.chain.id, cause: run.started, details: { reason: 'left' } });
          this.end(run);
        }
        this.told.get(what)?.delete(who);
      }
    }
    known(number);
    if (!held) this.tell(event, number);
    then(number, held);
  }

  tell(event: Written, number: number): void {
    if (!listened.has(event.kind)) return;
    const chains = this.rules.listeners === 'reverse' ? this.level.chains.toReversed() : this.level.chains;
    for (const chain of chains)
      for (const cause of chain.causes)
        if (cause.on === event.kind && cause.of === event.what) this.try(chain, cause, event, number);
  }

  private try(chain: Chain, cause: Cause, event: Written, number: number): void {
    const who = event.who ?? null;
    const what = event.what ?? null;
    const because = this.shutBy(chain, cause, event);
    if (because !== null) {
      this.write({ kind: 'held', who, what, chain: chain.id, cause: number, details: { event: event.kind, ...because } });
      return;
    }
    const known = this.used_.get(cause.id);
    this.used_.set(cause.id, { count: (known?.count ?? 0) + 1, tick: known?.tick ?? null });
    const kept = cause.cooldownFor === 'visitor' ? [cause.id, `${cause.id} ${who ?? ''}`] : [cause.id];
    this.start(chain, { number, who, what, kind: event.kind, kept });
  }

  filtered(filter: Filter, one: Person | undefined, what: string | null): Details | null {
    const { kinds, anyOf, allOf, noneOf, named, ownerOnly } = filter;
    const no = (part: string, asked: string, found: string): Details => ({ reason: 'filtered', part, asked, found });
    if (one === undefined) {
      const asks = kinds.length + anyOf.length + allOf.length + noneOf.length > 0 || named !== '' || ownerOnly;
      return asks ? no('visitor', 'a visitor', 'none') : null;
    }
    const { kind, tags, id } = one.visitor;
    const own = tags.join(', ');
    if (kinds.length > 0 && !kinds.includes(kind)) return no('kinds', kinds.join(', '), kind);
    if (anyOf.length > 0 && !anyOf.some((tag) => tags.includes(tag))) return no('any of the tags', anyOf.join(', '), own);
    if (allOf.some((tag) => !tags.includes(tag))) return no('all of the tags', allOf.join(', '), own);
    if (noneOf.some((tag) => tags.includes(tag))) return no('none of the tags', noneOf.join(', '), own);
    if (named !== '' && named !== id) return no('visitor', named, id);
    const owner = this.owners.get(what ?? '');
    if (ownerOnly && owner !== id) return no('owner', owner ?? 'an owner', id);
    return null;
  }

  private shutBy(chain: Chain, cause: Cause, event: Written): Details | null {
    const who = event.who ?? null;
    const what = event.what ?? null;
    const unheard = event.kind === 'signal' ? this.unheard(cause.hears, event.details ?? {}) : null;
    if (unheard !== null) return { reason: 'filtered', ...unheard };
    const filtered = this.filtered(cause.filter, this.person(who), what);
    if (filtered !== null) return filtered;
    if (cause.counts === 'first-and-last' && (event.kind === 'enter' || event.kind === 'leave')) {
      const others = [...(this.told.get(what ?? '') ?? [])].filter((id) => {
        const other = this.person(id)!;
        return id !== who && other.visitor.raisesOverlaps && this.filtered(cause.filter, other, what) === null;
      });
      if (others.length > 0) {
        const first = event.kind === 'enter';
        const asked = first ? 'nobody inside' : 'nobody left inside';
        return { reason: 'filtered', part: first ? 'first one in' : 'last one out', asked, found: 'others' };
      }
    }
    if (this.chainOff.has(chain.id)) return { reason: 'chain-off' };
    const count = this.used_.get(cause.id)?.count ?? 0;
    if (cause.limit !== null && count >= cause.limit) return { reason: 'used-up', limit: cause.limit, used: count };
    const used = this.used_.get(cause.cooldownFor === 'visitor' ? `${cause.id} ${who ?? ''}` : cause.id);
    const left = used === undefined || used.tick === null ? 0 : used.tick + this.ticks(cause.cooldown) - this.tick;
    if (left > 0) return { reason: 'cooling', ticks: left, seconds: Math.round((left / this.level.rate) * 1e6) / 1e6 };
    const { holds, read } = this.holds(chain.guard, who);
    if (!holds) return { reason: 'condition-false', read };
    return chain.whileRunning === 'ignore' && this.runs.some((run) => run.chain === chain) ? { reason: 'running' } : null;
  }

  holds(text: string, hand: string | null): { holds: boolean; read: string[] } {
    this.hand = hand;
    return this.conditions.of(text).verdict();
  }

  private unheard(hears: string, details: Details): Details | null {
    if (details['to'] === 'all') return null;
    if (hears === '') return { part: 'hearing', asked: 'something that hears it', found: 'nothing' };
    if (details['to'] === 'tag') {
      const things = [...this.level.zones, ...this.level.fixtures, ...this.level.visitors];
      const tags = things.find((one) => one.id === hears)?.tags ?? [];
      const tag = String(details['tag']);
      return tags.includes(tag) ? null : { part: 'hearing tag', asked: tag, found: tags.join(', ') };
    }
    const stand = this.stand(hears);
    const metres = Number(details['metres']);
    const asked = `${metres} m`;
    if (stand === null || stand.room !== details['room']) return { part: 'hearing radius', asked, found: 'another room' };
    const [x, y, z] = String(details['from']).split(' ').map(Number);
    const far = Math.sqrt((stand.at.x - x!) ** 2 + (stand.at.y - y!) ** 2 + (stand.at.z - z!) ** 2);
    return far <= metres + 1e-6 ? null : { part: 'hearing radius', asked, found: `${Math.round(far * 1000) / 1000} m` };
  }

  start(chain: Chain, trigger: Trigger): void {
    const { number, who, what, kind } = trigger;
    if (this.runs.some((run) => run.chain === chain)) {
      if (chain.whileRunning === 'restart') this.stopAll(chain, 'restarted', number);
      if (chain.whileRunning === 'queue') {
        this.waitingTriggers.set(chain, [...(this.waitingTriggers.get(chain) ?? []), trigger]);
        const details = { event: kind, reason: 'running', queued: true };
        this.write({ kind: 'held', who, what, chain: chain.id, cause: number, details });
        return;
      }
    }
    this.begin(chain, trigger);
  }

  private begin(chain: Chain, { number, who, what, kept }: Trigger): void {
    const started = this.write({ kind: 'chain-started', who, what, chain: chain.id, cause: number });
    for (const name of kept) this.used_.set(name, { count: this.used_.get(name)?.count ?? 0, tick: this.tick });
    const none = { told: new Set<Step>(), running: new Set<Step>(), done: new Set<Step>() };
    const run: Run = { chain, started, hand: who, source: what, begun: false, alive: true, ...none };
    this.runs.push(run);
    const go = (): void => {
      if (!run.alive) return;
      run.begun = true;
      this.look(run);
    };
    const delay = this.ticks(chain.delay);
    if (delay === 0) go();
    else this.in(delay, go, () => run.alive);
  }

  stopAll(chain: Chain, reason: string, cause: number): void {
    this.waitingTriggers.delete(chain);
    for (const run of this.runs.filter((one) => one.chain === chain)) {
      this.write({ kind: 'gave-up', who: run.hand, chain: chain.id, cause, details: { reason } });
      this.end(run);
    }
  }

  private end(run: Run): void {
    run.alive = false;
    this.runs = this.runs.filter((one) => one !== run);
    this.untils = this.untils.filter((one) => one.run !== run);
    if (this.runs.some((one) => one.chain === run.chain)) return;
    if (!this.waitingTriggers.has(run.chain)) return;
    this.queue.push(() => {
      if (this.runs.some((one) => one.chain === run.chain)) return;
      const next = this.waitingTriggers.get(run.chain)?.shift();
      if (next !== undefined) this.begin(run.chain, next);
    });
  }

  /** Begins every step whose turn has come, and finishes the chain when all are done. */
  private look(run: Run): void {
    const { chain, done } = run;
    chain.steps.forEach((step, i) => {
      if (!run.alive || run.told.has(step)) return;
      const before = chain.steps.slice(0, i);
      const previous = before.at(-1);
      const ready =
        previous === undefined ||
        (step.start === 'with' ? run.running.has(previous) || done.has(previous) : before.every((one) => done.has(one)));
      if (!ready) return;
      run.told.add(step);
      const delay = this.ticks(step.delay);
      if (delay === 0) this.runStep(run, step);
      else
        this.in(
          delay,
          () => {
            if (!run.alive) return;
            this.runStep(run, step);
            this.look(run);
          },
          () => run.alive,
        );
    });
    if (!run.alive || !chain.steps.every((step) => done.has(step))) return;
    const event = { kind: 'chain-finished', who: run.hand, what: chain.id, cause: run.started } as const;
    const number = this.write({ ...event, what: null, chain: chain.id });
    const heard = this.level.chains.some((one) => one.causes.some((own) => own.on === 'chain-finished' && own.of === chain.id));
    if (heard) this.queue.push(() => this.tell(event, number));
    this.end(run);
  }

  private targets(step: Step, hand: string | null): { targets: string[]; what: string | null; details: Details } {
    const found = (targets: string[], what: string | null, problem: string, more: Details = {}) => {
      const details: Details = { do: step.kind, ...more };
      return { targets, what, details: targets.length > 0 ? details : { ...details, problem } };
    };
    if ('who' in step) {
      const { who } = step;
      const inside = (): Person[] =>
        this.people.filter((one) => who.by === 'inside' && this.inside.has(`${who.zone} ${one.visitor.id}`));
      const meant =
        who.by === 'cause'
          ? [this.person(hand)]
          : who.by === 'name'
            ? [this.person(who.visitor)]
            : who.by === 'tag'
              ? this.people.filter((one) => one.inPlay && one.visitor.tags.includes(who.tag))
              : who.by === 'holder'
                ? [this.person(this.person(who.prop)?.lastHolder ?? null)]
                : inside();
      const ids = meant.flatMap((one) => (one === undefined ? [] : [one.visitor.id]));
      return found(ids, ids.length === 1 ? ids[0]! : null, 'nobody');
    }
    const target = targetOf(step);
    if (target === null) return { targets: [], what: null, details: { do: step.kind } };
    const { to, words } = target;
    if ('tagged' in step && step.tagged !== '') {
      const all = [...this.level.zones, ...this.level.fixtures].filter((one) => one.tags.includes(step.tagged));
      const ids = all.map((one) => one.id).filter((id) => words.includes(this.wordOf(id)!));
      return found(ids, null, all.length > 0 ? 'nothing with this tag that can do this' : 'nothing with this tag', {
        tag: step.tagged,
      });
    }
    const word = this.wordOf(to);
    const problem =
      word === undefined ? 'no such target' : `nothing that ${'aeiou'.includes(word[0]!) ? 'an' : 'a'} ${word} can do`;
    return found(word !== undefined && words.includes(word) ? [to] : [], to, problem);
  }

  private runStep(run: Run, step: Step): void {
    const { hand } = run;
    const { targets, what, details } = this.targets(step, hand);
    const entry = this.write({ kind: 'step', who: hand, what, chain: run.chain.id, step: step.id, cause: run.started, details });
    run.running.add(step);
    // One for the step itself while it is run, and one more for each thing that it waits for.
    let left = 1;
    let running = true;
    const finish = (): void => {
      if (!run.alive || run.done.has(step)) return;
      left -= 1;
      if (left > 0) return;
      run.done.add(step);
      this.untils = this.untils.filter((one) => one.run !== run || one.step !== step);
      if (!running) this.look(run);
    };
    const ended: Waiting[] = [];
    if (details['problem'] === undefined) {
      const wait = (list: Waiting[]): void => {
        left += 1;
        list.push({ entry, finish });
      };
      this.act({ run, step, entry, ended, wait, more: () => (left += 1), finish }, targets);
    }
    finish();
    running = false;
    ended.forEach((one) => one.finish());
  }

  /** What each kind of step does. */
  private act(doing: Doing, targets: string[]): void {
    const { step, run, entry, ended, finish } = doing;
    const { hand } = run;
    const each = (what: (id: string) => void): void => targets.forEach(what);
    const people = (what: (one: Person) => void): void => each((id) => what(this.person(id)!));
    const refuse = (one: Person, problem: string): void => {
      const said = { event: step.kind, reason: 'impossible', problem };
      const chain = run.chain.id;
      this.write({ kind: 'held', who: hand, what: one.visitor.id, chain, step: step.id, cause: entry, details: said });
    };
    /** Those who can be moved by a step. */
    const free = (one: Person): boolean => {
      const problem = !one.inPlay ? 'not in play' : one.carrier !== null ? 'carried' : null;
      if (problem !== null) refuse(one, problem);
      return problem === null;
    };
    const later = (ticks: number, job: Job): void => {
      doing.more();
      this.in(Math.max(1, ticks), job, () => run.alive && !run.done.has(step));
    };
    const chain = (id: string): Chain => this.level.chains.find((one) => one.id === id)!;
    const tellReset = (id: string): void =>
      this.emit({ kind: 'changed', who: hand, what: id, cause: entry, details: { field: 'reset', from: false, to: true } });
    switch (step.kind) {
      case 'open':
        return each((id) => this.drive(doing, id, (last) => last));
      case 'close':
        return each((id) => this.drive(doing, id, () => 0));
      case 'toggle':
        return each((id) => this.drive(doing, id, (last, towards) => (towards === 0 ? last : 0)));
      case 'send':
        return each((id) => this.drive(doing, id, (last) => Math.min(step.stop - 1, last)));
      case 'play':
        return each((id) => {
          if (step.way === 'from-the-start') ended.push(...this.put(this.machines.get(id)!, 0));
          this.drive(doing, id, (last) => (step.way === 'backwards' ? 0 : last));
        });
      case 'wait':
        if (this.ticks(step.seconds) > 0) later(this.ticks(step.seconds), finish);
        return;
      case 'push':
        people((one) => {
          if (!free(one)) return;
          const ticks = this.ticks(step.seconds);
          if (step.velocity.z > 0) {
            one.flight = { from: one.at, velocity: step.velocity, begun: this.tick, by: null, cause: null, push: entry };
            one.support = null;
          } else if (ticks > 0) one.push = { x: step.velocity.x, y: step.velocity.y, ticks, step: entry };
        });
        if (this.ticks(step.seconds) > 0) later(this.ticks(step.seconds), finish);
        return;
      case 'wait-until': {
        if (this.holds(step.until, hand).holds) return;
        doing.more();
        this.untils.push({ run, step, text: step.until, finish, seen: false });
        if (step.limit === null) return;
        const waits = (): boolean => run.alive && !run.done.has(step);
        const giveUp = (): void => {
          if (!waits()) return;
          const why = { reason: 'time limit' };
          this.write({ kind: 'gave-up', who: hand, chain: run.chain.id, step: step.id, cause: run.started, details: why });
          finish();
        };
        this.in(this.ticks(step.limit), giveUp, waits);
        return;
      }
      case 'cue':
        return each((id) => {
          const cue = this.level.fixtures.find((one) => one.id === id)!;
          if (cue.kind !== 'cue') throw new Error('not a cue');
          const ticks = this.ticks(cue.seconds);
          doing.more();
          const { speaker, line } = cue;
          const spoken: Details = cue.medium === 'speech' ? { ...(speaker === '' ? {} : { speaker }), line } : {};
          this.emit({
            kind: 'cue-started',
            who: hand,
            what: id,
            cause: entry,
            details: { medium: cue.medium, ticks, ...spoken },
          });
          this.in(ticks, () => this.happen({ kind: 'cue-finished', who: hand, what: id, cause: entry }, finish));
        });
      case 'set-flag':
        return each((id) => void this.change('flag', id, step.to, entry, hand));
      case 'set-counter':
        return each((id) => {
          const before = step.how === 'set' ? 0 : Number(this.fact(id, hand));
          this.change('counter', id, before + step.value, entry, hand);
        });
      case 'set-text':
      case 'write-sign':
        return each((id) => {
          const name = this.person(hand)?.visitor.name.trim() ?? '';
          this.change('text', id, step.text.split('{visitor}').join(name), entry, hand);
        });
      case 'show':
      case 'hide':
        return each((id) => void this.change('shown', id, step.kind === 'show', entry, hand));
      case 'make-see-through':
      case 'make-opaque':
        return each((id) => void this.change('seeThrough', id, step.kind === 'make-see-through', entry, hand));
      case 'make-solid':
      case 'make-passable':
        return each((id) => void this.change('solid', id, step.kind === 'make-solid', entry, hand));
      case 'disable':
        return each((id) => void this.change('enabled', id, false, entry, hand));
      case 'enable':
        return each((id) => {
          if (!this.change('enabled', id, true, entry, hand) || !step.insideEnter) return;
          for (const one of this.people.filter((own) => this.inside.has(`${id} ${own.visitor.id}`)))
            this.emit(
              { kind: 'enter', who: one.visitor.id, what: id, cause: entry, details: { enabled: true } },
              (number, held) => {
                if (!held) this.entered(id, one, number);
              },
            );
        });
      case 'reset':
        return each((id) => {
          ended.push(...this.restore(id));
          tellReset(id);
        });
      case 'signal':
        return each((id) => {
          const from = this.stand(hand ?? run.source ?? '') ?? { room: '', at: { x: 0, y: 0, z: 0 } };
          const brief = [from.at.x, from.at.y, from.at.z].map((metres) => Math.round(metres * 1e6) / 1e6 + 0).join(' ');
          const { address } = step;
          const details: Details =
            address.to === 'all'
              ? { to: 'all' }
              : address.to === 'tag'
                ? { to: 'tag', tag: address.tag }
                : { to: 'radius', metres: address.metres, room: from.room, from: brief };
          this.emit({ kind: 'signal', who: hand, what: id, cause: entry, details });
        });
      case 'teleport':
      case 'warp':
        return people((one) => {
          const problem = this.travel(one, step, step.kind === 'warp', entry, hand);
          if (problem !== null) refuse(one, problem);
        });
      case 'claim':
        return each((id) => {
          if (hand === null || this.owners.has(id)) return;
          this.owners.set(id, hand);
          this.emit({ kind: 'claimed', who: hand, what: id, cause: entry });
        });
      case 'give-up':
        return each((id) => {
          const owner = this.owners.get(id);
          if (owner === undefined) return;
          this.owners.delete(id);
          this.emit({ kind: 'changed', who: hand, what: id, cause: entry, details: { field: 'owner', from: owner, to: null } });
        });
      case 'collect':
        return each((id) => this.collect(id, entry, hand));
      case 'spawn':
        return people((one) => {
          const own = one.visitor;
          if (one.inPlay) return;
          const spot = step.at === null ? { room: own.room, at: own.at, heading: own.heading } : this.spot(step.at, one);
          if (spot === null) return refuse(one, 'no such place');
          one.inPlay = true;
          one.room = spot.room;
          one.heading = spot.heading ?? own.heading;
          this.place(one, spot.at);
          this.settle(one);
          this.jump(one);
          this.putElsewhere({ kind: 'spawned', who: hand, what: own.id, cause: entry }, [one], []);
        });
      case 'remove':
        return people((one) => {
          if (!one.inPlay) return;
          const { room } = one;
          this.dropOut(one);
          this.putElsewhere({ kind: 'removed', who: hand, what: one.visitor.id, cause: entry }, [one], []);
          this.leftRoom(one, room, entry);
        });
      case 'hold-visitor':
      case 'release-visitor': {
        const held = step.kind === 'hold-visitor';
        return people((one) => {
          if (one.held === held) return;
          one.held = held;
          const details = { field: 'held', from: !held, to: held };
          this.emit({ kind: 'changed', who: hand, what: one.visitor.id, cause: entry, details });
        });
      }
      case 'walk-visitor':
        return people((one) => {
          if (!free(one)) return;
          ended.push(...(one.forced?.waiting ?? []));
          one.forced = null;
          one.leg = null;
          const leg = this.legTo(one, step.to, one.visitor.speed);
          if (leg === null) return refuse(one, 'no such place in this room');
          one.forced = { to: leg.points.at(-1)!, speed: leg.speed, leg, hand, cause: entry, waiting: [] };
          doing.wait(one.forced.waiting);
        });
      case 'turn':
        return people((one) => {
          const heading = step.facing === null ? step.degrees : this.headingTo(one, step.facing);
          if (heading === null) refuse(one, 'no such place to face');
          else one.heading = heading;
        });
      case 'stop-velocity':
        return people((one) => {
          one.push = null;
          if (one.flight !== null) one.flight = { ...one.flight, from: one.at, velocity: { x: 0, y: 0, z: 0 }, begun: this.tick };
        });
      case 'start-chain':
        return each((id) => this.startByStep(doing, chain(id)));
      case 'stop-chain':
        return each((id) => this.stopAll(chain(id), 'stopped', entry));
      case 'reset-chain':
        return each((id) => {
          this.stopAll(chain(id), 'reset', entry);
          for (const { id: cause } of chain(id).causes)
            for (const key of [...this.used_.keys()]) if (key === cause || key.startsWith(`${cause} `)) this.used_.delete(key);
          tellReset(id);
        });
    }
  }

  /** Sends a machine where `goal` says, by its last position and the one that it stands at or goes to. */
  private drive({ run, entry, ended, wait }: Doing, id: string, goal: (last: number, towards: number) => number): void {
    const machine = this.machines.get(id)!;
    const to = goal(machine.frames.length - 1, machine.going?.to ?? machine.clock);
    ended.push(...this.send(machine, to, entry, run.hand, this.emit.bind(this), (going: Going) => wait(going.waiting)).ended);
  }

  /** A chain that a step starts passes gates 4, 7 and 8 only. */
  private startByStep({ run, entry }: Doing, chain: Chain): void {
    const { hand, source } = run;
    const { holds, read } = this.holds(chain.guard, hand);
    const running = chain.whileRunning === 'ignore' && this.runs.some((one) => one.chain === chain);
    let shut: Details | null = running ? { reason: 'running' } : null;
    if (!holds) shut = { reason: 'condition-false', read };
    if (this.chainOff.has(chain.id)) shut = { reason: 'chain-off' };
    if (shut !== null) {
      const details = { event: 'step', ...shut };
      this.write({ kind: 'held', who: hand, what: source, chain: chain.id, cause: entry, details });
      return;
    }
    this.depth += 1;
    this.count();
    this.start(chain, { number: entry, who: hand, what: source, kind: 'step', kept: [] });
    this.depth -= 1;
  }

  /** Changes a part of what is; whether it was otherwise. */
  private change(part: string, id: string, to: boolean | string | number, cause: number, hand: string | null): boolean {
    const chain = this.level.chains.some((one) => one.id === id);
    const maps = { shown: this.shown, seeThrough: this.seeThrough, solid: this.solid, enabled: this.enabled } as Record<
      string,
      Map<string, boolean>
    >;
    const map = maps[part];
    const from = part === 'enabled' && chain ? !this.chainOff.has(id) : map === undefined ? this.fact(id, hand) : map.get(id)!;
    if (from === to) return false;
    if (part === 'enabled' && chain) {
      if (to === true) this.chainOff.delete(id);
      else this.chainOff.add(id);
    } else if (map === undefined) this.facts.set(this.key(id, hand), to);
    else map.set(id, to as boolean);
    const field = { flag: 'on', counter: 'value' }[part] ?? part;
    this.emit({ kind: 'changed', who: hand, what: id, cause, details: { field, from, to } });
    return true;
  }

  collect(id: string, cause: number, hand: string | null): void {
    const own = this.level.fixtures.find((one) => one.id === id)!;
    if (own.kind !== 'collectible' || this.collected.has(id)) return;
    this.collected.add(id);
    this.shown.set(id, false);
    this.enabled.set(id, false);
    this.emit({ kind: 'collected', who: hand, what: id, cause });
    if (this.level.counters.some((one) => one.id === own.counter))
      this.change('counter', own.counter, Number(this.fact(own.counter, hand)) + own.adds, cause, hand);
  }

  private restore(id: string): Waiting[] {
    this.owners.delete(id);
    for (const key of [...this.took.keys()]) if (key.split(' ')[0] === id) this.took.delete(key);
    const zone = this.level.zones.find((one) => one.id === id);
    if (zone !== undefined) this.enabled.set(id, zone.enabled);
    const own = this.level.fixtures.find((one) => one.id === id);
    if (own === undefined) return [];
    this.enabled.set(id, own.enabled);
    this.shown.set(id, own.shown);
    this.seeThrough.set(id, own.seeThrough);
    this.collected.delete(id);
    if (own.kind === 'switch') this.switches.set(id, { on: own.on, uses: 0, ticket: this.switches.get(id)!.ticket + 1 });
    if (own.kind === 'bell-pull') this.switches.set(id, { on: false, uses: 0, ticket: this.switches.get(id)!.ticket + 1 });
    if (own.kind === 'sign' || own.kind === 'marker') this.facts.set(id, own.text);
    if ('size' in own) this.solid.set(id, 'solid' in own && own.solid);
    const machine = this.machines.get(id);
    return machine === undefined ? [] : this.put(machine, machine.starts);
  }

  // Travel

  putElsewhere(event: Written, people: Person[], arrived: Chains['arrivals']): void {
    const then = (): void => {
      if (this.rules.afterTeleport === 'sense-at-once') this.senseOnly(people);
    };
    this.emit(event, then, (number) => {
      for (const one of people) one.putBy = number;
      for (const arrival of arrived) {
        arrival.cause = number;
        this.sayInside(arrival.volume, arrival.one, number);
      }
    });
  }

  sayInside(id: string, one: Person, cause: number): void {
    this.told.set(id, (this.told.get(id) ?? new Set()).add(one.visitor.id));
    this.write({ kind: 'arrived-inside', who: one.visitor.id, what: id, cause });
  }

  headingTo(one: Person, to: Place): number | null {
    const spot = this.spot(to, one);
    return spot === null ? null : headingTowards(spot.at.x - one.at.x, spot.at.y - one.at.y);
  }

  abstract beInside(id: string, one: Person): void;

  /** Whoever is carried by one, or by what it carries, in listing order. */
  private burden(one: Person): Person[] {
    const isCarried = (other: Person): boolean => other.carrier !== null && (other.carrier === one || isCarried(other.carrier));
    return this.people.filter(isCarried);
  }

  /** Puts somebody elsewhere; why nothing comes of it, or null. */
  travel(one: Person, journey: Journey, warp: boolean, cause: number, hand: string | null): string | null {
    if (!one.inPlay) return 'not in play';
    if (one.carrier !== null) return 'carried';
    if (warp && journey.to.room === '' && journey.to.of === '') return 'no room';
    const spot = this.spot(journey.to, one);
    const left = one.room;
    if (spot === null) return 'no such place';
    if (!warp && spot.room !== left) return 'another room';
    const { id } = one.visitor;
    if (warp && !one.visitor.travels) {
      this.dropOut(one);
      this.putElsewhere({ kind: 'left-behind', who: hand, what: id, cause }, [one], []);
      this.leftRoom(one, left, cause);
      return null;
    }
    const [before, from] = [one.heading, one.at];
    one.room = spot.room;
    this.place(one, spot.at);
    if (journey.arrivesFacing === 'take') one.heading = spot.heading ?? before;
    if (journey.arrivesFacing === 'towards' && journey.facing !== null)
      one.heading = this.headingTo(one, journey.facing) ?? before;
    this.keepOrStop(one, journey.velocity, from, one.heading - before);
    if (one.flight === null) this.settle(one);
    this.jump(one);
    const um = (metres: number): number => Math.round(metres * 1e6) / 1e6 + 0;
    const details: Details = {
      x: um(one.at.x),
      y: um(one.at.y),
      z: um(one.at.z),
      heading: told(one.heading),
      ...(warp ? { room: spot.room } : {}),
    };
    const together = [one, ...this.burden(one)];
    const arrived: Chains['arrivals'] = [];
    if (journey.arrival === 'quiet') {
      for (const other of together)
        for (const volume of this.volumes) {
          const there = volume.room === other.room && this.isPassableFor(volume, other) && this.isThere(volume);
          const known = this.inside.has(`${volume.id} ${other.visitor.id}`);
          if (!there || known || !meets(this.bodyOf(other), this.shape(volume))) continue;
          arrived.push({ volume: volume.id, one: other, cause: null });
          this.beInside(volume.id, other);
        }
      this.arrivals.push(...arrived);
    }
    this.putElsewhere({ kind: warp ? 'warped' : 'teleported', who: hand, what: id, cause, details }, together, arrived);
    if (spot.room !== left) this.leftRoom(one, left, cause);
    return null;
  }

  private keepOrStop(one: Person, velocity: Journey['velocity'], from: Person['at'], turn: number): void {
    if (velocity === 'stop') {
      one.push = null;
      one.flight = null;
      if (one.onLeg) {
        one.todo.shift();
        one.leg = null;
        one.onLeg = false;
      }
      if (one.forced !== null) this.queue.push(...one.forced.waiting.map((waiting) => waiting.finish));
      one.forced = null;
      return;
    }
    const by = velocity === 'turn' ? turn : 0;
    if (one.push !== null) Object.assign(one.push, this.turnedBy(one.push.x, one.push.y, by));
    if (one.flight !== null) {
      const { velocity: v, begun } = one.flight;
      const z = v.z - this.level.gravity * ((this.tick - begun) / this.level.rate);
      one.flight = { ...one.flight, from: one.at, velocity: { ...this.turnedBy(v.x, v.y, by), z }, begun: this.tick };
    }
    const fromHere = (point: Person['at']): Person['at'] => {
      const way = this.turnedBy(point.x - from.x, point.y - from.y, by);
      return { x: one.at.x + way.x, y: one.at.y + way.y, z: one.at.z };
    };
    if (one.forced !== null) one.forced.to = fromHere(one.forced.to);
    for (const leg of [one.leg, one.forced?.leg ?? null]) {
      if (leg === null) continue;
      leg.blocked = false;
      leg.points = leg.points.map(fromHere);
      this.beginLeg(one, leg);
    }
  }

  private dropOut(one: Person): void {
    for (const carried of this.carries(one)) {
      carried.carrier = null;
      carried.jumped = true;
      carried.sensed = carried.at;
      this.settle(carried);
      this.anew(carried);
    }
    one.carrier = null;
    one.inPlay = false;
    one.flight = null;
    one.push = null;
    one.forced = null;
    one.leg = null;
    one.onLeg = false;
    one.waits = null;
    one.support = null;
    one.jumped = true;
    one.sensed = one.at;
  }

  private leftRoom(leaver: Person, id: string, cause: number): void {
    const room = this.level.rooms.find((one) => one.id === id);
    if (room === undefined) return;
    const rule = room.leftEmpty === 'by-house-rule' ? this.rules.roomLeftEmpty : room.leftEmpty;
    const player = (one: Person): boolean => one.visitor.kind === 'player';
    if (rule === 'keeps' || !player(leaver) || this.people.some((one) => one.inPlay && one.room === id && player(one))) return;
    for (const thing of [...this.level.zones, ...this.level.fixtures])
      if (thing.room === id) this.queue.push(...this.restore(thing.id).map((one) => one.finish));
    for (const one of this.people) {
      if (player(one) || one.room !== id || one.visitor.room !== id || !one.inPlay || one.carrier !== null) continue;
      one.flight = null;
      one.push = null;
      one.heading = one.visitor.heading;
      this.place(one, one.visitor.at);
      this.jump(one);
      this.anew(one);
    }
    this.emit({ kind: 'changed', what: id, cause, details: { field: 'started over', from: false, to: true } });
  }

  abstract entered(id: string, one: Person, number: number): void;
}
