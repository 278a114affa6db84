import { Piscina } from 'piscina';
import type { Fault } from '@nettlewick/core';
import type { Chain, Rebuild } from '../storage/chains';
import type { Appended } from '../storage/level-repository';

/** Edits that are to be made on a revision. */
export interface ToMake {
  id: string;
  /** The beginning of the digest of that revision. */
  base: string;
  /** The request as it came (UTF-8). */
  body: Uint8Array;
  /** The level as it is stored, if it is not held. */
  stored?: Chain;
}

/** A document that is to be rebuilt: a stored one, and the edits after it. */
export type ToRebuild = Pick<Chain, 'document' | 'edits'>;

/**
 * Edits that were made: what is to be stored of them. Or what is wrong with them; or that the level is not held at this revision, and
 * has to be sent along; or that what was sent along is broken.
 */
export type EditsResult =
  | ({ ok: true } & Appended)
  | { ok: false; unknown: true; batch: string | null }
  | { ok: false; broken: true; faults: Fault[] }
  | { ok: false; notJson: string }
  | { ok: false; faults: Fault[] };

/** How long making edits may take, in milliseconds. */
const DEADLINE = 20_000;

/** A thread that holds the levels that are edited, makes and checks their edits, and rebuilds documents from them. */
export class EditingThread {
  private readonly pool: Piscina;

  /** `filename`: of edits.worker.ts, as a module that Node can run. */
  constructor(filename: string) {
    const resourceLimits = { maxOldGenerationSizeMb: 1024 };
    this.pool = new Piscina({ filename, minThreads: 1, maxThreads: 1, idleTimeout: Infinity, resourceLimits });
  }

  async make(asked: ToMake): Promise<EditsResult> {
    // What is held takes a fraction of a millisecond: only for what has to be read first it is worth a timer.
    const limit = asked.stored === undefined ? {} : { signal: AbortSignal.timeout(DEADLINE) };
    return (await this.pool.run(asked, limit)) as EditsResult;
  }

  readonly rebuild: Rebuild = async ({ document, edits }) =>
    (await this.pool.run({ document, edits }, { signal: AbortSignal.timeout(DEADLINE) })) as string;

  async close(): Promise<void> {
    await this.pool.destroy();
  }
}
