import type { Entry } from '../ledger/entry';
import { reasonOf } from '../ledger/entry';
import { isSameEntry } from './compare';

/** Which entries of a ledger are wanted. What is empty, or null, asks for nothing. */
export interface LedgerFilter {
  /** A thing, a visitor or a chain: entries that are about it, in its hand, or of it. */
  about: string;
  /** Only what this visitor did, or what befell it. */
  visitor: string;
  /** Only what this chain did, or was held from. */
  chain: string;
  /** A kind of entry. */
  kind: string;
  /** Why it was held, or given up. */
  reason: string;
  /** What its sentence has in it, whatever the capitals. */
  text: string;
  /** From and to when, in ticks, both included. */
  from: number | null;
  to: number | null;
}

export const everyEntry: LedgerFilter = {
  about: '',
  visitor: '',
  chain: '',
  kind: '',
  reason: '',
  text: '',
  from: null,
  to: null,
};

/** The number of entries handled in one slice of interruptible work. */
const SLICE_ENTRIES = 200;

/**
 * The entries that a filter lets pass, in order; `sentence` is asked only where a text is looked for. It is done in pieces, for whoever
 * must not be held up: `found` grows, and after each `next` something else may be done.
 */
export function* filtering(
  ledger: Iterable<Entry>,
  filter: LedgerFilter,
  sentence: (entry: Entry) => string,
  found: Entry[],
): Generator<void> {
  const wanted = filter.text.trim().toLowerCase();
  let looked = 0;
  for (const entry of ledger) {
    if (++looked % SLICE_ENTRIES === 0) yield;
    const { who, what, chain, tick, kind } = entry;
    if (filter.from !== null && tick < filter.from) continue;
    if (filter.to !== null && tick > filter.to) break;
    if (filter.about !== '' && who !== filter.about && what !== filter.about && chain !== filter.about) continue;
    if (filter.visitor !== '' && who !== filter.visitor && what !== filter.visitor) continue;
    if (filter.chain !== '' && chain !== filter.chain && what !== filter.chain) continue;
    if (filter.kind !== '' && kind !== filter.kind) continue;
    if (filter.reason !== '' && reasonOf(entry) !== filter.reason) continue;
    if (wanted !== '' && !sentence(entry).toLowerCase().includes(wanted)) continue;
    found.push(entry);
  }
}

/** What is in a ledger to be asked for: the visitors, chains, kinds and reasons that come up, in the order in which they do. */
export function filterOptions(ledger: Iterable<Entry>): {
  visitors: string[];
  chains: string[];
  kinds: string[];
  reasons: string[];
} {
  const [visitors, chains, kinds, reasons] = [new Set<string>(), new Set<string>(), new Set<string>(), new Set<string>()];
  for (const entry of ledger) {
    if (entry.who !== null) visitors.add(entry.who);
    if (entry.chain !== null) chains.add(entry.chain);
    kinds.add(entry.kind);
    const reason = reasonOf(entry);
    if (reason !== null && entry.kind !== 'end') reasons.add(reason);
  }
  return { visitors: [...visitors], chains: [...chains], kinds: [...kinds], reasons: [...reasons] };
}

/** What says how often the entries before it came again. */
export interface Repeats {
  again: Entry[];
  times: number;
  /** The first entry of the round that comes again. */
  first: Entry;
}

/** A line of a folded ledger. */
export type FoldedLine = Entry | Repeats;

/** The most entries in one repeated round. Three portals in a row take about 18. */
const MAX_ROUND_ENTRIES = 24;
/** The number of repeats from which a round is collapsed. */
const MIN_REPEATS = 2;

/**
 * Folds what comes again and again: of rounds of up to 24 entries, alike but for their times and numbers, that follow each other
 * directly among those that are listed, the first is left, and the rest is one line. `open` has the numbers of the entries whose
 * rounds are not folded. It is done in pieces, as `filtering` is: `lines` grows, and none that is there changes any more.
 */
export function* folding(entries: readonly Entry[], open: ReadonlySet<number>, lines: FoldedLine[]): Generator<void> {
  for (let at = 0, breath = SLICE_ENTRIES; at < entries.length;) {
    if (at >= breath) {
      breath = at + SLICE_ENTRIES;
      yield;
    }
    const round = open.has(entries[at]!.number) ? null : roundAt(entries, at);
    if (round === null) {
      lines.push(entries[at]!);
      at += 1;
      continue;
    }
    const { long, times } = round;
    for (let i = 0; i < long; i++) lines.push(entries[at + i]!);
    lines.push({ again: entries.slice(at + long, at + long * (times + 1)), times, first: entries[at]! });
    at += long * (times + 1);
  }
}

/** What happens to things in a round, by which it is named; what chains and steps make of it is left out. */
const happens: ReadonlySet<Entry['kind']> = new Set([
  'enter',
  'dwell',
  'bump',
  'use',
  'on',
  'press',
  'opened',
  'closed',
  'moving',
  'signal',
  'collected',
  'cue-started',
  'became-true',
  'changed',
]);

/**
 * A round that comes again, in one line: by its things and how often it comes, "East portal → West portal → East portal, 236 times, every
 * 0.5 s"; a round of one entry, or of nothing but steps, by its length.
 */
export function roundSentence({ first, again, times }: Repeats, nameOf: (id: string) => string): string {
  const round = again.slice(0, again.length / times);
  const things = round.flatMap(({ kind, what }) => (what !== null && happens.has(kind) ? [what] : []));
  const named = things.filter((id, i) => id !== things[i - 1]).map((id) => nameOf(id).trim());
  if (named.length > 1 && named[0] === named.at(-1)) named.pop();
  const last = again.at(-1)!;
  const every = Math.round((1000 * (again[again.length - round.length]!.seconds - first.seconds)) / times) / 1000;
  const often = `${times} times${every === 0 ? '' : `, every ${every} s`}`;
  const until = `until ${last.seconds.toFixed(2)} s`;
  if (named.length === 0 || round.length === 1)
    return `the same${round.length === 1 ? '' : ` ${round.length} entries`} again, ${often}, ${until}`;
  const way = named.length > MOST_NAMED ? [...named.slice(0, MOST_NAMED), '…'] : named;
  return `${[...way, named[0]].join(' → ')} again, ${often}, ${until}`;
}

/** The number of things named for a repeated round. */
const MOST_NAMED = 6;

/** The rounds of a ledger that come again at least so many times, the first first. */
export function roundsIn(entries: readonly Entry[], atLeast: number): Repeats[] {
  const lines: FoldedLine[] = [];
  const work = folding(entries, new Set(), lines);
  while (work.next().done !== true);
  return lines.filter((line): line is Repeats => 'again' in line && line.times >= atLeast);
}

/** The shortest round that begins somewhere and comes again, and how often it does after the first. */
function roundAt(entries: readonly Entry[], at: number): { long: number; times: number } | null {
  for (let long = 1; long <= MAX_ROUND_ENTRIES; long++) {
    let times = 0;
    while (isAgain(entries, at, long, times + 1)) times += 1;
    if (times >= MIN_REPEATS) return { long, times };
  }
  return null;
}

function isAgain(entries: readonly Entry[], at: number, long: number, round: number): boolean {
  const from = at + long * round;
  if (from + long > entries.length) return false;
  for (let i = 0; i < long; i++) if (!isSameEntry(entries[at + i]!, entries[from + i]!)) return false;
  return true;
}
