import type { Level } from '../document/level';
import type { Walk } from '../document/walks';
import { copy, stateKey, noopListener, compileLevel, start, tick, verdictIn } from '../kernel';
import type { Ended, OrderPolicy, CompiledLevel, World } from '../kernel';
import type { DetailsOf, NewEntry } from '../ledger/entry';
import { Ledger } from '../ledger/ledger';
import { recordingListener } from '../rehearsal/keeping';
import { MOST_ENTRIES } from '../rehearsal/rehearse';
import { answerExpectations } from '../reading/expectations';
import type { ExpectationResult } from '../reading/expectations';
import { houseRules } from '../vocabulary/rules';
import type { HouseRules } from '../vocabulary/rules';
import { ticksOf } from '../vocabulary/ticks';

/** What a walk comes to under some sets of house rules, which all say the same ledger. */
export interface Outcome {
  sets: HouseRules[];
  ledger: Ledger;
  expectations: ExpectationResult[];
}

/** The outcomes of a walk under every set of house rules; how many ticks were run for them, and how many each set alone would take. */
export interface Outcomes {
  /** That of the level's own set comes first. */
  outcomes: Outcome[];
  sets: number;
  ticksRun: number;
  ticksOfAll: number;
}

interface WrittenTick {
  parent: WrittenTick | null;
  tick: number;
  writings: NewEntry[];
}

/** Sets of house rules that have said the same so far. */
interface Branch {
  sets: HouseRules[];
  world: World;
  written: WrittenTick | null;
}

export interface OutcomesOptions {
  seed?: number;
  /** The sets that are tried; every set unless given. The first is that which comes first. */
  sets?: readonly HouseRules[];
  /**
   * Does something to a world before its next tick, the same for the same tick; gives the tick before which it has nothing more to do
   * unless something happens.
   */
  before?: (plan: CompiledLevel, world: World) => number;
}

/** Every set of house rules there is, a given one first. */
export function everySet(own: HouseRules): HouseRules[] {
  let sets: Partial<HouseRules>[] = [{}];
  for (const [rule, choice] of Object.entries(houseRules.shape)) {
    const options = choice.unwrap().options as readonly string[];
    const first = own[rule as keyof HouseRules];
    const inOrder = [first, ...options.filter((one) => one !== first)];
    sets = sets.flatMap((set) => inOrder.map((option) => ({ ...set, [rule]: option })));
  }
  return sets as HouseRules[];
}

/**
 * Runs a walk under every set of house rules. Sets go together for as long as no rule on which they differ is asked, or none that
 * makes a difference: each tick is run once for all sets that answer its questions alike, and worlds that have said the same and have
 * the same future (their keys are equal) are one again.
 */
export function outcomesOf(level: Level, walk: Walk, options: OutcomesOptions = {}): Outcomes {
  const plan = compileLevel(level);
  const last = ticksOf(walk.atMost, level.rate);
  const sets = [...(options.sets ?? everySet(level.rules))];
  const outcomes: Outcome[] = [];
  const waiting: Branch[] = [{ sets, world: start(plan, walk, options.seed ?? 0), written: null }];
  let ticksRun = 0;
  let ticksOfAll = 0;
  for (let branch = waiting.pop(); branch !== undefined; branch = waiting.pop()) {
    for (;;) {
      const parts = oneTick(plan, branch, last, options.before);
      ticksRun += parts.length;
      ticksOfAll += branch.sets.length;
      const going: Branch[] = [];
      for (const part of parts) {
        if (part.over === null) going.push(part);
        else outcomes.push(outcomeOf(plan, walk, part, part.over));
      }
      // The first goes on at once; the others wait.
      const [first, ...others] = going;
      waiting.push(...others.reverse());
      if (first === undefined) break;
      branch = first;
    }
  }
  const own = JSON.stringify(sets[0]);
  const isOwn = ({ sets: some }: Outcome): boolean => some.some((set) => JSON.stringify(set) === own);
  return {
    outcomes: joined(outcomes).sort((a, b) => Number(isOwn(b)) - Number(isOwn(a))),
    sets: sets.length,
    ticksRun,
    ticksOfAll,
  };
}

type Part = Branch & { over: DetailsOf['end'] | null };

/** Runs one tick for all sets of a branch: once for those that answer alike whatever is asked in it. */
function oneTick(
  plan: CompiledLevel,
  { sets, world, written }: Branch,
  last: number,
  before?: OutcomesOptions['before'],
): Part[] {
  const parts: (Part & { said: string; key: string | null })[] = [];
  // What is to be done before a tick is done before it; what it has nothing to do with is passed over.
  const most = Math.max(world.tick + 1, Math.min(last, before?.(plan, world) ?? last));
  // The first goes on with the world itself, and what the kernel keeps beside it; the others with copies of how it was.
  const was = sets.length === 1 ? null : copy(world);
  let left = sets;
  while (left.length > 0) {
    const [one] = left;
    const own = parts.length === 0 ? world : copy(was!);
    const asked = new Map<keyof HouseRules, string>();
    const orders: OrderPolicy = {
      pick: ({ rule }, among) => {
        asked.set(rule, one![rule]);
        return among.indexOf(one![rule]);
      },
    };
    const writings: NewEntry[] = [];
    const ended: Ended | null = tick(
      plan,
      own,
      orders,
      { ...noopListener, entry: (_number, _at, writing) => void writings.push(writing) },
      most,
    );
    // Whoever does something before each tick goes on when nothing else does.
    const isOver = ended !== null && (before === undefined || ended.reason === 'runaway');
    if (ended !== null && !isOver) own.tick = Math.max(own.tick, most);
    const isLong = own.entries >= MOST_ENTRIES;
    const over = isOver
      ? ended
      : isLong
        ? ({ reason: 'too many entries' } as const)
        : own.tick >= last
          ? ({ reason: 'time is up' } as const)
          : null;
    const isAlike = (set: HouseRules): boolean => [...asked].every(([rule, answer]) => set[rule] === answer);
    const alike = left.filter(isAlike);
    left = alike.length === left.length ? [] : left.filter((set) => !isAlike(set));
    const said = `${own.tick} ${JSON.stringify(writings)} ${over?.reason ?? ''}`;
    const twin = parts.find((part) => part.said === said && (part.key ??= stateKey(plan, part.world)) === stateKey(plan, own));
    if (twin !== undefined) twin.sets.push(...alike);
    else
      parts.push({
        sets: [...alike],
        world: own,
        written: writings.length === 0 ? written : { parent: written, tick: own.tick, writings },
        over,
        said,
        key: null,
      });
  }
  return parts;
}

function outcomeOf(plan: CompiledLevel, walk: Walk, { sets, world, written }: Branch, over: DetailsOf['end']): Outcome {
  const ledger = new Ledger(plan.level.rate);
  const all: WrittenTick[] = [];
  for (let one = written; one !== null; one = one.parent) all.push(one);
  const { entry } = recordingListener(ledger, { visitors: new Map(), doors: new Map(), rooms: new Map() });
  for (const { tick: at, writings } of all.reverse()) for (const writing of writings) entry(ledger.length + 1, at, writing);
  ledger.write(world.tick, { kind: 'end', details: over });
  return { sets, ledger, expectations: answerExpectations(walk, ledger, (text) => verdictIn(plan, world, text)) };
}

/** Outcomes that have said the same after all, though their worlds were not the same on the way. */
function joined(outcomes: Outcome[]): Outcome[] {
  const known = new Map<string, Outcome>();
  for (const one of outcomes) {
    const { numbers, names, details } = one.ledger.columns();
    const key = `${numbers.join()} ${names.join()} ${JSON.stringify(details)}`;
    const twin = known.get(key);
    if (twin === undefined) known.set(key, one);
    else twin.sets.push(...one.sets);
  }
  return [...known.values()];
}
