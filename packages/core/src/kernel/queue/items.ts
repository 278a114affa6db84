import { beginDelayed, beginQueued, finishStep, finishWaiters, giveUpWaiting, startDelayed } from '../chains/chains';
import { returnControl, finishPassage } from '../sensing/taking';
import { updateInside, tell, writeEvent } from './drain';
import { motionBegan, motionEnded, returnNow } from '../physics/machines';
import { answer, springBack } from '../sensing/passing';
import type { EventContext, KernelContext } from '../state/context';
import { chosenRule } from '../state/orders';
import { count } from '../state/runaway';
import { sayInside, sense } from '../sensing/sense';
import type { EventFollowUp, KernelEvent, QueueItem } from '../state/world';
import { evaluateWatches, finishUntil } from '../chains/watching';

/** Takes items from the queue until it is empty. Throws a Runaway when there are too many in this tick. */
export function drain(ctx: KernelContext): void {
  const { state } = ctx;
  if (state.queue.length === 0) return;
  // The queue grows while it is drained, and is drained to its end.
  for (const item of state.queue) {
    count(ctx);
    drainOne(ctx, item);
    if (watchesAtOnce(ctx)) evaluateWatches(ctx);
  }
  state.queue.length = 0;
}

function watchesAtOnce({ orders, plan, state }: EventContext): boolean {
  if (plan.level.watches.length === 0 && state.untils.length === 0) return false;
  return chosenRule(orders, 'watches') === 'at-once';
}

function drainOne(ctx: KernelContext, item: QueueItem): void {
  const { state, plan } = ctx;
  switch (item.do) {
    case 'event':
      drainEvent(ctx, item.event, item.after);
      break;
    case 'tell':
      tell(ctx, item.event, item.entry);
      break;
    case 'begin-run':
      beginDelayed(ctx, item.chain, item.run);
      break;
    case 'begin-queued':
      beginQueued(ctx, item.chain);
      break;
    case 'start-step':
      startDelayed(ctx, item.chain, item.run, item.step);
      break;
    case 'finish-step':
      if (item.gaveUp === true) giveUpWaiting(ctx, item);
      else finishStep(ctx, item);
      break;
    case 'until-held':
      finishUntil(ctx, item.run, item.step);
      break;
    case 'return':
      finishWaiters(ctx, returnNow(ctx, item.machine, item.token, item.cause, item.triggeredBy));
      break;
    case 'spring-back':
      springBack(ctx, item.switch, item.token, item.cause, item.triggeredBy);
      break;
    case 'cue-end': {
      const event = { kind: 'cue-finished', who: item.triggeredBy, what: item.cue, cause: item.cause, details: {} } as const;
      drainEvent(ctx, event, { waiters: item.waiter === null ? [] : [item.waiter] });
      break;
    }
    case 'take':
      finishPassage(ctx, item);
      break;
    case 'give-back':
      returnControl(ctx, item);
      break;
    case 'dwell': {
      const visitor = state.visitors[item.visitor]!;
      if (visitor.within.get(item.volume) !== item.stay) break;
      const what = plan.volumes[item.volume]!.id;
      drainEvent(ctx, { kind: 'dwell', who: visitor.id, what, cause: null, details: {} });
      break;
    }
  }
}

/** Drains one event: it gets its number, the chains that listen are tried, and then what waited for it goes on. */
function drainEvent(ctx: KernelContext, event: KernelEvent, after?: EventFollowUp): void {
  const { state } = ctx;
  const { entry, held } = writeEvent(ctx, event);
  updateInside(ctx, event);
  if (after !== undefined && 'put' in after) {
    for (const order of after.put) state.visitors[order]!.putBy = entry;
    for (const arrival of after.inside) {
      arrival.cause = entry;
      sayInside(ctx, state.visitors[arrival.visitor]!, arrival.volume, entry);
    }
  }
  if (after !== undefined && 'thrown' in after) {
    const { flight } = state.visitors[ctx.plan.visitorOf.get(after.thrown)!]!;
    if (flight?.thrown) flight.thrown.cause = entry;
  }
  if (!held) tell(ctx, event, entry);
  if (after === undefined) return;
  if ('motionBegan' in after) motionBegan(ctx, after.motionBegan, entry);
  if ('motionEnded' in after) {
    motionEnded(ctx, after.motionEnded, entry);
    finishWaiters(ctx, after.motionEnded.waiters);
  }
  if ('waiters' in after) finishWaiters(ctx, after.waiters);
  if ('put' in after && chosenRule(ctx.orders, 'afterTeleport') === 'sense-at-once')
    sense(
      ctx,
      after.put.map((order) => state.visitors[order]!),
    );
  if (held) return;
  if ('answer' in after) answer(ctx, after.answer, event, entry);
}

/** Drains an event inside of what raised it, for houses that drain immediately. */
export function drainNow(ctx: KernelContext, event: KernelEvent, after?: EventFollowUp): void {
  ctx.state.depth += 1;
  count(ctx);
  drainEvent(ctx, event, after);
  ctx.state.depth -= 1;
  if (watchesAtOnce(ctx)) evaluateWatches(ctx);
}
