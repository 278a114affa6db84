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
export function drain(rehearsing: KernelContext): void {
  const { state } = rehearsing;
  if (state.queue.length === 0) return;
  // The queue grows while it is drained, and is drained to its end.
  for (const item of state.queue) {
    count(rehearsing);
    drainOne(rehearsing, item);
    if (watchesAtOnce(rehearsing)) evaluateWatches(rehearsing);
  }
  state.queue.length = 0;
}

function watchesAtOnce({ orders, plan, state }: EventContext): boolean {
  if (plan.level.watches.length === 0 && state.untils.length === 0) return false;
  return chosenRule(orders, 'watches') === 'at-once';
}

function drainOne(rehearsing: KernelContext, item: QueueItem): void {
  const { state, plan } = rehearsing;
  switch (item.do) {
    case 'event':
      drainEvent(rehearsing, item.event, item.after);
      break;
    case 'tell':
      tell(rehearsing, item.event, item.entry);
      break;
    case 'begin-run':
      beginDelayed(rehearsing, item.chain, item.run);
      break;
    case 'begin-queued':
      beginQueued(rehearsing, item.chain);
      break;
    case 'start-step':
      startDelayed(rehearsing, item.chain, item.run, item.step);
      break;
    case 'finish-step':
      if (item.gaveUp === true) giveUpWaiting(rehearsing, item);
      else finishStep(rehearsing, item);
      break;
    case 'until-held':
      finishUntil(rehearsing, item.run, item.step);
      break;
    case 'return':
      finishWaiters(rehearsing, returnNow(rehearsing, item.machine, item.token, item.cause, item.hand));
      break;
    case 'spring-back':
      springBack(rehearsing, item.switch, item.token, item.cause, item.hand);
      break;
    case 'cue-end': {
      const event = { kind: 'cue-finished', who: item.hand, what: item.cue, cause: item.cause, details: {} } as const;
      drainEvent(rehearsing, event, { waiters: item.waiter === null ? [] : [item.waiter] });
      break;
    }
    case 'take':
      finishPassage(rehearsing, item);
      break;
    case 'give-back':
      returnControl(rehearsing, item);
      break;
    case 'dwell': {
      const visitor = state.visitors[item.visitor]!;
      if (visitor.within.get(item.volume) !== item.stay) break;
      const what = plan.volumes[item.volume]!.id;
      drainEvent(rehearsing, { kind: 'dwell', who: visitor.id, what, cause: null, details: {} });
      break;
    }
  }
}

/** Drains one event: it gets its number, the chains that listen are tried, and then what waited for it goes on. */
function drainEvent(rehearsing: KernelContext, event: KernelEvent, after?: EventFollowUp): void {
  const { state } = rehearsing;
  const { entry, held } = writeEvent(rehearsing, event);
  updateInside(rehearsing, event);
  if (after !== undefined && 'put' in after) {
    for (const order of after.put) state.visitors[order]!.putBy = entry;
    for (const arrival of after.inside) {
      arrival.cause = entry;
      sayInside(rehearsing, state.visitors[arrival.visitor]!, arrival.volume, entry);
    }
  }
  if (after !== undefined && 'thrown' in after) {
    const { flight } = state.visitors[rehearsing.plan.visitorOf.get(after.thrown)!]!;
    if (flight?.thrown) flight.thrown.cause = entry;
  }
  if (!held) tell(rehearsing, event, entry);
  if (after === undefined) return;
  if ('motionBegan' in after) motionBegan(rehearsing, after.motionBegan, entry);
  if ('motionEnded' in after) {
    motionEnded(rehearsing, after.motionEnded, entry);
    finishWaiters(rehearsing, after.motionEnded.waiters);
  }
  if ('waiters' in after) finishWaiters(rehearsing, after.waiters);
  if ('put' in after && chosenRule(rehearsing.orders, 'afterTeleport') === 'sense-at-once')
    sense(
      rehearsing,
      after.put.map((order) => state.visitors[order]!),
    );
  if (held) return;
  if ('answer' in after) answer(rehearsing, after.answer, event, entry);
}

/** Drains an event inside of what raised it, for houses that drain immediately. */
export function drainNow(rehearsing: KernelContext, event: KernelEvent, after?: EventFollowUp): void {
  rehearsing.state.depth += 1;
  count(rehearsing);
  drainEvent(rehearsing, event, after);
  rehearsing.state.depth -= 1;
  if (watchesAtOnce(rehearsing)) evaluateWatches(rehearsing);
}
