import { firstFailure } from '../../kinds/gates';
import type { GateInput } from '../../kinds/gates/gate';
import { filtered } from '../../kinds/gates/filter';
import { causeEvents } from '../../vocabulary/events';
import type { CauseEvent } from '../../vocabulary/events';
import { giveUpLeft, standingOf, startRun } from '../chains/chains';
import type { DetailsOf, HeldDetails } from '../../ledger/entry';
import type { Vector } from '../../vocabulary/quantities';
import type { EntryKind } from '../../vocabulary/entries';
import { chosenRule } from '../state/orders';
import type { WorldContext, ReportingContext, KernelContext } from '../state/context';
import { standOf } from '../physics/spots';
import type { KernelEvent } from '../state/world';
import { write } from '../state/raising';
import { visitorOf } from '../state/plan';

/** Writes an event, or that it was held. */
export function writeEvent(ctx: ReportingContext, event: KernelEvent): { entry: number; held: boolean } {
  const { kind, who, what, cause, details } = event;
  const shut = isCauseEvent(kind) && what !== null ? firstFailure({ event: asAWhole(ctx, kind, who, what) }) : null;
  if (shut === null) return { entry: write(ctx, event), held: false };
  return {
    entry: write(ctx, { kind: 'held', who, what, cause, details: { event: kind, ...shut, ...details } as Held }),
    held: true,
  };
}

/** Of what holds an event itself the event's own details are said too. */
type Held = DetailsOf['held'];

function asAWhole(ctx: WorldContext, kind: EntryKind, who: string | null, what: string): GateInput['event'] {
  const raised = visitorOf(ctx.plan, who)?.raisesOverlaps !== false;
  return { kind, enabled: !ctx.state.disabled.has(what), raised };
}

/** Offers an event that has its number to the chains that listen, in the order of the house. */
export function tell(ctx: KernelContext, event: KernelEvent, entry: number): void {
  if (event.what === null || !isCauseEvent(event.kind)) return;
  const { plan, orders } = ctx;
  const inListingOrder = plan.listeners.get(event.kind)!.get(event.what);
  if (inListingOrder === undefined) return;
  const isReverse = inListingOrder.length > 1 && chosenRule(orders, 'listeners') === 'reverse';
  const listening = isReverse ? plan.listenersReversed.get(event.kind)!.get(event.what)! : inListingOrder;
  for (const { chain, cause } of listening) tryChain(ctx, chain, cause, event, entry);
}

/** Updates the visitors inside each volume, as of the drained events, before any chain hears of this one. */
export function updateInside(ctx: ReportingContext, { kind, who, what }: KernelEvent): void {
  if (who === null || what === null || (kind !== 'enter' && kind !== 'leave')) return;
  const { insideByEvents } = ctx.state;
  if (kind === 'leave') giveUpLeft(ctx, who, what);
  if (!ctx.plan.countedThings.has(what)) return;
  if (kind === 'leave') {
    insideByEvents.get(what)?.delete(who);
    return;
  }
  const inside = insideByEvents.get(what);
  if (inside === undefined) insideByEvents.set(what, new Set([who]));
  else inside.add(who);
}

function tryChain(ctx: KernelContext, chainIndex: number, causeIndex: number, event: KernelEvent, entry: number): void {
  const { state, plan } = ctx;
  const chain = plan.level.chains[chainIndex]!;
  const cause = chain.causes[causeIndex]!;
  const visitor = visitorOf(ctx.plan, event.who);
  const owner = (event.what === null ? null : state.owners.get(event.what)) ?? null;
  const forEach = cause.cooldownFor === 'visitor' ? `${cause.id} ${event.who ?? ''}` : cause.id;
  const shut = firstFailure({
    heard: {
      cause,
      visitor,
      unaddressed: event.kind === 'signal' ? unaddressed(ctx, event, cause.hears) : null,
      owner,
      others: () => {
        for (const id of state.insideByEvents.get(event.what!) ?? []) {
          const other = id === event.who ? undefined : visitorOf(ctx.plan, id);
          if (other?.raisesOverlaps === true && filtered(cause.filter, other, owner) === null) return true;
        }
        return false;
      },
      tick: state.tick,
      rate: plan.level.rate,
      count: state.causes.get(cause.id)?.count ?? 0,
      lastTick: state.causes.get(forEach)?.lastTick ?? null,
    },
    chain: standingOf(ctx, chain, event.who),
  });
  if (shut !== null) {
    const details = { event: event.kind, ...shut };
    write(ctx, { kind: 'held', who: event.who, what: event.what, chain: chain.id, cause: entry, details });
    return;
  }
  const causes = forEach === cause.id ? [cause.id] : [cause.id, forEach];
  for (const key of causes) {
    const known = state.causes.get(key);
    state.causes.set(key, { count: (known?.count ?? 0) + 1, lastTick: known?.lastTick ?? null });
  }
  startRun(ctx, chain, { entry, who: event.who, what: event.what, kind: event.kind, causes });
}

type Filtered = Extract<HeldDetails, { reason: 'filtered' }>;

function lengthBetween(a: Vector, b: Vector): number {
  return Math.sqrt((a.x - b.x) ** 2 + (a.y - b.y) ** 2 + (a.z - b.z) ** 2);
}

/** Why a signal is not for a cause, by the thing that hears for it; null if it is. */
function unaddressed(
  ctx: ReportingContext,
  { details, origin }: KernelEvent & { kind: 'signal' },
  hears: string,
): Filtered | null {
  if (details.to === 'all') return null;
  const no = (part: string, asked: string, found: string): Filtered => ({ reason: 'filtered', part, asked, found });
  if (hears === '') return no('hearing', 'something that hears it', 'nothing');
  if (details.to === 'tag') {
    const { tag } = details;
    const thing = ctx.plan.things.get(hears)?.thing;
    const tags = thing !== undefined && 'tags' in thing ? thing.tags : [];
    return tags.includes(tag) ? null : no('hearing tag', tag, tags.join(', '));
  }
  const stand = standOf(ctx, hears);
  const { metres } = details;
  const here = stand !== null && origin !== undefined && stand.room === origin.room;
  const far = here ? lengthBetween(stand.at, origin.at) : Infinity;
  if (far <= metres + 1e-6) return null;
  return no('hearing radius', `${metres} m`, far === Infinity ? 'another room' : `${Math.round(far * 1000) / 1000} m`);
}

function isCauseEvent(kind: EntryKind): kind is CauseEvent {
  return causeKinds.has(kind);
}

const causeKinds = new Set<string>(causeEvents);
