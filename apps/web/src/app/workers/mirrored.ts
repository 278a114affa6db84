import { editsBetween } from '@nettlewick/core';
import type { Edit, Level } from '@nettlewick/core';

/** Who keeps a copy of the level: messages come to it in the order in which they were sent. */
export interface Copying {
  open(level: Level): unknown;
  edit(edits: readonly Edit[]): unknown;
}

/** More edits than this at once, and the level is sent anew. */
const MANY = 400;

/** Keeps the copy of a level that a worker holds like the level of the studio: by the edits between the two. */
export class Mirrored {
  private held: Level | null = null;

  constructor(private readonly copy: Copying) {}

  /** After this the worker has this very level, whatever it is asked next. */
  bring(level: Level): void {
    if (level === this.held) return;
    const before = this.held;
    this.held = level;
    const edits = before === null ? null : editsBetween(before, level);
    if (edits?.length === 0) return;
    const told = edits === null || edits.length > MANY ? this.copy.open(level) : this.copy.edit(edits);
    // Whoever asks the worker next hears of it if this fails.
    void Promise.resolve(told).catch(() => undefined);
  }
}
