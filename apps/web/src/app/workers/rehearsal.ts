import type { Ledger } from '@nettlewick/core';
import { coverageOf, matrixOf, explain, explainStep, rehearse, whyNotAt, withProvenRemedies } from '@nettlewick/core';
import type { ExpectationResult, Covered, LedgerColumns, Matrix, Reason, Rehearsal, Tracks } from '@nettlewick/core';
import { LevelReplica } from './level-copy';

/** A rehearsal as the studio looks at it: entries are made of the ledger's columns as they are asked for. */
export interface RehearsalView {
  walk: string;
  rate: number;
  ticks: number;
  ledger: Ledger;
  tracks: Tracks;
  expectations: ExpectationResult[];
}

/** A rehearsal as it comes from its worker: the ledger in its columns. */
export interface RehearsalSent {
  walk: string;
  rate: number;
  ticks: number;
  columns: LedgerColumns;
  tracks: Tracks;
  expectations: ExpectationResult[];
}

/** The most entries of a rehearsal in the studio, because the page reads all of them. */
const MAX_ENTRIES = 200_000;

/** What is asked about: a thing or an expectation of the walk, a step of a chain, or a moment. */
export type AskedWhy = { of: string } | { of: string; step: string } | { tick: number };

/** Where the kernel runs: never on the interface's thread. */
export class RehearsalWorker extends LevelReplica {
  /** The latest run: questions about it are answered without another. */
  private latest: { level: unknown; rehearsal: Rehearsal } | null = null;

  rehearse(id: string): RehearsalSent {
    const { rate, ticks, ledger, tracks, expectations } = this.run(id);
    return { walk: id, rate, ticks, columns: ledger.columns(), tracks, expectations };
  }

  /** Why nothing happened at a thing, a chain, a step of one, a visitor or a moment of a walk, or what did. */
  why(walk: string, asked: AskedWhy): Reason[] {
    const run = this.run(walk);
    return withProvenRemedies(this.level, run, this.reasons(run, asked));
  }

  private reasons(run: Rehearsal, asked: AskedWhy): Reason[] {
    if ('tick' in asked) return whyNotAt(this.level, run, asked.tick);
    return 'step' in asked ? explainStep(this.level, run, asked.of, asked.step) : explain(this.level, run, asked.of);
  }

  /** What sets off against what acts, and what was tried: over all walks or one, by anybody or one; empty for all of them. */
  overview(walk: string, by: string): { matrix: Matrix; covered: Covered[] } {
    const { level } = this;
    const walks = level.walks.filter(({ id }) => walk === '' || id === walk);
    const runs = new Map(walks.map(({ id }) => [id, this.run(id).ledger]));
    return { matrix: matrixOf(level, runs, by === '' ? undefined : by), covered: coverageOf(level, runs) };
  }

  private run(id: string): Rehearsal {
    const { latest, level } = this;
    if (latest?.level === level && latest.rehearsal.walk === id) return latest.rehearsal;
    const walk = level.walks.find((one) => one.id === id);
    if (walk === undefined) throw new Error('This walk is not in the level any more.');
    const rehearsal = rehearse(level, walk, { most: MAX_ENTRIES });
    this.latest = { level, rehearsal };
    return rehearsal;
  }
}
