import { TRIGGERING, clauseWords, clausesOf, thingSetOf, membersOf, requiredClauses } from '../conditions/clauses';
import type { Clause, ClauseKind } from '../conditions/clauses';
import type { Level } from '../document/level';
import { lookup } from '../document/lookup';
import { connections } from '../document/references';
import type { Entry } from '../ledger/entry';
import type { Run } from './approach';
import { cameAbout } from './came-about';
import { clauseAtEnd } from './clause-at-end';
import { keptOut, nearestTo } from './obstacles';
import { quoted, reason } from './reason';
import type { Reason } from './reason';

/** Who is asked: a level and a run of it, and what is answered of a thing, so far back from the first question. */
export interface Answering {
  readonly level: Level;
  readonly run: Run;
  readonly entries: readonly Entry[];
  of(id: string, depth: number): Reason[];
}

/** The number of uncollected things that an answer names. */
const NAMED_AT_MOST = 5;

/** The number of chains that an answer goes back through. */
export const MAX_CHAIN_DEPTH = 4;

/** What of a condition was not so at the end, or when something was held, with what was instead, and why nothing made it so. */
export function unmet(asking: Answering, text: string, depth: number, held?: Entry): Reason[] {
  const things = lookup(asking.level);
  if (depth > MAX_CHAIN_DEPTH) return [];
  // Of parts that all must hold, those that say more than clauses can are passed over.
  const read = clausesOf(text);
  const isEither = (one: Clause): boolean =>
    (read?.join === 'or' && read.clauses.length > 1) || thingSetOf(one.of)?.match === 'any';
  const until = held === undefined ? asking.entries : asking.entries.slice(0, held.number);
  // What is asked of several things is explained of each.
  const single = (clause: Clause): { clause: Clause; isEnough: boolean }[] => {
    const several = thingSetOf(clause.of);
    if (several === null) return [{ clause, isEnough: isEither(clause) }];
    const each = membersOf(several, things).map((of) => ({ clause: { ...clause, of }, isEnough: isEither(clause) }));
    const holds = (one: { clause: Clause }): boolean => clauseAtEnd(asking.level, until, one.clause)?.holds === true;
    return several.match === 'any' && each.some(holds) ? [] : each;
  };
  return (read?.clauses ?? requiredClauses(text)).flatMap(single).flatMap(({ clause, isEnough }) => {
    // Of who triggered what was held, its entry tells.
    if (clause.asks === 'inside')
      return outside(asking, clause.of === TRIGGERING ? (held?.who ?? '') : clause.of, clause.with, until);
    const found = clauseAtEnd(asking.level, until, clause);
    if (found?.holds === true || !things.has(clause.of)) return [];
    const wanted = clauseWords(clause, (id) => quoted(asking.level, id));
    const is = found === null ? '' : held === undefined ? `: it is ${found.is} at the end` : `: it was ${found.is} then`;
    const last = until.findLast(({ what, kind }) => what === clause.of && kind !== 'held');
    const asks = isEnough ? 'It would be enough that' : 'It asks that';
    // What must not be so is explained by what made it so, all else by what is missing.
    const why = !asksForLess.has(clause.asks)
      ? missing(asking, clause, depth)
      : last === undefined
        ? []
        : [cameAbout(asking.level, asking.entries, last)];
    return [reason(`${asks} ${wanted}${is}.`, last === undefined ? [] : [last.number]), ...why];
  });
}

/** Why a visitor is not inside of something: how it left, or how near anybody came. */
function outside(asking: Answering, who: string, of: string, until: readonly Entry[]): Reason[] {
  const things = lookup(asking.level);
  if (!things.has(who) || !things.has(of)) return [];
  const last = until.findLast((one) => (one.kind === 'enter' || one.kind === 'leave') && one.who === who && one.what === of);
  if (last?.kind === 'enter') return [];
  if (last !== undefined) return [cameAbout(asking.level, asking.entries, last)];
  return [
    reason(`${quoted(asking.level, who)} never entered ${quoted(asking.level, of)}.`),
    ...keptOut(asking.level, asking.entries, of),
    nearestTo(asking.level, asking.run, { of, on: 'enter' }),
  ];
}

/** Why nothing made a clause true: what should have been collected for a counter, or what acts on the thing. */
function missing(asking: Answering, { of }: Clause, depth: number): Reason[] {
  const things = lookup(asking.level);
  const collectibles = asking.level.fixtures.filter((one) => 'counter' in one && one.counter === of);
  const left = collectibles.filter(({ id }) => !asking.entries.some(({ kind, what }) => kind === 'collected' && what === id));
  const never = left
    .slice(0, NAMED_AT_MOST)
    .flatMap(({ id }) => [
      reason(`${quoted(asking.level, id)} was never collected.`),
      ...keptOut(asking.level, asking.entries, id),
      ...(keptOut(asking.level, asking.entries, id).length > 0
        ? []
        : [nearestTo(asking.level, asking.run, { of: id, on: 'enter' })]),
    ]);
  const more = left.length - NAMED_AT_MOST;
  if (more > 0) never.push(reason(`${more} more ${more === 1 ? 'was' : 'were'} never collected.`));
  const { actedOnBy } = connections(asking.level, of);
  if (collectibles.length === 0 && actedOnBy.length === 0) {
    const found = things.get(of);
    // What is entered, used or weighed changes by itself; a fact does not.
    const isFact = found?.collection === 'flags' || found?.collection === 'counters' || found?.collection === 'texts';
    return isFact ? [reason(`No chain sets ${quoted(asking.level, of)}.`, [], 'Let a step set it.')] : asking.of(of, depth + 1);
  }
  return [...never, ...actedOnBy.flatMap((chain) => asking.of(chain, depth + 1))];
}

/** The clauses that are false because something happened, not because something is missing. */
const asksForLess: ReadonlySet<ClauseKind> = new Set([
  'flag-off',
  'counter-most',
  'nobody',
  'not-pressed',
  'switch-off',
  'not-open',
  'closed',
  'not-moving',
  'not-collected',
  'not-in-play',
  'not-running',
]);
