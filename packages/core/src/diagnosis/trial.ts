import { apply } from '../document/edits';
import type { Edit } from '../document/edits';
import type { Level } from '../document/level';
import type { Expectation, Walk } from '../document/walks';
import { rehearse } from '../rehearsal/rehearse';
import type { Rehearsal } from '../rehearsal/rehearse';

/** A trial with this many times the entries of the current run is rejected. */
const MAX_GROWTH_FACTOR = 4;
/** The most entries of one walk in a trial. */
const MAX_TRIAL_ENTRIES = 200_000;

/** What came of a walk, and which of its expectations were met. */
export interface Judged {
  walk: Walk;
  run: Rehearsal;
  met: ReadonlySet<string>;
}

/**
 * A walk, and all others of which something is expected, judged in the level as it is; the walk comes first, by the run that is there
 * if there is one. Empty if the walk is not in the level.
 */
export function judgedWalks(level: Level, walkId: string, run?: Rehearsal): Judged[] {
  const walk = level.walks.find(({ id }) => id === walkId);
  if (walk === undefined) return [];
  const others = level.walks.filter(({ id, expectations }) => id !== walkId && expectations.length > 0);
  return [run === undefined ? judge(level, walk) : judged(walk, run), ...others.map((one) => judge(level, one))];
}

/** Why an edit that was tried is no help: it does not fit, something runs wild, nothing of what is wanted comes of it, or what was met fails. */
export type NoHelp = { why: 'fits not' | 'runs wild' | 'nothing' } | { why: 'fails'; expectation: Expectation };

/** The walks once more with an edit made on a copy of the level, which is left as it was; `wanted` is asked of the first of them. */
export function tryEdit(
  level: Level,
  edit: Edit,
  before: readonly Judged[],
  wanted: (first: Judged) => boolean,
): { after: Judged[] } | NoHelp {
  const made = apply(level, edit);
  if (!made.ok) return { why: 'fits not' };
  const after: Judged[] = [];
  for (const old of before) {
    const walk = made.level.walks.find(({ id }) => id === old.walk.id);
    if (walk === undefined) return { why: 'fits not' };
    const most = Math.min(MAX_TRIAL_ENTRIES, old.run.ledger.length * MAX_GROWTH_FACTOR + 200);
    const now = judge(made.level, walk, most);
    if (now.run.ledger.length > most) return { why: 'runs wild' };
    const failed = walk.expectations.find(({ id }) => old.met.has(id) && !now.met.has(id));
    if (failed !== undefined) return { why: 'fails', expectation: failed };
    if (after.length === 0 && !wanted(now)) return { why: 'nothing' };
    after.push(now);
  }
  return { after };
}

function judge(level: Level, walk: Walk, most = MAX_TRIAL_ENTRIES): Judged {
  return judged(walk, rehearse(level, walk, { most }));
}

function judged(walk: Walk, run: Rehearsal): Judged {
  return { walk, run, met: new Set(run.expectations.flatMap(({ id, passed }) => (passed ? [id] : []))) };
}
