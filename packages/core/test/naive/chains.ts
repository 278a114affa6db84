import type { Cause, Chain, Details, Filter, Journey, Place, Step } from '../../src/index';
import { kindOfStep, lookup } from '../../src/index';
import type { Stage } from '../../src/rehearsal/stage';
import { headingOf } from '../../src/space/headings';
import { overlaps } from '../../src/index';
import { Moves } from './moves';
import { TooMuch } from './world';
import type { Job, Person, Then, Waiting, Written } from './world';

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
}

const listened = new Set<string>(
  'enter leave dwell bump use on off press release moving opened closed arrived signal changed became-true became-false chain-finished teleported warped claimed collected spawned removed cue-started cue-finished'.split(
    ' ',
  ),
);
const ofVisitors = new Set('enter leave dwell bump press release'.split(' '));
const ofEnabled = new Set('enter leave dwell bump press release use on off moving opened closed arrived'.split(' '));

const nothing = (): void => undefined;

/** Events, gates, chains and steps. */
export abstract class Chains extends Moves {
  jobs = 0;
  depth = 0;
  runs: Run[] = [];
  untils: { run: Run; step: Step; text: string; finish: Job }[] = [];
  readonly waitingTriggers = new Map<Chain, Trigger[]>();
  readonly used_ = new Map<string, { count: number; tick: number }>();
  readonly chainOff = new Set<string>(this.level.chains.filter((one) => !one.enabled).map((one) => one.id));
  readonly told = new Map<string, Set<string>>();

  abstract watch(): boolean;
  abstract senseOnly(one: Person): void;

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
    const count = (this.used_.get(cause.id)?.count ?? 0) + 1;
    this.used_.set(cause.id, { count, tick: this.tick });
    if (cause.cooldownFor === 'visitor') this.used_.set(`${cause.id} ${who ?? ''}`, { count: 0, tick: this.tick });
    this.start(chain, { number, who, what, kind: event.kind });
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
    const left = used === undefined ? 0 : used.tick + this.ticks(cause.cooldown) - this.tick;
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

  private begin(chain: Chain, { number, who, what }: Trigger): void {
    const started = this.write({ kind: 'chain-started', who, what, chain: chain.id, cause: number });
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
    else this.in(delay, go);
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
        this.in(delay, () => {
          if (!run.alive) return;
          this.runStep(run, step);
          this.look(run);
        });
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
    const [reference] = kindOfStep(step.kind).references(step);
    if (reference === undefined) return { targets: [], what: null, details: { do: step.kind } };
    const words = reference.accepts as readonly string[];
    if ('tagged' in step && step.tagged !== '') {
      const zones = words.includes('zone') ? this.level.zones : [];
      const fixtures = this.level.fixtures.filter((one) => words.includes(one.kind));
      const ids = [...zones, ...fixtures].filter((one) => one.tags.includes(step.tagged)).map((one) => one.id);
      const any = [...this.level.zones, ...this.level.fixtures].some((one) => one.tags.includes(step.tagged));
      return found(ids, null, any ? 'nothing with this tag that can do this' : 'nothing with this tag', { tag: step.tagged });
    }
    const { level } = this;
    const has = (word: string, list: { id: string }[]): boolean =>
      words.includes(word) && list.some((one) => one.id === reference.to);
    const there =
      has('zone', level.zones) ||
      has('flag', level.flags) ||
      has('counter', level.counters) ||
      has('text', level.texts) ||
      has('signal', level.signals) ||
      has('chain', level.chains) ||
      level.fixtures.some((one) => one.id === reference.to && words.includes(one.kind)) ||
      level.visitors.some((one) => one.id === reference.to && words.includes(one.kind));
    const other = lookup(level).get(reference.to)?.word;
    const problem = other === undefined ? 'no such target' : `nothing that a ${other} can do`;
    return found(there ? [reference.to] : [], reference.to, problem);
  }

  private runStep(run: Run, step: Step): void {
    const { hand } = run;
    const { targets, what, details } = this.targets(step, hand);
    const entry = this.write({ kind: 'step', who: hand, what, chain: run.chain.id, step: step.id, cause: run.started, details });
    run.running.add(step);
    let left = 1;
    const finish = (): void => {
      if (!run.alive || run.done.has(step)) return;
      left -= 1;
      if (left > 0) return;
      run.done.add(step);
      this.untils = this.untils.filter((one) => one.run !== run || one.step !== step);
      this.look(run);
    };
    const waiting: Waiting = { entry, finish };
    const ended: Waiting[] = [];
    const outcome =
      details['problem'] === undefined
        ? kindOfStep(step.kind).run(step, this.stage(run, entry, ended), targets)
        : ({ done: true } as const);
    if ('done' in outcome) left = 0;
    else if ('ticks' in outcome) this.in(Math.max(1, outcome.ticks), finish);
    else if ('motions' in outcome) {
      const moving = outcome.motions.flatMap((id) => this.machines.get(id)!.going ?? []);
      moving.forEach((going) => going.waiting.push(waiting));
      left = moving.length;
    } else if ('walks' in outcome) {
      const walking = outcome.walks.flatMap((id) => this.person(id)!.forced ?? []);
      walking.forEach((forced) => forced.waiting.push(waiting));
      left = walking.length;
    } else if ('cue' in outcome) {
      this.in(outcome.length, () =>
        this.happen({ kind: 'cue-finished', who: hand, what: outcome.cue, cause: outcome.cause }, finish),
      );
    } else if (this.holds(outcome.until, hand).holds) left = 0;
    else {
      this.untils.push({ run, step, text: outcome.until, finish });
      if (outcome.limit !== null)
        this.in(outcome.limit, () => {
          if (!run.alive || run.done.has(step)) return;
          const details = { reason: 'time limit' };
          this.write({ kind: 'gave-up', who: hand, chain: run.chain.id, step: step.id, cause: run.started, details });
          finish();
        });
    }
    if (left === 0) run.done.add(step);
    ended.forEach((one) => one.finish());
  }

  private stage(run: Run, entry: number, ended: Waiting[]): Stage {
    const { hand } = run;
    const emit = this.emit.bind(this);
    const person = (id: string): Person => this.person(id)!;
    const chain = (id: string): Chain => this.level.chains.find((one) => one.id === id)!;
    return {
      hand,
      ticksOf: (seconds) => this.ticks(seconds),
      change: (part, id, to) => this.change(part, id, to, entry, hand),
      counter: (id) => Number(this.fact(id, hand)),
      worded: (text) => text.replaceAll('{visitor}', hand === null ? '' : person(hand).visitor.name.trim()),
      move: (ids, to) => {
        for (const id of ids) {
          const machine = this.machines.get(id)!;
          const last = machine.frames.length - 1;
          if (to === 'again') ended.push(...this.put(machine, 0));
          const towards = machine.going?.to ?? machine.clock;
          const goal =
            typeof to === 'number' ? Math.min(to - 1, last) : to === 'closed' || (to === 'other' && towards !== 0) ? 0 : last;
          ended.push(...this.send(machine, goal, entry, hand, emit).ended);
        }
        return { motions: ids.filter((id) => this.machines.get(id)!.going !== null) };
      },
      enterThoseInside: (id) => {
        for (const one of this.people.filter((own) => this.inside.has(`${id} ${own.visitor.id}`)))
          this.emit(
            { kind: 'enter', who: one.visitor.id, what: id, cause: entry, details: { enabled: true } },
            (number, held) => {
              if (!held) this.entered(id, one, number);
            },
          );
      },
      signal: (id, to) => {
        const from = this.stand(hand ?? run.source ?? '') ?? { room: '', at: { x: 0, y: 0, z: 0 } };
        const brief = [from.at.x, from.at.y, from.at.z].map((metres) => Math.round(metres * 1e6) / 1e6 + 0).join(' ');
        const details: Details =
          'all' in to
            ? { to: 'all' }
            : 'tag' in to
              ? { to: 'tag', tag: to.tag }
              : { to: 'radius', metres: to.radius, room: from.room, from: brief };
        this.emit({ kind: 'signal', who: hand, what: id, cause: entry, details });
      },
      cue: (id) => {
        const cue = this.level.fixtures.find((one) => one.id === id)!;
        if (cue.kind !== 'cue') throw new Error('not a cue');
        const ticks = this.ticks(cue.seconds);
        this.emit({ kind: 'cue-started', who: hand, what: id, cause: entry, details: { medium: cue.medium, ticks } });
        return { cue: id, cause: entry, length: ticks };
      },
      travel: (id, journey, warp) => this.travel(person(id), journey, warp, entry, hand),
      claim: (id) => {
        if (hand === null || this.owners.has(id)) return;
        this.owners.set(id, hand);
        this.emit({ kind: 'claimed', who: hand, what: id, cause: entry });
      },
      giveUp: (id) => {
        const owner = this.owners.get(id);
        if (owner === undefined) return;
        this.owners.delete(id);
        this.emit({ kind: 'changed', who: hand, what: id, cause: entry, details: { field: 'owner', from: owner, to: null } });
      },
      collect: (id) => this.collect(id, entry, hand),
      spawn: (id, at) => {
        const one = person(id);
        const own = one.visitor;
        if (one.inPlay) return;
        const spot = at === null ? { room: own.room, at: own.at, heading: own.heading } : this.spot(at, one);
        if (spot === null) return;
        one.inPlay = true;
        one.room = spot.room;
        one.heading = spot.heading ?? own.heading;
        one.jumped = true;
        this.place(one, spot.at);
        this.settle(one);
        this.putElsewhere({ kind: 'spawned', who: hand, what: id, cause: entry }, one, []);
      },
      remove: (id) => {
        const one = person(id);
        if (!one.inPlay) return;
        const { room } = one;
        this.dropOut(one);
        this.putElsewhere({ kind: 'removed', who: hand, what: id, cause: entry }, one, []);
        this.leftRoom(room, entry);
      },
      control: (id, held) => {
        const one = person(id);
        if (one.held === held) return;
        one.held = held;
        this.emit({ kind: 'changed', who: hand, what: id, cause: entry, details: { field: 'held', from: !held, to: held } });
      },
      walk: (id, to) => {
        const one = person(id);
        if (!one.inPlay || one.carrier !== null) return;
        ended.push(...(one.forced?.waiting ?? []));
        one.forced = null;
        one.leg = null;
        const leg = this.legTo(one, to, one.visitor.speed);
        if (leg !== null) one.forced = { leg, hand, cause: entry, waiting: [] };
      },
      push: (id, velocity, seconds) => {
        const one = person(id);
        if (!one.inPlay || one.carrier !== null) return;
        if (velocity.z > 0) {
          one.flight = { from: one.at, velocity, begun: this.tick, by: null, cause: null };
          one.support = null;
        } else if (this.ticks(seconds) > 0) one.push = { x: velocity.x, y: velocity.y, ticks: this.ticks(seconds) };
      },
      turn: (id, degrees, facing) => {
        const one = person(id);
        one.heading = facing === null ? degrees : (this.headingTo(one, facing) ?? one.heading);
      },
      stopVelocity: (id) => {
        const one = person(id);
        one.push = null;
        if (one.flight !== null) one.flight = { ...one.flight, from: one.at, velocity: { x: 0, y: 0, z: 0 }, begun: this.tick };
      },
      startChain: (id) => {
        const { holds, read } = this.holds(chain(id).guard, hand);
        const shut: Details | null = this.chainOff.has(id)
          ? { reason: 'chain-off' }
          : !holds
            ? { reason: 'condition-false', read }
            : chain(id).whileRunning === 'ignore' && this.runs.some((one) => one.chain.id === id)
              ? { reason: 'running' }
              : null;
        const { source } = run;
        if (shut === null) {
          this.depth += 1;
          this.count();
          this.start(chain(id), { number: entry, who: hand, what: source, kind: 'step' });
          this.depth -= 1;
        } else
          this.write({ kind: 'held', who: hand, what: source, chain: id, cause: entry, details: { event: 'step', ...shut } });
      },
      stopChain: (id) => this.stopAll(chain(id), 'stopped', entry),
      resetChain: (id) => {
        this.stopAll(chain(id), 'reset', entry);
        for (const { id: cause } of chain(id).causes)
          for (const key of [...this.used_.keys()]) if (key === cause || key.startsWith(`${cause} `)) this.used_.delete(key);
        this.emit({ kind: 'changed', who: hand, what: id, cause: entry, details: { field: 'reset', from: false, to: true } });
      },
      resetFixture: (id) => {
        ended.push(...this.restore(id));
        this.emit({ kind: 'changed', who: hand, what: id, cause: entry, details: { field: 'reset', from: false, to: true } });
      },
    };
  }

  private change(part: string, id: string, to: boolean | string | number, cause: number, hand: string | null): void {
    const chain = this.level.chains.some((one) => one.id === id);
    const maps = { shown: this.shown, solid: this.solid, enabled: this.enabled } as Record<string, Map<string, boolean>>;
    const map = maps[part];
    const from = part === 'enabled' && chain ? !this.chainOff.has(id) : map === undefined ? this.fact(id, hand) : map.get(id)!;
    if (from === to) return;
    if (part === 'enabled' && chain) {
      if (to === true) this.chainOff.delete(id);
      else this.chainOff.add(id);
    } else if (map === undefined) this.facts.set(this.key(id, hand), to);
    else map.set(id, to as boolean);
    const field = { flag: 'on', counter: 'value' }[part] ?? part;
    this.emit({ kind: 'changed', who: hand, what: id, cause, details: { field, from, to } });
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
    const zone = this.level.zones.find((one) => one.id === id);
    if (zone !== undefined) this.enabled.set(id, zone.enabled);
    const own = this.level.fixtures.find((one) => one.id === id);
    if (own === undefined) return [];
    this.enabled.set(id, own.enabled);
    this.shown.set(id, own.shown);
    this.collected.delete(id);
    if (own.kind === 'switch') this.switches.set(id, { on: own.on, uses: 0, ticket: this.switches.get(id)!.ticket + 1 });
    if (own.kind === 'sign' || own.kind === 'marker') this.facts.set(id, own.text);
    if ('size' in own) this.solid.set(id, 'solid' in own && own.solid);
    const machine = this.machines.get(id);
    return machine === undefined ? [] : this.put(machine, machine.starts);
  }

  // Travel

  putElsewhere(event: Written, one: Person, arrivedIn: string[]): void {
    const then = (): void => {
      if (this.rules.afterTeleport === 'sense-at-once') this.senseOnly(one);
    };
    this.emit(event, then, (number) => {
      one.putBy = number;
      for (const id of arrivedIn) this.sayInside(id, one, number);
    });
  }

  sayInside(id: string, one: Person, cause: number): void {
    this.told.set(id, (this.told.get(id) ?? new Set()).add(one.visitor.id));
    this.write({ kind: 'arrived-inside', who: one.visitor.id, what: id, cause });
  }

  headingTo(one: Person, to: Place): number | null {
    const spot = this.spot(to, one);
    return spot === null ? null : headingOf(spot.at.x - one.at.x, spot.at.y - one.at.y);
  }

  abstract beInside(id: string, one: Person): void;

  private jump(one: Person): void {
    one.jumped = true;
    this.carries(one).forEach((carried) => this.jump(carried));
  }

  travel(one: Person, journey: Journey, warp: boolean, cause: number, hand: string | null): void {
    if (!one.inPlay || one.carrier !== null) return;
    const spot = this.spot(journey.to, one);
    const left = one.room;
    if (spot === null || (!warp && spot.room !== left)) return;
    const { id } = one.visitor;
    if (warp && !one.visitor.travels) {
      this.dropOut(one);
      this.putElsewhere({ kind: 'left-behind', who: hand, what: id, cause }, one, []);
      this.leftRoom(left, cause);
      return;
    }
    const [before, from] = [one.heading, one.at];
    one.room = spot.room;
    this.jump(one);
    this.place(one, spot.at);
    if (journey.arrivesFacing === 'take') one.heading = spot.heading ?? before;
    if (journey.arrivesFacing === 'towards' && journey.facing !== null)
      one.heading = this.headingTo(one, journey.facing) ?? before;
    this.keepOrStop(one, journey.velocity, from, one.heading - before);
    if (one.flight === null) this.settle(one);
    const um = (metres: number): number => Math.round(metres * 1e6) / 1e6 + 0;
    const details: Details = { x: um(one.at.x), y: um(one.at.y), z: um(one.at.z), ...(warp ? { room: spot.room } : {}) };
    const arrivedIn: string[] = [];
    if (journey.arrival === 'quiet') {
      for (const volume of this.volumes) {
        const there = volume.room === one.room && this.solid.get(volume.id) !== true && this.isThere(volume);
        if (!there || this.inside.has(`${volume.id} ${id}`) || !overlaps(this.bodyOf(one), this.shape(volume))) continue;
        arrivedIn.push(volume.id);
        this.beInside(volume.id, one);
      }
    }
    this.putElsewhere({ kind: warp ? 'warped' : 'teleported', who: hand, what: id, cause, details }, one, arrivedIn);
    if (spot.room !== left) this.leftRoom(left, cause);
  }

  private keepOrStop(one: Person, velocity: Journey['velocity'], from: Person['at'], turn: number): void {
    if (velocity === 'stop') {
      one.push = null;
      one.flight = null;
      if (one.leg !== null) {
        one.todo.shift();
        one.leg = null;
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
    for (const leg of [one.leg, one.forced?.leg ?? null]) {
      if (leg === null) continue;
      leg.blocked = false;
      leg.points = leg.points.map((point) => {
        const way = this.turnedBy(point.x - from.x, point.y - from.y, by);
        return { x: one.at.x + way.x, y: one.at.y + way.y, z: one.at.z };
      });
      this.beginLeg(one, leg);
    }
  }

  private dropOut(one: Person): void {
    for (const carried of this.carries(one)) {
      carried.carrier = null;
      carried.jumped = true;
      this.settle(carried);
    }
    if (one.carrier !== null) one.jumped = true;
    one.carrier = null;
    one.inPlay = false;
    one.flight = null;
    one.push = null;
    one.forced = null;
    one.leg = null;
    one.waits = null;
    one.support = null;
    one.jumped = true;
  }

  private leftRoom(id: string, cause: number): void {
    const room = this.level.rooms.find((one) => one.id === id);
    if (room === undefined) return;
    const rule = room.leftEmpty === 'by-house-rule' ? this.rules.roomLeftEmpty : room.leftEmpty;
    const player = (one: Person): boolean => one.visitor.kind === 'player';
    if (rule === 'keeps' || this.people.some((one) => one.inPlay && one.room === id && player(one))) return;
    for (const thing of [...this.level.zones, ...this.level.fixtures])
      if (thing.room === id) this.queue.push(...this.restore(thing.id).map((one) => one.finish));
    for (const one of this.people) {
      if (player(one) || one.room !== id || one.visitor.room !== id || !one.inPlay || one.carrier !== null) continue;
      one.flight = null;
      one.push = null;
      one.jumped = true;
      one.leg = null;
      one.heading = one.visitor.heading;
      this.place(one, one.visitor.at);
    }
    this.emit({ kind: 'changed', what: id, cause, details: { field: 'started over', from: false, to: true } });
  }

  abstract entered(id: string, one: Person, number: number): void;
}
