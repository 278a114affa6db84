import { kindOfFixture, startsAs } from '../../kinds/fixtures';
import type { Fixture } from '../../kinds/fixtures';
import type { Acts } from '../../kinds/fixtures/fixture-kind';
import { filtered } from '../../kinds/gates/filter';
import type { HeldDetails } from '../../ledger/entry';
import type { EntryKind } from '../../vocabulary/entries';
import { ticksOf } from '../../vocabulary/ticks';
import { collect } from '../physics/belongings';
import { beginPassage } from './taking';
import type { WorldContext, EventContext } from '../state/context';
import { insideOf } from '../state/world';
import type { KernelEvent } from '../state/world';
import { raiseFromStep, touch, write } from '../state/raising';
import { schedule } from '../state/schedule';
import { visitorOf } from '../state/plan';

/** What a fixture does by itself once an event has been heard: passages take visitors, collectibles are collected. */
export function answer(
  ctx: EventContext,
  how: 'entered' | 'left' | 'bumped' | 'used',
  { kind, who, what }: KernelEvent,
  entry: number,
): void {
  const fixture = ctx.plan.fixtures.get(what!);
  if (who === null || fixture === undefined) return;
  kindOfFixture(fixture.kind)[how]?.(fixture, actsOf(ctx, fixture, who, entry, kind));
}

/** What a fixture may do when something has befallen it. */
function actsOf(ctx: EventContext, fixture: Fixture, who: string, entry: number, event: EntryKind): Acts {
  const { id } = fixture;
  const { state, plan } = ctx;
  const visitor = visitorOf(ctx.plan, who)!;
  const hold = (why: HeldDetails): void =>
    void write(ctx, { kind: 'held', who, what: id, cause: entry, details: { event, ...why } });
  return {
    visitor,
    hold,
    position: () => state.switches.get(id)!,
    inside: (kinds) => {
      const counts = (order: number): boolean => {
        const { kind, raisesOverlaps } = plan.visitors[order]!.visitor;
        return raisesOverlaps && (kinds.length === 0 || kinds.includes(kind));
      };
      return [...insideOf(state, plan.volumeOf.get(id)!)].filter(counts).length;
    },
    lets: (filter) => {
      const shut = filtered(filter, visitor, state.owners.get(id) ?? null);
      if (shut !== null) hold(shut);
      return shut === null;
    },
    take: () => beginPassage(ctx, fixture, state.visitors[plan.visitorOf.get(who)!]!, event, entry),
    collect: () => collect(ctx, id, entry, who),
    changeOver: (back) => changeOver(ctx, id, back, who, entry),
  };
}

/** Changes a switch over; one that springs back goes to its other side only, until it does. */
function changeOver(ctx: EventContext, id: string, back: number | null, who: string, entry: number): void {
  const { state, plan } = ctx;
  const own = state.switches.get(id)!;
  own.uses += 1;
  own.token += 1;
  if (back === null || own.on === startOf(ctx, id)) put(ctx, id, !own.on, who, entry);
  if (back === null) return;
  const item = { do: 'spring-back', switch: id, token: own.token, cause: entry, triggeredBy: who } as const;
  const ticks = ticksOf(back, plan.level.rate);
  if (ticks === 0) state.queue.push(item);
  else schedule(ctx, ticks, item);
}

/** A momentary switch springs back, unless it was used again. */
export function springBack(ctx: EventContext, id: string, token: number, cause: number, triggeredBy: string | null): void {
  const own = ctx.state.switches.get(id)!;
  if (own.token === token) put(ctx, id, startOf(ctx, id), triggeredBy, cause);
}

function startOf({ plan }: WorldContext, id: string): boolean {
  return startsAs(plan.fixtures.get(id)!).on === true;
}

function put(ctx: EventContext, id: string, on: boolean, who: string | null, cause: number): void {
  const own = ctx.state.switches.get(id)!;
  if (own.on === on) return;
  own.on = on;
  touch(ctx, 'fixtures');
  raiseFromStep(ctx, { kind: on ? 'on' : 'off', who, what: id, cause, details: {} });
}
