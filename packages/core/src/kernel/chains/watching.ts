import type { Condition } from '../../conditions/conditions';
import { finishStep } from './chains';
import type { KernelContext } from '../state/context';
import { raise } from '../state/raising';

/** Takes the value of every watch as it is at the start; those that are to raise it then are taken as false before. */
export function takeWatches(ctx: KernelContext): void {
  const { plan, state, conditions } = ctx;
  ctx.triggeredBy = null;
  state.watches = plan.level.watches.map(
    (watch) => !watch.fromStart && watch.when.trim() !== '' && conditions.of(watch.when).verdict().holds,
  );
}

/**
 * Evaluates the watches whose parts of the state have changed, in listing order, and then the steps that wait until a
 * condition holds; each that changed enters the queue. Whether any did.
 */
export function evaluateWatches(ctx: KernelContext): boolean {
  const { plan, state, conditions } = ctx;
  let changed = false;
  plan.level.watches.forEach((watch, at) => {
    const condition = conditions.of(watch.when);
    if (!isStale(ctx, `watch ${at}`, condition)) return;
    ctx.triggeredBy = null;
    const holds = watch.when.trim() !== '' && condition.verdict().holds;
    if (holds === state.watches[at]) return;
    state.watches[at] = holds;
    changed = true;
    raise(ctx, { kind: holds ? 'became-true' : 'became-false', who: null, what: watch.id, cause: null, details: {} });
  });
  for (const until of [...state.untils]) {
    if (until.resumeQueued) continue;
    const condition = conditions.of(until.text);
    if (!isStale(ctx, `until ${until.run} ${until.step}`, condition)) continue;
    ctx.triggeredBy = until.triggeredBy;
    if (!condition.verdict().holds) continue;
    until.resumeQueued = true;
    changed = true;
    state.queue.push({ do: 'until-held', run: until.run, step: until.step });
  }
  return changed;
}

/** A step that waited until a condition holds goes on, if the condition still does when its turn in the queue comes. */
export function finishUntil(ctx: KernelContext, run: number, step: number): void {
  const { state, conditions } = ctx;
  const until = state.untils.find((one) => one.run === run && one.step === step);
  if (until === undefined) return;
  ctx.triggeredBy = until.triggeredBy;
  if (conditions.of(until.text).verdict().holds) finishStep(ctx, until);
  else until.resumeQueued = false;
}

/** Whether a part of the state that a condition reads has changed since it was last asked here. */
function isStale({ state, watchVersions: asked }: KernelContext, key: string, { reads }: Condition): boolean {
  let now = 0;
  for (const part of reads) now += state.versions[part];
  if (asked.get(key) === now) return false;
  asked.set(key, now);
  return true;
}
