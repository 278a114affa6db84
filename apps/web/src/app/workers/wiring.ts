import { printWiring, readWiring } from '@nettlewick/core';
import type { WiringRead } from '@nettlewick/core';
import { newId } from './ids';
import { LevelReplica } from './level-copy';

/** Prints the wiring of the open level as text, and reads it. */
export class WiringTextWorker extends LevelReplica {
  print(): string {
    return printWiring(this.level);
  }

  /** Reads a text into the level; things that it stands for and has no more are deleted by the edit. */
  read(text: string, standsFor: readonly string[]): WiringRead {
    return readWiring(text, this.level, { newId, standsFor });
  }
}
