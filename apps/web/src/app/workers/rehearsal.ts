import { rehearse } from '@nettlewick/core';
import type { Answered, LedgerColumns, Tracks } from '@nettlewick/core';
import { LevelCopy } from './level-copy';

/** A rehearsal as it comes from its worker: the ledger in its columns. */
export interface RehearsalSent {
  walk: string;
  rate: number;
  ticks: number;
  columns: LedgerColumns;
  tracks: Tracks;
  expectations: Answered[];
}

/** Where the kernel runs: never on the interface's thread. */
export class RehearsalRoom extends LevelCopy {
  rehearse(id: string): RehearsalSent {
    const walk = this.level.walks.find((one) => one.id === id);
    if (walk === undefined) throw new Error('This walk is not in the level any more.');
    const { rate, ticks, ledger, tracks, expectations } = rehearse(this.level, walk);
    return { walk: id, rate, ticks, columns: ledger.columns(), tracks, expectations };
  }
}
