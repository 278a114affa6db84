import type { Collectible } from '../../kinds/fixtures';
import { change } from './changes';
import type { ReportingContext, EventContext } from '../state/context';
import { wakeAffected } from './sleep';
import { setEnabled } from '../state/world';
import { raiseFromStep, touch } from '../state/raising';
import { factOf } from '../state/facts';

/** Makes the visitor in hand the owner of something, unless it has an owner already. */
export function claim(ctx: EventContext, id: string, cause: number, triggeredBy: string | null): void {
  const { state } = ctx;
  if (triggeredBy === null || state.owners.has(id)) return;
  state.owners.set(id, triggeredBy);
  ownerChanged(ctx, id);
  raiseFromStep(ctx, { kind: 'claimed', who: triggeredBy, what: id, cause, details: {} });
}

/** Leaves something without an owner. */
export function giveUp(ctx: EventContext, id: string, cause: number, triggeredBy: string | null): void {
  const { state } = ctx;
  const owner = state.owners.get(id);
  if (owner === undefined) return;
  state.owners.delete(id);
  ownerChanged(ctx, id);
  raiseFromStep(ctx, { kind: 'changed', who: triggeredBy, what: id, cause, details: { field: 'owner', from: owner, to: null } });
}

/** An owner may pass what it owns: wakes the visitors near it. */
function ownerChanged(ctx: ReportingContext, id: string): void {
  const { plan } = ctx;
  touch(ctx, 'fixtures');
  const volume = plan.volumes[plan.volumeOf.get(id) ?? -1];
  if (volume?.lets?.owner === true) wakeAffected(ctx, volume.room);
}

/** Collects something once: it is hidden and disabled, and its counter goes up. */
export function collect(ctx: EventContext, id: string, cause: number, triggeredBy: string | null): void {
  const { state, plan } = ctx;
  if (state.collected.has(id)) return;
  const { counter, adds } = plan.fixtures.get(id) as Collectible;
  state.collected.add(id);
  state.shown.set(id, false);
  setEnabled(state, id, false);
  touch(ctx, 'fixtures');
  raiseFromStep(ctx, { kind: 'collected', who: triggeredBy, what: id, cause, details: {} });
  if (plan.things.get(counter)?.word !== 'counter') return;
  change(ctx, 'counter', counter, Number(factOf(ctx, counter, triggeredBy)) + adds, cause, triggeredBy);
}
