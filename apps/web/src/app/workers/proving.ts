import { provenFindings } from '@nettlewick/core';
import type { Finding } from '@nettlewick/core';
import { LevelReplica } from './level-copy';

/** How long fixes are tried before results are reported, in milliseconds. */
const SLICE = 150;

/** Tries the fixes of findings over the walks of the open level. It has a worker of its own, because a walk can take long. */
export class ProvingWorker extends LevelReplica {
  private trying: Iterator<Finding> | null = null;

  begin(findings: readonly Finding[]): void {
    this.trying = provenFindings(this.level, findings);
  }

  /** The next findings in order, keeping only fixes that break no expectation; empty after the last. */
  next(): Finding[] {
    const found: Finding[] = [];
    for (const until = performance.now() + SLICE; performance.now() < until;) {
      const next = this.trying?.next();
      if (next === undefined || next.done === true) break;
      found.push(next.value);
    }
    return found;
  }
}
