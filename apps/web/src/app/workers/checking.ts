import { findAll } from '@nettlewick/core';
import type { Finding } from '@nettlewick/core';
import { LevelReplica } from './level-copy';

/** For so long checks go on before it is looked whether something else was asked, in milliseconds. */
const SLICE = 25;

/** Finds what is wrong with the open level, check by check. */
export class Checking extends LevelReplica {
  private asked = 0;

  /** The findings in the level, with fixes not yet tried; null if a newer level was asked about meanwhile. */
  async findings(): Promise<Finding[] | null> {
    const turn = (this.asked += 1);
    const finding = findAll(this.level);
    let since = performance.now();
    for (;;) {
      const next = finding.next();
      if (next.done === true) return next.value;
      if (performance.now() - since < SLICE) continue;
      await new Promise((resolve) => setTimeout(resolve));
      if (turn !== this.asked) return null;
      since = performance.now();
    }
  }
}
