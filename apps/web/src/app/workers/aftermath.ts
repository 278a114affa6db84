import { changesInWords, compareLedgers, findingsOfWalks, lookup, nameOf, rehearse } from '@nettlewick/core';
import type { Change, EntryKind, Ledger, Level, Rehearsal, Walk, WalksSeen } from '@nettlewick/core';
import { LevelReplica } from './level-copy';

/** What an edit changed in what fires, over all walks. */
export interface Aftermath {
  /** What changed, each in a sentence with the walks it holds for, what matters most first. */
  changes: { says: string; walks: string[] }[];
  /** How many more changes there are, that matter less. */
  more: number;
  /** The walks with expectations that are not met, with how many. */
  unmet: { walk: string; count: number }[];
  /** Whether any walk sets anything off: a chain, a passage, something to collect. */
  fires: boolean;
  /** Findings from the walks, and their coverage. */
  seen: WalksSeen;
}

/** As many sentences as anybody reads. */
const SAID = 100;

/** Runs every walk after an edit, and compares it with how it ran before. */
export class EditImpactWorker extends LevelReplica {
  /** What is compared with, and the level as it was then: what is gone since is called what it was called there. */
  private before: ReadonlyMap<string, Ledger> | null = null;
  private was: Level | null = null;
  /** What was found last. */
  private after: ReadonlyMap<string, Ledger> | null = null;
  private seen: Level | null = null;

  /** `goesOn`: the edit goes on with the last one, as when a thing is pushed along by keys: both are told as one. */
  look(goesOn = false): Aftermath {
    if (!goesOn || this.before === null) {
      this.before = this.after;
      this.was = this.seen;
    }
    const { level, before, was } = this;
    const named = (id: string): string => nameOf(was === null || lookup(level).has(id) ? level : was, id);
    const now = new Map<string, Ledger>();
    const unmet: Aftermath['unmet'] = [];
    let fires = false;
    const found = new Map<string, { change: Change; walks: string[] }>();
    const runs: { walk: Walk; rehearsal: Rehearsal }[] = [];
    for (const walk of level.walks) {
      const rehearsal = rehearse(level, walk);
      const { ledger, expectations } = rehearsal;
      runs.push({ walk, rehearsal });
      now.set(walk.id, ledger);
      fires ||= setsAnythingOff(ledger);
      const count = expectations.filter(({ passed }) => !passed).length;
      if (count > 0) unmet.push({ walk: walk.id, count });
      const then = before?.get(walk.id);
      if (then === undefined) continue;
      for (const change of changesInWords(compareLedgers(then, ledger), named)) {
        const known = found.get(change.says);
        if (known === undefined) found.set(change.says, { change, walks: [walk.id] });
        else if (!known.walks.includes(walk.id)) known.walks.push(walk.id);
      }
    }
    this.after = now;
    this.seen = level;
    const changes = [...found.values()]
      .sort((a, b) => b.change.weight - a.change.weight)
      .slice(0, SAID)
      .map(({ change, walks }) => ({ says: change.says, walks }));
    return { changes, more: found.size - changes.length, unmet, fires, seen: findingsOfWalks(level, runs) };
  }
}

const effects: ReadonlySet<EntryKind> = new Set<EntryKind>(['chain-started', 'teleported', 'warped', 'collected', 'moving']);

function setsAnythingOff(ledger: Ledger): boolean {
  for (const { kind } of ledger) if (effects.has(kind)) return true;
  return false;
}
