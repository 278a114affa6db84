import { applied } from '@nettlewick/core';
import type { Edit, Level } from '@nettlewick/core';

/** The open level as a worker has it: it was sent once, and is kept up with edits. */
export class LevelReplica {
  private held: Level | null = null;

  open(level: Level): void {
    this.held = level;
  }

  /** Makes edits in their order. Throws an EditError if one does not fit; then nothing is answered until the level is opened again. */
  edit(edits: readonly Edit[]): void {
    const { level } = this;
    this.held = null;
    this.held = edits.reduce(applied, level);
  }

  protected get level(): Level {
    if (this.held === null) throw new Error('No level was opened in this worker');
    return this.held;
  }
}
