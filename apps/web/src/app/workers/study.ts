import {
  Ledger,
  compareLedgers,
  explainLog,
  findFixes,
  nameOf,
  orderSafety,
  firstDifference,
  overTime,
  readPlayLog,
  rehearse,
  rehearseSpread,
  remediesFor,
  rowsOf,
  spreadRuns,
  findCoveringWalk,
} from '@nettlewick/core';
import type {
  Covered,
  Fix,
  HouseRules,
  LedgerColumns,
  Level,
  LogExplained,
  OrderSafety,
  FirstDifference,
  ReadLog,
  Remedy,
  Since,
  Route,
  SpreadRun,
  Spreading,
} from '@nettlewick/core';
import { LevelReplica } from './level-copy';
import type { RehearsalSent } from './rehearsal';

/** What is compared: a walk of the level (or of another state of it), with a seed and house rules of its own; or a ledger that is there. */
export type CompareInput =
  { walk: string; seed?: number; rules?: Partial<HouseRules>; level?: Level } | { columns: LedgerColumns };

/** What a log says beside the ledger of the level, and which sets of house rules explain it. */
export type Explained = Pick<LogExplained, 'rows' | 'first' | 'simplest' | 'sets'>;

/** After so many edits that were tried it is told how far the search has come. */
const TOLD_AFTER = 20;

/** Two rehearsals beside each other. */
export interface Compared {
  same: number;
  shifted: number;
  reordered: number;
  missing: number;
  added: number;
  parting: FirstDifference | null;
  /** Both ledgers, and their entries beside each other in the order of time: two numbers a row, 0 where one has none. */
  before: LedgerColumns;
  after: LedgerColumns;
  rows: Int32Array;
  seconds: number;
}

/** Where whatever goes beyond one rehearsal is found: a worker that may take its time. */
export class AnalysisWorker extends LevelReplica {
  compare(one: CompareInput, other: CompareInput): Compared {
    const [before, after] = [this.ledgerOf(one), this.ledgerOf(other)];
    const found = compareLedgers(before, after);
    const named = (id: string): string => nameOf(this.level, id).trim();
    const rows = rowsOf(before, after, found).flatMap((row) => [row.before?.number ?? 0, row.after?.number ?? 0]);
    const seconds = Math.max(before.at(before.length)?.seconds ?? 0, after.at(after.length)?.seconds ?? 0);
    return {
      same: found.same,
      shifted: found.shifted.length,
      reordered: found.reordered,
      missing: found.missing.length,
      added: found.added.length,
      parting: firstDifference(found, before, after, named),
      before: before.columns(),
      after: after.columns(),
      rows: Int32Array.from(rows),
      seconds,
    };
  }

  /** What of a walk hangs on the house rules. */
  orderSafety(walk: string): OrderSafety {
    return orderSafety(this.level, this.walkOf(walk));
  }

  /** Some runs of a spread. */
  spread(walk: string, by: Spreading, seeds: readonly number[]): SpreadRun[] {
    return spreadRuns(this.level, this.walkOf(walk), by, seeds);
  }

  /** What lets something be missed no more. */
  remedies(walk: string, by: Spreading, what: string, seeds: readonly number[]): Remedy[] {
    return remediesFor(this.level, this.walkOf(walk), by, what, seeds);
  }

  /** One run of a spread, to be looked at. */
  oneOf(walk: string, by: Spreading, seed: number): RehearsalSent {
    const { rate, ticks, ledger, tracks } = rehearseSpread(this.level, this.walkOf(walk), by, seed);
    return { walk, rate, ticks, columns: ledger.columns(), tracks, expectations: [] };
  }

  /** The routes of a walk that tries what no walk has tried; null where none was found. */
  trying(gap: Pick<Covered, 'kind' | 'thing' | 'part' | 'cause'>): Route[] | null {
    return findCoveringWalk(this.level, gap);
  }

  /** Small edits with which what is expected of a walk is met; is told now and then how many were tried. */
  async fixes(walk: string, tried: (count: number) => unknown): Promise<Fix[]> {
    const search = findFixes(this.level, walk);
    let next = search.next();
    for (; next.done !== true; next = search.next()) if (next.value % TOLD_AFTER === 0) await tried(next.value);
    return next.value;
  }

  /** The rehearsal of a walk of another state of the level. */
  ofLevel(level: Level, id: string): RehearsalSent {
    const { walk, rate, ticks, ledger, tracks, expectations } = rehearse(level, this.walkOf(id, level));
    return { walk, rate, ticks, columns: ledger.columns(), tracks, expectations };
  }

  /** What conditions come to over a walk. */
  over(walk: string, texts: readonly string[]): Since[][] {
    return texts.map((text) => overTime(this.level, this.walkOf(walk), text));
  }

  /** What a log of a play says beside the ledger; or what is wrong with it. */
  explain(text: string): { ok: true; explained: Explained } | Extract<ReadLog, { ok: false }> {
    const read = readPlayLog(this.level, text);
    if (!read.ok) return read;
    const { rows, first, simplest, sets } = explainLog(this.level, read.log);
    return { ok: true, explained: { rows, first, simplest, sets } };
  }

  private walkOf(id: string, level = this.level): Level['walks'][number] {
    const walk = level.walks.find((one) => one.id === id);
    if (walk === undefined) throw new Error('This walk is not in the level any more.');
    return walk;
  }

  private ledgerOf(side: CompareInput): Ledger {
    if ('columns' in side) return Ledger.of(side.columns);
    const level = side.level ?? this.level;
    return rehearse(level, this.walkOf(side.walk, level), { seed: side.seed ?? 0, rules: side.rules }).ledger;
  }
}
