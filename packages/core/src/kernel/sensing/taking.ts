import type { Fixture } from '../../kinds/fixtures';
import type { EntryKind } from '../../vocabulary/entries';
import type { HeldDetails } from '../../ledger/entry';
import { secondsOf, ticksOf } from '../../vocabulary/ticks';
import { startCue } from '../state/cues';
import type { ToldContext, EventContext } from '../state/context';
import { wakeUp } from '../physics/sleep';
import type { QueueItem, VisitorState } from '../state/world';
import { reasonNotMovable, releaseOrHold, walkVisitor } from '../physics/people';
import { standOf } from '../physics/spots';
import { travel } from './travel';
import { finishLater, write } from '../state/raising';
import { schedule } from '../state/schedule';
import { cooledAt, takingOf } from '../state/cooling';

/** Passages take their visitors in their own time: a pause between two, something before, and something after. */

/** A visitor that a passage lets pass: it is taken at once, or when what comes before is over; or it is written why not. */
export function beginPassage(
  rehearsing: EventContext,
  passage: Fixture,
  visitor: VisitorState,
  event: EntryKind,
  cause: number,
): void {
  const { state, plan } = rehearsing;
  const how = takingOf(passage);
  const key = `${passage.id} ${visitor.id}`;
  const cools = how.cooldownFor === 'visitor' ? key : passage.id;
  const since = state.took.get(cools);
  const left = since === undefined ? 0 : cooledAt(plan, cools, since) - state.tick;
  const hold = (why: HeldDetails): void => holdBack(rehearsing, passage.id, visitor, event, cause, why);
  if (left > 0) {
    hold({ reason: 'cooling', ticks: left, seconds: secondsOf(left, plan.level.rate) });
    return;
  }
  // Whoever is being taken already is not taken twice.
  if (state.taking.has(key)) return;
  const hindered = reasonNotMovable(visitor);
  if (hindered !== null) {
    hold({ reason: 'impossible', problem: hindered });
    return;
  }
  if (how.cooldown > 0) state.took.set(cools, state.tick);
  const { seconds, holds, drifts, cue } = how.before;
  const who = visitor.id;
  const held = holds && !visitor.held;
  if (held) releaseOrHold(rehearsing, visitor, true, cause, who);
  play(rehearsing, cue, cause, who);
  const item = { do: 'take', passage: passage.id, visitor: visitor.order, event, cause, holds: held } as const;
  const ticks = ticksOf(seconds, plan.level.rate);
  if (ticks === 0) {
    // It has begun to take nobody whom it cannot put elsewhere.
    if (finishPassage(rehearsing, item) !== null) state.took.delete(cools);
    return;
  }
  state.taking.add(key);
  if (drifts) drift(rehearsing, passage.id, visitor, Math.max(1, ticks - 1), cause);
  schedule(rehearsing, ticks, item);
}

/**
 * What comes before is over: the visitor is put elsewhere, unless it has left what it had entered. Gives why nothing came of it,
 * or null.
 */
export function finishPassage(rehearsing: EventContext, item: Extract<QueueItem, { do: 'take' }>): string | null {
  const { state, plan } = rehearsing;
  const { passage, event, cause, holds } = item;
  const visitor = state.visitors[item.visitor]!;
  const how = takingOf(plan.fixtures.get(passage)!);
  const isDelayed = state.taking.delete(`${passage} ${visitor.id}`);
  if (isDelayed && visitor.forced?.cause === cause) {
    wakeUp(rehearsing, visitor);
    finishLater(rehearsing, visitor.forced.waiters);
    visitor.forced = null;
  }
  const left = isDelayed && event === 'enter' && !visitor.within.has(plan.volumeOf.get(passage)!);
  const problem = left ? 'left before' : travel(rehearsing, visitor, how, how.toAnotherRoom, cause, visitor.id);
  if (problem !== null) holdBack(rehearsing, passage, visitor, event, cause, { reason: 'impossible', problem });
  else play(rehearsing, how.after.cue, cause, visitor.id);
  if (!holds) return problem;
  const back = { do: 'give-back', visitor: item.visitor, cause } as const;
  const ticks = problem === null ? ticksOf(how.after.seconds, plan.level.rate) : 0;
  if (ticks === 0) returnControl(rehearsing, back);
  else schedule(rehearsing, ticks, back);
  return problem;
}

/** The control that a passage has held is the visitor's own again. */
export function returnControl(rehearsing: EventContext, { visitor, cause }: Extract<QueueItem, { do: 'give-back' }>): void {
  const one = rehearsing.state.visitors[visitor]!;
  releaseOrHold(rehearsing, one, false, cause, one.id);
}

function holdBack(
  rehearsing: ToldContext,
  passage: string,
  { id }: VisitorState,
  event: EntryKind,
  cause: number,
  why: HeldDetails,
): void {
  write(rehearsing, { kind: 'held', who: id, what: passage, cause, details: { event, ...why } });
}

/** A cue of its own, for which nothing waits. */
function play(rehearsing: EventContext, cue: string, cause: number, hand: string): void {
  if (!rehearsing.plan.cues.has(cue)) return;
  const length = startCue(rehearsing, cue, cause, hand);
  const item = { do: 'cue-end', cue, cause, hand, waiter: null } as const;
  if (length === 0) rehearsing.state.queue.push(item);
  else schedule(rehearsing, length, item);
}

/** Walks a visitor to where a passage stands, so fast that it is there in so many ticks if nothing is in its way. */
function drift(rehearsing: ToldContext, passage: string, visitor: VisitorState, ticks: number, cause: number): void {
  const { at, room } = standOf(rehearsing, passage)!;
  const dx = at.x - visitor.at.x;
  const dy = at.y - visitor.at.y;
  const far = Math.sqrt(dx * dx + dy * dy);
  if (far === 0) return;
  const to = { ...at, room, of: '', axes: 'room', height: 'datum' } as const;
  const { ended } = walkVisitor(rehearsing, visitor, to, cause, visitor.id, (far / ticks) * rehearsing.plan.level.rate);
  finishLater(rehearsing, ended);
}
