import type { Entry } from '../ledger/entry';
import type { Ledger } from '../ledger/ledger';
import { reasonOf } from '../ledger/entry';
import { entrySentence } from './entries';

/** How two ledgers differ: entries matched by what they are, the first of a sort with the first, the second with the second. */
export interface Comparison {
  /** How many entries are in both at the same tick. */
  same: number;
  /** Entries of the first that the second has not, and the other way round. */
  missing: Entry[];
  added: Entry[];
  /** Entries of both, at other ticks. */
  shifted: { before: Entry; after: Entry }[];
  /** How many entries of one tick come in another order, though both have them there. */
  reordered: number;
  /** Where the two part first: an entry that only one has, or that both have at other times or in another order; null where one has none. */
  first: { before: Entry | null; after: Entry | null } | null;
  /** The number in the second of each entry of the first that is in both. */
  matches: ReadonlyMap<number, number>;
}

/** What tells two entries of one kind about the same things apart. */
function moreOf(entry: Entry): string {
  switch (entry.kind) {
    case 'changed':
      return `${entry.details.field} ${String(entry.details.to)}`;
    case 'moving':
      return entry.details.to;
    case 'arrived':
      return entry.details.at ?? '';
    case 'use':
      return entry.details.use;
    default:
      return reasonOf(entry) ?? '';
  }
}

/** What an entry is, whenever it comes: its kind, who, what, chain and step, and what tells two of these apart. */
export function entryKey(entry: Entry): string {
  const { kind, who, chain, step } = entry;
  // Two walks both begin.
  const what = kind === 'start' ? null : entry.what;
  return `${kind}|${who ?? ''}|${what ?? ''}|${chain ?? ''}|${step ?? ''}|${moreOf(entry)}`;
}

/** Whether two entries are the same, but for when they come, their causes and their numbers. */
export function isSameEntry(a: Entry, b: Entry): boolean {
  // As by their keys, without making them: mostly the first that is asked is another.
  const alike = a.kind === b.kind && a.who === b.who && a.chain === b.chain && a.step === b.step;
  return alike && (a.kind === 'start' || (a.what ?? '') === (b.what ?? '')) && moreOf(a) === moreOf(b);
}

/** Compares two ledgers, in time proportional to their length. At two rates, times that are the same but for a tick are the same. */
export function compareLedgers(before: Ledger, after: Ledger): Comparison {
  const slack = before.rate === after.rate ? 0 : 1 / Math.min(before.rate, after.rate);
  const isAtOnce = (a: Entry, b: Entry): boolean =>
    slack === 0 ? a.tick === b.tick : Math.abs(a.seconds - b.seconds) <= slack + 1e-6;
  const waiting = new Map<string, Entry[]>();
  const old = [...before];
  for (const entry of old) {
    const key = entryKey(entry);
    const known = waiting.get(key);
    if (known === undefined) waiting.set(key, [entry]);
    else known.push(entry);
  }
  const matched = new Map<number, number>();
  const result: Comparison = { same: 0, missing: [], added: [], shifted: [], reordered: 0, first: null, matches: matched };
  const taken = new Map<string, number>();
  const now = [...after];
  for (const entry of now) {
    const key = entryKey(entry);
    const at = taken.get(key) ?? 0;
    const match = waiting.get(key)?.[at];
    if (match === undefined) {
      result.added.push(entry);
      continue;
    }
    taken.set(key, at + 1);
    matched.set(match.number, entry.number);
    if (isAtOnce(match, entry)) result.same++;
    else result.shifted.push({ before: match, after: entry });
  }
  result.missing = old.filter(({ number }) => !matched.has(number));
  const atOnce = old.filter(({ number }) => matched.has(number) && isAtOnce(before.at(number)!, after.at(matched.get(number)!)!));
  const out = outOfOrder(
    atOnce.map(({ number }) => number),
    matched,
  );
  result.reordered = out.size;
  result.same -= result.reordered;
  result.first = firstUnmatched(old, now, matched, (one, other) => isAtOnce(one, other) && !out.has(one.number));
  return result;
}

/**
 * Which of some matched entries of the first ledger stand in another order in the second: all but a longest run that both have in the
 * same order (longest increasing subsequence, C. Schensted, 1961).
 */
function outOfOrder(both: readonly number[], matched: ReadonlyMap<number, number>): Set<number> {
  /** The ends of the runs of each length that end soonest; and before each entry the one before it in its run. */
  const ends: number[] = [];
  const previous = new Map<number, number | undefined>();
  for (const number of both) {
    const place = matched.get(number)!;
    let [low, high] = [0, ends.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (matched.get(ends[middle]!)! < place) low = middle + 1;
      else high = middle;
    }
    previous.set(number, ends[low - 1]);
    ends[low] = number;
  }
  const inOrder = new Set<number>();
  for (let at = ends.at(-1); at !== undefined; at = previous.get(at)) inOrder.add(at);
  return new Set(both.filter((number) => !inOrder.has(number)));
}

/** The first entries of two ledgers that are not the same: what both have alike is passed in each by itself. */
function firstUnmatched(
  old: readonly Entry[],
  now: readonly Entry[],
  matched: ReadonlyMap<number, number>,
  isAlike: (one: Entry, other: Entry) => boolean,
): Comparison['first'] {
  const alike = new Set<number>();
  const before =
    old.find((one) => {
      const number = matched.get(one.number);
      if (number === undefined || !isAlike(one, now[number - 1]!)) return true;
      alike.add(number);
      return false;
    }) ?? null;
  const places = new Map(Array.from(matched, ([one, other]) => [other, one]));
  const after =
    now.find((one) => {
      if (alike.has(one.number)) return false;
      const number = places.get(one.number);
      return number === undefined || !isAlike(old[number - 1]!, one);
    }) ?? null;
  if (before === null && after === null) return null;
  // Of what only one has where it differs first, the other has nothing to be laid beside it.
  if (before !== null && after !== null && before.seconds < after.seconds && !matched.has(before.number))
    return { before, after: null };
  if (before !== null && after !== null && after.seconds < before.seconds && !places.has(after.number))
    return { before: null, after };
  return { before, after };
}

/** Two ledgers beside each other: what is in both in one row, all in the order of time. */
export interface CompareRow {
  before: Entry | null;
  after: Entry | null;
}

/** The entries of two ledgers in rows; a row that both have stands where its earlier one does. */
export function rowsOf(before: Ledger, after: Ledger, { matches }: Comparison): CompareRow[] {
  const matched = new Set(matches.values());
  const rows: CompareRow[] = [...before].map((entry) => {
    const number = matches.get(entry.number);
    return { before: entry, after: number === undefined ? null : after.at(number)! };
  });
  for (const entry of after) if (!matched.has(entry.number)) rows.push({ before: null, after: entry });
  const time = ({ before, after }: CompareRow): number => Math.min(before?.seconds ?? Infinity, after?.seconds ?? Infinity);
  const place = ({ before, after }: CompareRow): number => Math.min(before?.number ?? Infinity, after?.number ?? Infinity);
  return rows.sort((a, b) => time(a) - time(b) || place(a) - place(b));
}

/** Where two ledgers part. */
export interface FirstDifference {
  seconds: number;
  /** What the first says there, and what the second. */
  before: string | null;
  after: string | null;
  /** What led there, as both say it. */
  since: string | null;
}

/** Where two ledgers part, and what led there as far as both say it; null if they do not part. */
export function firstDifference(
  { first, matches }: Comparison,
  before: Ledger,
  after: Ledger,
  nameOf: (id: string) => string,
): FirstDifference | null {
  if (first === null) return null;
  const says = (entry: Entry | null): string | null => entry && entrySentence(entry, nameOf);
  const matched = new Set(matches.values());
  const since =
    ledAlike(first.before, before, (number) => matches.has(number)) ??
    ledAlike(first.after, after, (number) => matched.has(number));
  return {
    seconds: Math.min(first.before?.seconds ?? Infinity, first.after?.seconds ?? Infinity),
    before: says(first.before),
    after: says(first.after),
    since: says(since),
  };
}

/** The nearest of what led to an entry that is in both ledgers; null if there is none. */
function ledAlike(entry: Entry | null, ledger: Ledger, inBoth: (number: number) => boolean): Entry | null {
  for (let cause = entry?.cause ?? null; cause !== null;) {
    if (inBoth(cause)) return ledger.at(cause)!;
    cause = ledger.at(cause)!.cause;
  }
  return null;
}

/** What a designer is told of first: what moves, fires and is held before what only follows from it. */
const weight: Partial<Record<Entry['kind'], number>> = {
  opened: 9,
  closed: 8,
  held: 8,
  'chain-started': 7,
  teleported: 9,
  warped: 9,
  'left-behind': 9,
  collected: 8,
  claimed: 8,
  press: 7,
  release: 6,
  enter: 5,
  leave: 4,
  blocked: 7,
  bump: 5,
  missed: 9,
  runaway: 10,
  'gave-up': 7,
  changed: 5,
  'cue-started': 5,
  signal: 6,
  'became-true': 6,
  arrived: 4,
};

/** How much an entry of a kind matters to a designer; 1 is what only follows from others. */
export function weightOf(kind: Entry['kind']): number {
  return weight[kind] ?? 1;
}

/** A change in one sentence, and how much it matters. */
export interface Change {
  says: string;
  weight: number;
}

/** The differences in words, what matters most first: "Mill door is open 0.3 s later", "no longer: Goose is held…". */
export function changesInWords({ missing, added, shifted }: Comparison, nameOf: (id: string) => string): Change[] {
  const of = (entry: Entry, before: string, after: string): Change => ({
    says: `${before}${entrySentence(entry, nameOf)}${after}`,
    weight: weightOf(entry.kind),
  });
  const changes = [
    ...missing.map((entry) => of(entry, 'no longer: ', '')),
    ...added.map((entry) => of(entry, 'now: ', '')),
    ...shifted.map(({ before, after }) => {
      const by = Math.round(Math.abs(after.seconds - before.seconds) * 100) / 100;
      return {
        ...of(after, '', `, ${by} s ${after.tick > before.tick ? 'later' : 'earlier'}`),
        weight: weightOf(after.kind) - 3,
      };
    }),
  ];
  return changes.filter((one) => one.weight > 1).sort((a, b) => b.weight - a.weight);
}
