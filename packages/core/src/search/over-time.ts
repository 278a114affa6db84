import type { Level } from '../document/level';
import { lookup } from '../document/lookup';
import type { Walk } from '../document/walks';
import { rulePolicy, noopListener, compileLevel, start, tick, verdictIn } from '../kernel';
import { ticksOf } from '../vocabulary/ticks';

/** From a tick on: whether a condition holds, and what it has read. */
export interface Since {
  tick: number;
  holds: boolean;
  /** What was asked, with the answers: `load("sack-plate") = 24`. */
  read: readonly string[];
}

/**
 * What a condition comes to over a walk, tick by tick, with nobody in hand: a line for each tick from which it is otherwise, or has read
 * otherwise. It is asked at the end of each tick.
 */
export function overTime(level: Level, walk: Walk, text: string): Since[] {
  const plan = compileLevel(level);
  const world = start(plan, walk);
  const orders = rulePolicy(level.rules);
  const last = ticksOf(walk.atMost, level.rate);
  const found: Since[] = [];
  let known = '';
  for (;;) {
    const over = tick(plan, world, orders, noopListener);
    const { holds, read } = verdictIn(plan, world, text);
    const now = `${holds} ${read.join()}`;
    if (now !== known) found.push({ tick: world.tick, holds, read: [...read] });
    known = now;
    if (over !== null || world.tick >= last) return found;
  }
}

/** A value of the state that can be asked about over time, as the condition that reads it. */
export interface Value {
  of: string;
  what: 'load' | 'inside' | 'value' | 'on';
  text: string;
}

/** The values of a level that change: loads of plates, counts inside of zones, counters and flags. */
export function valuesOf(level: Level): Value[] {
  const things = lookup(level);
  const quoted = (id: string): string => JSON.stringify(id);
  return [
    ...level.fixtures.flatMap(({ id }): Value[] =>
      'threshold' in (things.get(id)!.thing as object) ? [{ of: id, what: 'load', text: `load(${quoted(id)}) >= 0.0` }] : [],
    ),
    ...level.zones.map(({ id }): Value => ({ of: id, what: 'inside', text: `count(${quoted(id)}) >= 0` })),
    ...level.counters
      .filter(({ per }) => per === 'level')
      .map(({ id }): Value => ({ of: id, what: 'value', text: `counter(${quoted(id)}) >= -1000000000` })),
    ...level.flags
      .filter(({ per }) => per === 'level')
      .map(({ id }): Value => ({ of: id, what: 'on', text: `flag(${quoted(id)})` })),
  ];
}
