import type { Condition } from '../conditions/conditions';
import { raise } from './rehearsing';
import type { Rehearsing } from './rehearsing';

/** Takes the value of every watch as it is at the start; those that are to raise it then are taken as false before. */
export function takeWatches(rehearsing: Rehearsing): void {
  const { plan, state, conditions } = rehearsing;
  rehearsing.hand = null;
  state.watches = plan.level.watches.map((watch) => !watch.fromStart && conditions.of(watch.when).verdict().holds);
}

/**
 * Evaluates the watches whose parts of the state have changed, in listing order, and then the steps that wait until a
 * condition holds; each that changed enters the queue. Whether any did.
 */
export function evaluateWatches(rehearsing: Rehearsing): boolean {
  const { plan, state, conditions } = rehearsing;
  let changed = false;
  plan.level.watches.forEach((watch, at) => {
    const condition = conditions.of(watch.when);
    if (!isStale(rehearsing, `watch ${at}`, condition)) return;
    rehearsing.hand = null;
    const holds = watch.when.trim() !== '' && condition.verdict().holds;
    if (holds === state.watches[at]) return;
    state.watches[at] = holds;
    changed = true;
    raise(rehearsing, { kind: holds ? 'became-true' : 'became-false', who: null, what: watch.id, cause: null, details: {} });
  });
  for (const until of [...state.untils]) {
    const condition = conditions.of(until.text);
    if (!isStale(rehearsing, `until ${until.run} ${until.step}`, condition)) continue;
    rehearsing.hand = until.hand;
    if (!condition.verdict().holds) continue;
    state.untils = state.untils.filter((one) => one !== until);
    changed = true;
    state.queue.push({ do: 'finish-step', chain: until.chain, run: until.run, step: until.step });
  }
  return changed;
}

/** Whether a part of the state that a condition reads has changed since it was last asked here. */
function isStale({ state, asked }: Rehearsing, key: string, { reads }: Condition): boolean {
  let now = 0;
  for (const part of reads) now += state.versions[part];
  if (asked.get(key) === now) return false;
  asked.set(key, now);
  return true;
}
