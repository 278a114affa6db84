import type { Expectation, Match, Walk } from '../document/walks';
import { reasonOf } from '../ledger/entry';
import type { Entry } from '../ledger/entry';
import type { Ledger } from '../ledger/ledger';
import type { Verdict } from '../vocabulary/verdict';
import { ticksOf } from '../vocabulary/ticks';

/** What became of an expectation: whether it was met, the numbers of the entries that show it, and why in a few words. */
export interface ExpectationResult {
  id: string;
  label: string;
  passed: boolean;
  entries: number[];
  because: string;
}

/** The most entries that a result lists as evidence. */
const MAX_LISTED_ENTRIES = 20;

/** Judges every expectation of a walk by its ledger, and those about the end by what conditions come to then. */
export function answerExpectations(walk: Walk, ledger: Ledger, atEnd: (condition: string) => Verdict): ExpectationResult[] {
  return walk.expectations.map((one) => {
    const { id, label } = one;
    return { id, label, ...answer(ledger, one, atEnd) };
  });
}

type Answer = Pick<ExpectationResult, 'passed' | 'entries' | 'because'>;

function answer(ledger: Ledger, one: Expectation, atEnd: (condition: string) => Verdict): Answer {
  switch (one.expect) {
    case 'happens': {
      const first = firstMatch(ledger, one.entry);
      if (first === null) return failed(near(ledger, one.entry), 'it did not happen');
      return passed([first], 'it happened');
    }
    case 'before': {
      const first = firstMatch(ledger, one.entry);
      const then = firstMatch(ledger, one.then);
      if (first === null) return failed(then === null ? near(ledger, one.entry) : [then], 'the first did not happen');
      if (then === null) return failed([first], 'the second did not happen');
      return first < then ? passed([first, then], 'in this order') : failed([then, first], 'the other way round');
    }
    case 'within': {
      const from = one.after === null ? 1 : firstMatch(ledger, one.after);
      if (from === null) return failed(near(ledger, one.after!), 'what it is counted from did not happen');
      const found = firstMatch(ledger, one.entry, from);
      const begin = ledger.at(from)!.tick;
      if (found === null) return failed([from, ...near(ledger, one.entry)], 'it did not happen after that');
      const { tick } = ledger.at(found)!;
      const took = `it took ${Math.round(((tick - begin) / ledger.rate) * 1000) / 1000} s`;
      return tick - begin <= ticksOf(one.seconds, ledger.rate) ? passed([from, found], took) : failed([from, found], took);
    }
    case 'exactly': {
      const found = matches(ledger, one.entry);
      const because = `it happened ${found.length} ${found.length === 1 ? 'time' : 'times'}`;
      const shown = found.length > 0 ? found.slice(0, MAX_LISTED_ENTRIES) : near(ledger, one.entry);
      return found.length === one.times ? passed(found.slice(0, MAX_LISTED_ENTRIES), because) : failed(shown, because);
    }
    case 'never': {
      const found = matches(ledger, one.entry);
      return found.length === 0 ? passed([], 'it never happened') : failed(found.slice(0, MAX_LISTED_ENTRIES), 'it happened');
    }
    case 'at-end': {
      const { holds, read } = atEnd(one.state);
      return { passed: holds, entries: [], because: read.length === 0 ? 'nothing was read' : read.join('; ') };
    }
  }
}

function passed(entries: number[], because: string): Answer {
  return { passed: true, entries, because };
}

function failed(entries: number[], because: string): Answer {
  return { passed: false, entries, because };
}

function firstMatch(ledger: Ledger, match: Match, after = 0): number | null {
  for (let number = after + 1; number <= ledger.length; number++) if (isMatch(ledger.at(number)!, match)) return number;
  return null;
}

function matches(ledger: Ledger, match: Match): number[] {
  const found: number[] = [];
  for (const entry of ledger) if (isMatch(entry, match)) found.push(entry.number);
  return found;
}

/** What came nearest to something that did not happen: where it was held, else what else befell the same thing or chain. */
function near(ledger: Ledger, match: Match): number[] {
  const held: number[] = [];
  const beside: number[] = [];
  for (const entry of ledger) {
    const same =
      (match.what === '' || entry.what === match.what) &&
      (match.chain === '' || entry.chain === match.chain) &&
      (match.what !== '' || match.chain !== '');
    if (!same) continue;
    if (entry.kind === 'held') held.push(entry.number);
    else beside.push(entry.number);
  }
  return (held.length > 0 ? held : beside).slice(0, MAX_LISTED_ENTRIES);
}

/** Whether an entry is one of those that are meant. */
export function isMatch(entry: Entry, { kind, who, what, chain, reason }: Match): boolean {
  return (
    entry.kind === kind &&
    (who === '' || entry.who === who) &&
    (what === '' || entry.what === what) &&
    (chain === '' || entry.chain === chain) &&
    (reason === '' || reasonOf(entry) === reason)
  );
}
