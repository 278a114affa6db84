import type { Fixture } from '../../kinds/fixtures';
import type { EntryKind } from '../../vocabulary/entries';
import type { HeldDetails } from '../../ledger/entry';
import { secondsOf, ticksOf } from '../../vocabulary/ticks';
import { startCue } from '../state/cues';
import type { ReportingContext, EventContext } from '../state/context';
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
export function beginPassage(ctx: EventContext, passage: Fixture, visitor: VisitorState, event: EntryKind, cause: number): void {
  const { state, plan } = ctx;
  const how = takingOf(passage);
  const key = `${passage.id} ${visitor.id}`;
  const cools = how.cooldownFor === 'visitor' ? key : passage.id;
  const since = state.took.get(cools);
  const left = since === undefined ? 0 : cooledAt(plan, cools, since) - state.tick;
  const hold = (why: HeldDetails): void => holdBack(ctx, passage.id, visitor, event, cause, why);
  if (left > 0) {
    hold({ reason: 'cooling', ticks: left, seconds: secondsOf(left, plan.level.rate) });
    return;
  }
  // A visitor that is being taken already is not taken twice.
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
  if (held) releaseOrHold(ctx, visitor, true, cause, who);
  play(ctx, cue, cause, who);
  const item = { do: 'take', passage: passage.id, visitor: visitor.order, event, cause, holds: held } as const;
  const ticks = ticksOf(seconds, plan.level.rate);
  if (ticks === 0) {
    // It has begun to take nobody whom it cannot put elsewhere.
    if (finishPassage(ctx, item) !== null) state.took.delete(cools);
    return;
  }
  state.taking.add(key);
  if (drifts) drift(ctx, passage.id, visitor, Math.max(1, ticks - 1), cause);
  schedule(ctx, ticks, item);
}

/**
 * What comes before is over: the visitor is put elsewhere, unless it has left what it had entered. Gives why nothing came of it,
 * or null.
 */
export function finishPassage(ctx: EventContext, item: Extract<QueueItem, { do: 'take' }>): string | null {
  const { state, plan } = ctx;
  const { passage, event, cause, holds } = item;
  const visitor = state.visitors[item.visitor]!;
  const how = takingOf(plan.fixtures.get(passage)!);
  const isDelayed = state.taking.delete(`${passage} ${visitor.id}`);
  if (isDelayed && visitor.forced?.cause === cause) {
    wakeUp(ctx, visitor);
    finishLater(ctx, visitor.forced.waiters);
    visitor.forced = null;
  }
  const left = isDelayed && event === 'enter' && !visitor.within.has(plan.volumeOf.get(passage)!);
  const problem = left ? 'left before' : travel(ctx, visitor, how, how.toAnotherRoom, cause, visitor.id);
  if (problem !== null) holdBack(ctx, passage, visitor, event, cause, { reason: 'impossible', problem });
  else play(ctx, how.after.cue, cause, visitor.id);
  if (!holds) return problem;
  const back = { do: 'give-back', visitor: item.visitor, cause } as const;
  const ticks = problem === null ? ticksOf(how.after.seconds, plan.level.rate) : 0;
  if (ticks === 0) returnControl(ctx, back);
  else schedule(ctx, ticks, back);
  return problem;
}

/** The control that a passage has held is the visitor's own again. */
export function returnControl(ctx: EventContext, { visitor, cause }: Extract<QueueItem, { do: 'give-back' }>): void {
  const one = ctx.state.visitors[visitor]!;
  releaseOrHold(ctx, one, false, cause, one.id);
}

function holdBack(
  ctx: ReportingContext,
  passage: string,
  { id }: VisitorState,
  event: EntryKind,
  cause: number,
  why: HeldDetails,
): void {
  write(ctx, { kind: 'held', who: id, what: passage, cause, details: { event, ...why } });
}

/** A cue of its own, for which nothing waits. */
function play(ctx: EventContext, cue: string, cause: number, triggeredBy: string): void {
  if (!ctx.plan.cues.has(cue)) return;
  const length = startCue(ctx, cue, cause, triggeredBy);
  const item = { do: 'cue-end', cue, cause, triggeredBy, waiter: null } as const;
  if (length === 0) ctx.state.queue.push(item);
  else schedule(ctx, length, item);
}

/** Walks a visitor to where a passage stands, so fast that it is there in so many ticks if nothing is in its way. */
function drift(ctx: ReportingContext, passage: string, visitor: VisitorState, ticks: number, cause: number): void {
  const { at, room } = standOf(ctx, passage)!;
  const dx = at.x - visitor.at.x;
  const dy = at.y - visitor.at.y;
  const far = Math.sqrt(dx * dx + dy * dy);
  if (far === 0) return;
  const to = { ...at, room, of: '', axes: 'room', height: 'datum' } as const;
  const { ended } = walkVisitor(ctx, visitor, to, cause, visitor.id, (far / ticks) * ctx.plan.level.rate);
  finishLater(ctx, ended);
}
