import { firstShut } from '../gates';
import { causeEvents } from '../level/chains';
import type { CauseEvent } from '../level/chains';
import { lookup } from '../level/lookup';
import type { Visitor } from '../level/people';
import { finishStep, finishWaiters, startChain, startDelayed } from './chains';
import { motionBegan, motionEnded, sendDoor } from './doors';
import type { EntryKind } from './ledger';
import { write } from './rehearsing';
import type { Rehearsing } from './rehearsing';
import { listenerKey } from './plan';
import type { Happening, Item } from './state';

/** More items than this in one tick is a runaway. */
export const RUNAWAY_ITEMS = 10_000;

/** Takes items from the queue until it is empty. False when there were too many in this tick. */
export function drain(rehearsing: Rehearsing): boolean {
  const { state } = rehearsing;
  // The queue grows while it is drained, and is drained to its end.
  for (const item of state.queue) {
    state.itemsThisTick += 1;
    if (state.itemsThisTick > RUNAWAY_ITEMS) return false;
    drainOne(rehearsing, item);
  }
  state.queue.length = 0;
  return true;
}

function drainOne(rehearsing: Rehearsing, item: Item): void {
  switch (item.do) {
    case 'event': {
      const entry = drainEvent(rehearsing, item.event);
      if (item.motion !== undefined) motionBegan(rehearsing, item.motion, item.event.what!, entry);
      if (item.waiters !== undefined) {
        motionEnded(rehearsing, item.event.what!, entry, item.event.who);
        finishWaiters(rehearsing, item.waiters);
      }
      break;
    }
    case 'start-step':
      startDelayed(rehearsing, item.chain, item.run, item.step);
      break;
    case 'finish-step':
      finishStep(rehearsing, item.chain, item.run, item.step);
      break;
    case 'return': {
      const own = rehearsing.state.doors.get(item.door)!;
      const door = rehearsing.plan.doors.get(item.door)!;
      if (own.token === item.token)
        finishWaiters(rehearsing, sendDoor(rehearsing, door, door.open ? 1 : 0, item.cause, item.hand).ended);
      break;
    }
  }
}

/** Writes an event, or that it was held, and offers it to the chains that listen. Gives the entry's number. */
function drainEvent(rehearsing: Rehearsing, event: Happening): number {
  const { plan } = rehearsing;
  const reason = heldAsAWhole(rehearsing, event);
  if (reason !== null) {
    const { who, what, cause, details } = event;
    return write(rehearsing, { kind: 'held', who, what, cause, details: { event: event.kind, reason, ...details } });
  }
  const entry = write(rehearsing, event);
  if (event.what === null || !isCauseEvent(event.kind)) return entry;
  for (const listener of plan.listeners.get(listenerKey(event.kind, event.what)) ?? []) {
    tryChain(rehearsing, listener.chain, listener.cause, event, entry);
  }
  return entry;
}

/** Gates 1 and 2: they hold the event itself, whoever listens. */
function heldAsAWhole(rehearsing: Rehearsing, event: Happening): 'disabled' | 'silent-visitor' | null {
  if (!isCauseEvent(event.kind) || event.what === null) return null;
  if (rehearsing.plan.enabled.get(event.what) === false) return 'disabled';
  const fromOverlap = event.kind === 'enter' || event.kind === 'leave' || event.kind === 'press' || event.kind === 'release';
  if (fromOverlap && visitor(rehearsing, event.who)?.raisesOverlaps === false) return 'silent-visitor';
  return null;
}

function tryChain(rehearsing: Rehearsing, chainIndex: number, causeIndex: number, event: Happening, entry: number): void {
  const { state, plan } = rehearsing;
  const chain = plan.level.chains[chainIndex]!;
  const cause = chain.causes[causeIndex]!;
  const used = state.causes.get(cause.id);
  const shut = firstShut({
    chain,
    cause,
    visitor: visitor(rehearsing, event.who),
    tick: state.tick,
    rate: plan.level.rate,
    used,
    flag: (id) => state.flags.get(id),
    runs: state.runs.has(chain.id),
  });
  if (shut !== null) {
    const details = { event: event.kind, reason: shut.reason, ...shut.details };
    write(rehearsing, { kind: 'held', who: event.who, what: event.what, chain: chain.id, cause: entry, details });
    return;
  }
  state.causes.set(cause.id, { count: (used?.count ?? 0) + 1, lastTick: state.tick });
  startChain(rehearsing, chainIndex, { entry, who: event.who, what: event.what });
}

function visitor(rehearsing: Rehearsing, id: string | null): Visitor | undefined {
  if (id === null) return undefined;
  const found = lookup(rehearsing.plan.level).get(id);
  return found?.collection === 'visitors' ? (found.thing as Visitor) : undefined;
}

function isCauseEvent(kind: EntryKind): kind is CauseEvent {
  return (causeEvents as readonly string[]).includes(kind);
}
