import type { Collectible } from '../../kinds/fixtures';
import { change } from './changes';
import type { ToldContext, EventContext } from '../state/context';
import { wakeAffected } from './sleep';
import { setEnabled } from '../state/world';
import { raiseFromStep, touch } from '../state/raising';
import { factOf } from '../state/facts';

/** Makes the visitor in hand the owner of something, unless it has an owner already. */
export function claim(rehearsing: EventContext, id: string, cause: number, hand: string | null): void {
  const { state } = rehearsing;
  if (hand === null || state.owners.has(id)) return;
  state.owners.set(id, hand);
  ownerChanged(rehearsing, id);
  raiseFromStep(rehearsing, { kind: 'claimed', who: hand, what: id, cause, details: {} });
}

/** Leaves something without an owner. */
export function giveUp(rehearsing: EventContext, id: string, cause: number, hand: string | null): void {
  const { state } = rehearsing;
  const owner = state.owners.get(id);
  if (owner === undefined) return;
  state.owners.delete(id);
  ownerChanged(rehearsing, id);
  raiseFromStep(rehearsing, { kind: 'changed', who: hand, what: id, cause, details: { field: 'owner', from: owner, to: null } });
}

/** Who owns something may pass it: it is looked at anew by who is near. */
function ownerChanged(rehearsing: ToldContext, id: string): void {
  const { plan } = rehearsing;
  touch(rehearsing, 'fixtures');
  const volume = plan.volumes[plan.volumeOf.get(id) ?? -1];
  if (volume?.lets?.owner === true) wakeAffected(rehearsing, volume.room);
}

/** Collects something once: it is hidden and disabled, and its counter goes up. */
export function collect(rehearsing: EventContext, id: string, cause: number, hand: string | null): void {
  const { state, plan } = rehearsing;
  if (state.collected.has(id)) return;
  const { counter, adds } = plan.fixtures.get(id) as Collectible;
  state.collected.add(id);
  state.shown.set(id, false);
  setEnabled(state, id, false);
  touch(rehearsing, 'fixtures');
  raiseFromStep(rehearsing, { kind: 'collected', who: hand, what: id, cause, details: {} });
  if (plan.things.get(counter)?.word !== 'counter') return;
  change(rehearsing, 'counter', counter, Number(factOf(rehearsing, counter, hand)) + adds, cause, hand);
}
