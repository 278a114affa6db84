import { findAll } from '../checks/findings';
import type { Finding } from '../checks/findings';
import type { Edit } from '../document/edits';
import { collections } from '../document/level';
import type { Level } from '../document/level';
import type { Expectation } from '../document/walks';
import { whyNot, whyNotStep } from '../reading/why-not';
import { reason } from '../reading/reason';
import type { Reason } from '../reading/reason';
import type { Rehearsal } from '../rehearsal/rehearse';
import { expectationWords } from '../sentences/expectations';
import { findFixes } from './fixes';
import { aboutOf, distancesFrom } from './trail';
import { judgedWalks, tryEdit } from './trial';
import type { Judged } from './trial';

/** The greatest distance at which mistakes are searched, counted in references. */
const MAX_DISTANCE = 4;
/** The number of mistakes that are listed. */
const MAX_LISTED = 3;

/**
 * Why nothing happened in a run at a thing, a chain, a visitor or an expectation: first the mistakes that Check finds on the way to it, the
 * nearest first, then, of an expectation, the changes with which it is met, and then what the run itself says.
 */
export function explain(level: Level, run: Rehearsal, id: string): Reason[] {
  const expectation = expectationIn(level, id);
  if (expectation === undefined) return eachOnce([...mistakesNear(level, [id]), ...whyNot(level, run, id)]);
  const isUnmet = run.expectations.some((one) => one.id === id && !one.passed);
  const mistakes = mistakesNear(level, aboutOf(expectation));
  const told = whyNot(level, run, id);
  return eachOnce([...mistakes, ...(isUnmet ? changesFor(level, run, [id], [...mistakes, ...told]) : []), ...told]);
}

/**
 * The changes with which what is expected of a walk happens, and nothing that was met fails: the first that are found by trying. None
 * where one of the `reasons` offers such an edit already: it says why, too.
 */
function changesFor(level: Level, run: Rehearsal, expectations: readonly string[], reasons: readonly Reason[]): Reason[] {
  const before = judgedWalks(level, run.walk, run);
  const isMet = ({ met }: Judged): boolean => expectations.every((id) => met.has(id));
  const offered = reasons.flatMap(({ edit }) => (edit === null || removesCondition(edit) ? [] : [edit]));
  if (offered.some((edit) => 'after' in tryEdit(level, edit, before, isMet))) return [];
  const things = collections.reduce((sum, collection) => sum + level[collection].length, 0);
  const tries = Math.floor(MAX_TRIALS / Math.max(1, things / USUAL_THINGS) ** 2);
  const search = findFixes(level, run.walk, { expectations, tries });
  let next = search.next();
  while (next.done !== true) next = search.next();
  return next.value.map(({ says, edit, left }) => {
    const some = expectations.length === 1 ? 'this is met' : 'more of what is expected is met';
    const then = left === 0 ? 'every expectation is met' : some;
    return { says: `With one change ${then}, as was tried. ${says}`, entries: [], tick: null, mend: '', edit };
  });
}

/** Whether an edit takes away what a chain asks: that may help, but is seldom what is meant. */
function removesCondition(edit: Edit): boolean {
  return edit.kind === 'change' && 'guard' in edit.after && edit.after.guard === '';
}

/** The number of trials for an answer in a level of the usual size, in things. Larger levels get fewer, because each takes longer. */
const MAX_TRIALS = 250;
const USUAL_THINGS = 200;

/** As `explain`, of one step of a chain. */
export function explainStep(level: Level, run: Rehearsal, chain: string, step: string): Reason[] {
  return eachOnce([...mistakesNear(level, [chain]), ...whyNotStep(level, run, chain, step)]);
}

/**
 * Why each expectation of a walk that was not met in its run was not: the changes with which more is met, and of each what was found and
 * why. `isOwn`: whether the run is that of the level as it stands; of another no changes are tried.
 */
export function explainUnmet(level: Level, run: Rehearsal, isOwn = true): Reason[] {
  const unmet = run.expectations.filter(({ passed }) => !passed);
  if (unmet.length === 0) return [];
  const ids = unmet.map(({ id }) => id);
  const mistakes = mistakesNear(level, [...new Set(ids.flatMap((id) => aboutOf(expectationIn(level, id)!)))]);
  const told = unmet.flatMap(({ id, entries, because }) => {
    const words = expectationWords(level, expectationIn(level, id)!);
    return [reason(`“${words}” is not met: ${because}.`, entries), ...whyNot(level, run, id)];
  });
  return eachOnce([...mistakes, ...(isOwn ? changesFor(level, run, ids, [...mistakes, ...told]) : []), ...told]);
}

function expectationIn(level: Level, id: string): Expectation | undefined {
  return level.walks.flatMap(({ expectations }) => expectations).find((one) => one.id === id);
}

/** What Check finds wrong with things that lead to some others, the nearest first. What often is meant so is left out. */
function mistakesNear(level: Level, ids: readonly string[]): Reason[] {
  const distances = distancesFrom(level, ids, MAX_DISTANCE);
  const farOf = ({ thing, also }: Finding): number =>
    Math.min(...[thing, ...also].map((id) => distances.get(id) ?? Infinity), ids.includes(thing) ? -1 : Infinity);
  return findingsOf(level)
    .filter((one) => one.weight !== 'remark' && farOf(one) <= MAX_DISTANCE)
    .sort((a, b) => farOf(a) - farOf(b))
    .slice(0, MAX_LISTED)
    .map(({ reason: says, mend, edit }) => ({ says, entries: [], tick: null, mend, edit }));
}

const known = new WeakMap<Level, Finding[]>();

/** What Check finds in a level; found once, for a level is never changed in place. */
function findingsOf(level: Level): Finding[] {
  let found = known.get(level);
  if (found === undefined) {
    const finding = findAll(level);
    let next = finding.next();
    while (next.done !== true) next = finding.next();
    found = next.value;
    known.set(level, found);
  }
  return found;
}

/**
 * No sentence is said twice, and no edit is offered twice: what offers it first is the nearest. What the run itself says stays, without
 * the edit; what would only say the same in other words goes.
 */
function eachOnce(reasons: readonly Reason[]): Reason[] {
  const said = new Set<string>();
  const isNew = (key: string): boolean => !said.has(key) && said.add(key) !== undefined;
  return reasons.flatMap((one) => {
    if (!isNew(one.says)) return [];
    if (one.edit === null || isNew(JSON.stringify({ ...one.edit, label: '' }))) return [one];
    return one.entries.length > 0 ? [{ ...one, mend: '', edit: null }] : [];
  });
}
