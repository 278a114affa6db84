import type { Chain } from './chains';
import type { Level } from './level';
import { lookup } from './lookup';
import { referencesOf } from './references';
import { actedOn } from './targets';
import { timeline } from './timeline';
import type { Span } from './timeline';
import { isMachine, motionOf } from '../kinds/fixtures';
import type { Fixture, Machine } from '../kinds/fixtures';
import { kindOfStep } from '../kinds/steps';
import type { Step } from '../kinds/steps';
import type { CauseEvent } from '../vocabulary/events';

/** Something that a step of a chain, or its end, brings about and that another chain may listen to. */
export interface TriggeredChain {
  /** The place of the step in its chain, from 0; null for the end of the chain. */
  step: number | null;
  /** Seconds from the start of the chain. */
  at: number;
  /** The event; null where the step starts a chain itself. */
  event: CauseEvent | null;
  /** The id of what it is about; null where that is only known when it is walked: any visitor. */
  of: string | null;
}

/** A chain that is set off in turn. */
export interface TriggeredChains {
  chain: Chain;
  /** 1 for what the chain sets off itself. */
  depth: number;
  /** What sets it off, and in which chain. */
  by: TriggeredChain & { chain: string };
  /** Seconds from the start of the first chain until its own first step has its turn. */
  starts: number;
  /** Its steps on its own ruler. */
  spans: Span[];
  /** Whether it is one that it comes from itself: it goes round, and is not unrolled again. */
  isLoop: boolean;
}

/**
 * What the steps of a chain set off in turn, however deep, in the order of the steps, as far as the level alone tells: what gates
 * hold, and what visitors do meanwhile, only a rehearsal knows. `most`: of how many chains it is told; `cut` tells that there are more.
 */
export function triggeredChains(level: Level, chain: Chain, most = 100): { chains: TriggeredChains[]; cut: boolean } {
  const heard = listenersOf(level);
  // A chain may come up again and again: what it does is the same each time.
  const consequences = foundOnce((one) => consequencesOf(level, one));
  const spansOf = foundOnce((one) => timeline(level, one));
  const chains: TriggeredChains[] = [];
  const follow = (one: Chain, starts: number, path: readonly string[]): boolean =>
    consequences(one).every((by) =>
      (heard(by) ?? []).every((next) => {
        if (chains.length === most) return false;
        const at = starts + by.at + next.delay;
        const isLoop = path.includes(next.id);
        const spans = spansOf(next);
        chains.push({ chain: next, depth: path.length, by: { ...by, chain: one.id }, starts: at, spans, isLoop });
        return isLoop || follow(next, at, [...path, next.id]);
      }),
    );
  return { cut: !follow(chain, 0, [chain.id]), chains };
}

/** What is found of each chain when it is first asked for. */
function foundOnce<T>(find: (chain: Chain) => T): (chain: Chain) => T {
  const found = new Map<Chain, T>();
  return (chain) => {
    let own = found.get(chain);
    if (own === undefined) found.set(chain, (own = find(chain)));
    return own;
  };
}

const known = new WeakMap<Level, (by: TriggeredChain) => readonly Chain[] | undefined>();

/** The chains that listen to something, in the order in which they are tried. */
function listenersOf(level: Level): (by: TriggeredChain) => readonly Chain[] | undefined {
  const found = known.get(level);
  if (found !== undefined) return found;
  const byKey = new Map<string, Chain[]>();
  const note = (key: string, chain: Chain): void => {
    const all = byKey.get(key);
    if (all === undefined) byKey.set(key, [chain]);
    else if (all.at(-1) !== chain) all.push(chain);
  };
  const visitors = new Set(level.visitors.map(({ id }) => id));
  for (const chain of level.chains) {
    for (const { on, of } of chain.causes) {
      note(`${on} ${of}`, chain);
      if (visitors.has(of)) note(`${on} `, chain);
    }
  }
  const things = lookup(level);
  const listening = ({ event, of }: TriggeredChain): readonly Chain[] | undefined => {
    if (event !== null) return byKey.get(`${event} ${of ?? ''}`);
    const chain = things.get(of!)?.thing as Chain | undefined;
    return chain === undefined ? [] : [chain];
  };
  known.set(level, listening);
  return listening;
}

/** What the steps of a chain and its end bring about, in the order of the steps. */
function consequencesOf(level: Level, chain: Chain): TriggeredChain[] {
  const spans = timeline(level, chain);
  const watches = level.watches.map((watch) => ({
    id: watch.id,
    asks: new Set(referencesOf('watches', watch).map(({ to }) => to)),
  }));
  const found: TriggeredChain[] = chain.steps.flatMap((step, at) => {
    const { start, end } = spans[at]!;
    const of = actedOn(level, step);
    const { raises, starts } = kindOfStep(step.kind);
    const own = of.flatMap((id): TriggeredChain[] => [
      ...(starts === true ? [{ step: at, at: start, event: null, of: id }] : []),
      ...(raises?.start ?? []).map((event) => ({ step: at, at: start, event, of: id })),
      ...movesOf(level, step, id, start, end).map((one) => ({ step: at, ...one })),
      ...(raises?.end ?? []).map((event) => ({ step: at, at: end, event, of: id })),
    ]);
    const asking = watches.filter(({ asks }) => of.some((id) => id !== null && asks.has(id)));
    const seen = asking.flatMap(({ id }) => (['became-true', 'became-false'] as const).map((event) => ({ event, of: id })));
    return [...own, ...seen.map((one) => ({ step: at, at: end, ...one }))];
  });
  const end = Math.max(0, ...spans.map((span) => span.end));
  return [...found, { step: null, at: end, event: 'chain-finished', of: chain.id }];
}

/** What a machine raises that a step sends somewhere, also when it goes back by itself. */
function movesOf(
  level: Level,
  step: Step,
  id: string | null,
  start: number,
  end: number,
): { event: CauseEvent; at: number; of: string }[] {
  const goal = kindOfStep(step.kind).moves?.(step);
  const thing = id === null ? undefined : (lookup(level).get(id)?.thing as Fixture | undefined);
  if (goal === undefined || id === null || thing === undefined || !isMachine(thing)) return [];
  const last = motionOf(thing).positions(thing).length - 1;
  const goals =
    goal === 'other' ? [last, 0] : [goal === 'closed' ? 0 : typeof goal === 'number' ? Math.min(goal - 1, last) : last];
  const arrivals = goals.map((position) => ({ event: motionOf(thing).arrives(position).kind, at: end, of: id }));
  return distinct([{ event: 'moving', at: start, of: id }, ...arrivals, ...returnsOf(thing, end, goals, last)]);
}

/** What it raises when it goes on, or goes back after its wait. */
function returnsOf(machine: Machine, end: number, from: number[], last: number): { event: CauseEvent; at: number; of: string }[] {
  const { id } = machine;
  const motion = motionOf(machine);
  const on = motion.goesOn;
  const going = on === undefined ? [] : from.flatMap((position) => on(machine, position, last) ?? []);
  const starts = motion.starts(machine);
  const back = machine.returnAfter === null || from.every((position) => position === starts) ? [] : [{ to: starts }];
  const takes = motion.seconds(machine).reduce((sum, one) => sum + one, 0);
  return [...going.map(({ to }) => ({ to, at: end })), ...back.map(({ to }) => ({ to, at: end + machine.returnAfter! }))].flatMap(
    ({ to, at }) => [
      { event: 'moving' as const, at, of: id },
      { event: motion.arrives(to).kind, at: at + takes, of: id },
    ],
  );
}

function distinct<T extends { event: string; at: number }>(all: T[]): T[] {
  return all.filter(({ event, at }, i) => all.findIndex((one) => one.event === event && one.at === at) === i);
}
