import type { Walk } from '../level/people';
import { secondsOf } from './ticks';
import type { Details, Entry, EntryKind } from './ledger';
import type { Plan } from './plan';
import type { Happening, Item, State } from './state';
import type { Tracks } from './tracks';

/** One rehearsal under way. */
export interface Rehearsing {
  plan: Plan;
  walk: Walk;
  state: State;
  entries: Entry[];
  tracks: Tracks;
}

/** What is written straight into the ledger, beside its time and number. */
export interface Writing {
  kind: EntryKind;
  who?: string | null;
  what?: string | null;
  chain?: string | null;
  step?: string | null;
  cause?: number | null;
  details?: Details;
}

/** Writes one entry and gives its number, counted from 1. */
export function write(rehearsing: Rehearsing, writing: Writing): number {
  const { entries, state, plan } = rehearsing;
  const number = entries.length + 1;
  entries.push({
    number,
    tick: state.tick,
    seconds: secondsOf(state.tick, plan.level.rate),
    kind: writing.kind,
    who: writing.who ?? null,
    what: writing.what ?? null,
    chain: writing.chain ?? null,
    step: writing.step ?? null,
    cause: writing.cause ?? null,
    details: writing.details ?? {},
  });
  return number;
}

/** Puts something that happened at the end of the queue. */
export function raise(rehearsing: Rehearsing, event: Happening): void {
  rehearsing.state.queue.push({ do: 'event', event });
}

/** Schedules an item for `ticks` from now; at least one, for what is due now would not be scheduled. */
export function schedule(rehearsing: Rehearsing, ticks: number, item: Item): void {
  const { state } = rehearsing;
  const tick = state.tick + Math.max(1, ticks);
  const due = state.schedule.get(tick);
  if (due === undefined) state.schedule.set(tick, [item]);
  else due.push(item);
}
