import { collections, editsBetween } from '@nettlewick/core';
import type { Edit, Level, Thing } from '@nettlewick/core';

/** Who keeps a copy of the level: messages come to it in the order in which they were sent. */
export interface ReplicaTarget {
  open(level: Level): unknown;
  edit(edits: readonly Edit[]): unknown;
}

/** When more things than this are others, the level is sent anew. */
const MANY = 400;

/** Keeps the copy of a level that a worker holds like the level of the studio: by the edits between the two. */
export class LevelReplicator {
  private held: Level | null = null;

  constructor(private readonly copy: ReplicaTarget) {}

  /** Brings the copy to a level. Messages keep their order, so later questions are about it. Rejects if the copy cannot follow. */
  async bring(level: Level): Promise<void> {
    if (level === this.held) return;
    const before = this.held;
    this.held = level;
    const edits = before === null ? null : between(before, level);
    if (edits?.length === 0) return;
    await (edits === null ? this.copy.open(level) : this.copy.edit(edits));
  }
}

/** The edits that were found last: several workers are brought from one level to another. */
let latest: { before: Level; level: Level; edits: Edit[] | null } | null = null;

function between(before: Level, level: Level): Edit[] | null {
  if (latest?.before !== before || latest.level !== level)
    latest = { before, level, edits: sharesMost(before, level) ? editsBetween(before, level) : null };
  return latest.edits;
}

/** Whether two levels share all things but some few: two versions of one level do, unless all of it was edited at once. */
function sharesMost(before: Level, after: Level): boolean {
  let others = 0;
  for (const collection of collections) {
    const [was, is]: [readonly Thing[], readonly Thing[]] = [before[collection], after[collection]];
    if (was === is) continue;
    const shared = new Set(was);
    others += Math.max(0, was.length - is.length);
    for (const thing of is) if (!shared.has(thing)) others += 1;
    if (others > MANY) return false;
  }
  return true;
}
