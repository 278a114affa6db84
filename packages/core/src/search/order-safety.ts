import { applied, change } from '../document/edits';
import type { Edit } from '../document/edits';
import type { Level } from '../document/level';
import { lookup, nameOf } from '../document/lookup';
import type { Walk } from '../document/walks';
import type { Entry } from '../ledger/entry';
import type { Ledger } from '../ledger/ledger';
import { compareLedgers, isSameEntry, weightOf } from '../reading/compare';
import type { Comparison } from '../reading/compare';
import { entrySentence } from '../reading/entries';
import { rehearse } from '../rehearsal/rehearse';
import { ruleSentence } from '../sentences/level';
import type { HouseRules } from '../vocabulary/rules';
import { effectOf } from './effects';
import { outcomesOf } from './outcomes';
import type { Outcome, Outcomes } from './outcomes';

type Rule = keyof HouseRules;

/** Something of a ledger that is as it is only because of a house rule. */
export interface Dependence {
  /** The rules that decide: the fewest that have to be otherwise for it to be otherwise. Mostly one. */
  rules: Rule[];
  /** What they are in the level, and what they are where it is otherwise. */
  from: Partial<HouseRules>;
  to: Partial<HouseRules>;
  /** Two entries come the other way round; or something happens, or not, or at another time. */
  kind: 'order' | 'outcome';
  /** The numbers of the entries in the level's own ledger; none of what happens only otherwise. */
  entries: number[];
  says: string;
  /** What to change so that it no longer depends on it. */
  mend: string;
  edit: Edit | null;
}

export interface OrderSafety {
  /** How many sets of rules were tried, and to how many different ledgers they come. */
  sets: number;
  ledgers: number;
  dependences: Dependence[];
  /** How many pairs and entries come otherwise without changing any state, any expectation, or what anybody meets: bookkeeping. */
  collapsed: number;
  /** The expectations of the walk that are met under some sets only: how many sets do not meet each. */
  unsafe: { id: string; label: string; sets: number; rules: Rule[] }[];
}

/** The most findings of each kind. Fixing the first ones often fixes others. */
const MAX_LISTED = 60;

/** What of a walk's ledger depends on the house rules, found by trying every set of them. */
export function orderSafety(level: Level, walk: Walk, found: Outcomes = outcomesOf(level, walk)): OrderSafety {
  const [own, ...others] = found.outcomes;
  const dependences = new Map<string, Dependence>();
  const effect = effectOf(own!);
  /** What differs where nothing comes of it is told of nowhere. */
  const collapsed = new Set<string>();
  const nearest = others
    .map((outcome) => ({ outcome, ...nearestSet(level.rules, outcome) }))
    .sort((a, b) => a.rules.length - b.rules.length);
  for (const { outcome, set, rules } of nearest) {
    // What one rule decides is not told again of two.
    const comparison = compareLedgers(own!.ledger, outcome.ledger);
    const comesToTheSame = effectOf(outcome) === effect;
    for (const one of [...swapped(comparison, own!.ledger, outcome.ledger), ...otherwise(comparison)]) {
      const key = `${one.kind} ${one.key}`;
      if (dependences.has(key) || collapsed.has(key)) continue;
      if (comesToTheSame || (one.kind === 'order' && one.entries.some(({ kind }) => kind === 'chain-finished'))) {
        collapsed.add(key);
        continue;
      }
      if (dependences.size >= MAX_LISTED) continue;
      const from = Object.fromEntries(rules.map((rule) => [rule, level.rules[rule]])) as Partial<HouseRules>;
      const to = Object.fromEntries(rules.map((rule) => [rule, set[rule]])) as Partial<HouseRules>;
      const entries = one.entries.map(({ number }) => number);
      const says = saysOf(level, one);
      dependences.set(key, {
        rules,
        from,
        to,
        kind: one.kind,
        entries,
        says,
        ...remedyFor(level, walk, own!.ledger, one, rules, set),
      });
    }
  }
  // What ends up otherwise first; then what is said of one thing in another order, then any other order.
  const rank = ({ kind, entries }: Dependence): number => {
    if (kind === 'outcome') return 0;
    const [a, b] = entries.map((number) => own!.ledger.at(number)!);
    return a!.kind === 'changed' && b!.kind === 'changed' && a!.what === b!.what ? 1 : 2;
  };
  return {
    sets: found.sets,
    ledgers: found.outcomes.length,
    dependences: [...dependences.values()].sort((a, b) => rank(a) - rank(b)),
    collapsed: collapsed.size,
    unsafe: unsafeExpectations(level, found.outcomes),
  };
}

/** What the rules say in the level, and what they say where it is otherwise, in words. */
export function rulesInWords({ rules, from, to }: Pick<Dependence, 'rules' | 'from' | 'to'>): { now: string; otherwise: string } {
  const words = (set: Partial<HouseRules>): string => rules.map((rule) => ruleSentence(rule, set[rule]!)).join('; ');
  return { now: words(from), otherwise: words(to) };
}

/** The set of an outcome that differs from the level's own in the fewest rules, and in which. */
function nearestSet(own: HouseRules, { sets }: Outcome): { set: HouseRules; rules: Rule[] } {
  let best: { set: HouseRules; rules: Rule[] } | null = null;
  for (const set of sets) {
    const rules = (Object.keys(own) as Rule[]).filter((rule) => own[rule] !== set[rule]);
    if (best === null || rules.length < best.rules.length) best = { set, rules };
  }
  return best!;
}

interface Difference {
  kind: 'order' | 'outcome';
  key: string;
  /** Entries of the level's own ledger. */
  entries: Entry[];
  /** What happens only otherwise. */
  only: Entry | null;
  /** The same at another time, in the other ledger. */
  later: Entry | null;
}

/** Pairs of entries of one tick that come the other way round than in the first ledger: what they come of, where that is swapped too. */
function swapped({ matches }: Comparison, own: Ledger, other: Ledger): Difference[] {
  const back = new Map(Array.from(matches, ([before, after]) => [after, before]));
  const found = new Map<string, Difference>();
  const isSwapped = (a: Entry, b: Entry): boolean =>
    a.number < b.number && a.tick === b.tick && (matches.get(a.number) ?? 0) > (matches.get(b.number) ?? Infinity);
  const causeOf = ({ cause }: Entry): Entry | null => (cause === null ? null : own.at(cause)!);
  let last: Entry | null = null;
  for (let number = 1; number <= other.length; number++) {
    const before = back.get(number);
    if (before === undefined) continue;
    let second = last;
    let first = own.at(before)!;
    last = first;
    if (second === null || !isSwapped(first, second) || other.at(number)!.tick !== first.tick) continue;
    // Where their causes are swapped as well it is those that are told of.
    for (let cause = causeOf(second); cause !== null && isSwapped(first, cause); cause = causeOf(second)) second = cause;
    for (let cause = causeOf(first); cause !== null && isSwapped(cause, second); cause = causeOf(first)) first = cause;
    if (isCausedBy(second, first, own)) continue;
    const key = `${first.number} ${second.number}`;
    found.set(key, { kind: 'order', key, entries: [first, second], only: null, later: null });
    // What is said of one thing twice is as it was said last.
    for (const [a, b] of saidTwice(own, first, second)) {
      if (isSwapped(a, b))
        found.set(`${a.number} ${b.number}`, {
          kind: 'order',
          key: `${a.number} ${b.number}`,
          entries: [a, b],
          only: null,
          later: null,
        });
    }
  }
  return [...found.values()];
}

/** What two entries of one tick have brought about in the same tick that is about the same thing. */
function saidTwice(ledger: Ledger, first: Entry, second: Entry): [Entry, Entry][] {
  const [ofFirst, ofSecond]: [Entry[], Entry[]] = [[], []];
  for (let number = first.number + 1; number <= ledger.length; number++) {
    const entry = ledger.at(number)!;
    if (entry.tick !== first.tick) break;
    if (entry.kind !== 'changed') continue;
    if (isCausedBy(entry, second, ledger)) ofSecond.push(entry);
    else if (isCausedBy(entry, first, ledger)) ofFirst.push(entry);
  }
  return ofFirst.flatMap((a) => ofSecond.flatMap((b): [Entry, Entry][] => (a.what === b.what ? [[a, b]] : [])));
}

function isCausedBy(entry: Entry, by: Entry, ledger: Ledger): boolean {
  for (let cause = entry.cause; cause !== null && cause >= by.number; cause = ledger.at(cause)!.cause)
    if (cause === by.number) return true;
  return false;
}

/** What happens no longer, only otherwise, or at another time: where it begins, not what follows from it. */
function otherwise({ missing, added, shifted }: Comparison): Difference[] {
  const gone = new Set([...missing, ...shifted.map(({ before }) => before)].map(({ number }) => number));
  const come = new Set([...added, ...shifted.map(({ after }) => after)].map(({ number }) => number));
  const begins =
    (set: Set<number>) =>
    ({ cause, kind }: Entry): boolean =>
      kind !== 'end' && weightOf(kind) > 1 && (cause === null || !set.has(cause));
  const key = ({ kind, who, what, chain, step, tick }: Entry): string => [kind, who, what, chain, step, tick].join(' ');
  return [
    ...missing
      .filter(begins(gone))
      .map((entry): Difference => ({ kind: 'outcome', key: `- ${entry.number}`, entries: [entry], only: null, later: null })),
    ...added
      .filter(begins(come))
      .map((entry): Difference => ({ kind: 'outcome', key: `+ ${key(entry)}`, entries: [], only: entry, later: null })),
    ...shifted
      .filter(({ before }) => begins(gone)(before))
      .map(({ before, after }): Difference => ({
        kind: 'outcome',
        key: `~ ${before.number}`,
        entries: [before],
        only: null,
        later: after,
      })),
  ];
}

function saysOf(level: Level, { kind, entries, only, later }: Difference): string {
  const says = (entry: Entry): string => entrySentence(entry, (id) => nameOf(level, id), level);
  if (kind === 'order') return `“${says(entries[0]!)}” comes before “${says(entries[1]!)}”`;
  if (only !== null) return `“${says(only)}” does not happen at ${only.seconds.toFixed(2)} s`;
  const [entry] = entries;
  if (later === null) return `“${says(entry!)}” happens`;
  const by = Math.abs(later.seconds - entry!.seconds);
  return `“${says(entry!)}” at ${entry!.seconds.toFixed(2)} s, not ${by.toFixed(2)} s ${later.tick > entry!.tick ? 'later' : 'earlier'}`;
}

const hints: Record<Rule, string> = {
  sameTick: 'Delay the entered zone’s chain by one tick, or check the other zone’s occupancy in its guard.',
  pairs: 'Delay one chain, or start it from the other when that finishes.',
  draining: 'If a step needs the previous step’s result, wait for that step to finish.',
  listeners: 'Delay one chain, or start it from the other when that finishes.',
  afterTeleport: 'Move the arrival out of all trigger zones, or make it fire enter.',
  startsInside: 'Let them start outside of the trigger, or start the chain when the walk begins.',
  roomLeftEmpty: 'Say of the room itself whether it keeps its state.',
  watches: 'Watch a state that lasts to the end of the tick, or use a step instead.',
};

/** What to do so that it no longer depends on the rules; as an edit where there is one after which the rule is not asked, or that was seen to help. */
function remedyFor(
  level: Level,
  walk: Walk,
  own: Ledger,
  { entries, kind }: Difference,
  rules: Rule[],
  set: HouseRules,
): { mend: string; edit: Edit | null } {
  const mend = hints[rules[0]!];
  if (rules.length !== 1) return { mend, edit: null };
  const [rule] = rules;
  if (rule === 'roomLeftEmpty') {
    const open = level.rooms.filter((room) => room.leftEmpty === 'by-house-rule');
    const edits = open.map((room) => change('rooms', room, { leftEmpty: level.rules.roomLeftEmpty }));
    const edit: Edit | null =
      edits.length === 0 ? null : edits.length === 1 ? edits[0]! : { kind: 'all', label: 'say it of the rooms', edits };
    return { mend, edit };
  }
  if (kind !== 'order') return { mend, edit: null };
  // A chain that starts a tick later comes later in every house.
  const chain = lookup(level).get(chainOf(entries[1]!, own))?.thing as Level['chains'][number] | undefined;
  if (chain === undefined || chain.delay > 0) return { mend, edit: null };
  const edit = change('chains', chain, { delay: Math.floor(1e6 / level.rate) / 1e6 });
  return isMended(applied(level, edit), walk, entries, set)
    ? { mend: `Let “${chain.name.trim()}” start a tick later, so that it always comes second.`, edit }
    : { mend, edit: null };
}

/** The chain that an entry belongs to, or comes of; empty for none. */
function chainOf(entry: Entry, ledger: Ledger): string {
  for (let one: Entry | undefined = entry; one !== undefined; one = one.cause === null ? undefined : ledger.at(one.cause))
    if (one.chain !== null) return one.chain;
  return '';
}

/** Whether two entries come in the same order under a set of rules as in the level's own. */
function isMended(level: Level, walk: Walk, [first, second]: Entry[], set: HouseRules): boolean {
  const [a, b] = [rehearse(level, walk).ledger, rehearse(level, walk, { rules: set }).ledger];
  const order = (ledger: Ledger): number => {
    const at = (wanted: Entry): number =>
      [...ledger].find((one) => one.tick >= wanted.tick && isSameEntry(one, wanted))?.number ?? 0;
    return Math.sign(at(second!) - at(first!));
  };
  return order(a) === 1 && order(b) === 1;
}

/** Expectations that are met under some sets and not under others. */
function unsafeExpectations(level: Level, outcomes: readonly Outcome[]): OrderSafety['unsafe'] {
  const [own] = outcomes;
  return own!.expectations.flatMap(({ id, label, passed }) => {
    const others = outcomes.filter(({ expectations }) => expectations.find((one) => one.id === id)!.passed !== passed);
    if (others.length === 0) return [];
    const nearest = others.map((outcome) => nearestSet(level.rules, outcome)).sort((a, b) => a.rules.length - b.rules.length)[0]!;
    const failing = passed ? others : outcomes.filter((one) => !others.includes(one));
    return [{ id, label, sets: failing.reduce((sum, { sets }) => sum + sets.length, 0), rules: nearest.rules }];
  });
}
