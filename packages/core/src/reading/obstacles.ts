import { change } from '../document/edits';
import type { Level } from '../document/level';
import { lookup } from '../document/lookup';
import type { Zone } from '../document/places';
import type { Cause } from '../kinds/causes/cause';
import { kindOfFixture } from '../kinds/fixtures';
import type { Fixture } from '../kinds/fixtures';
import type { Entry } from '../ledger/entry';
import type { CauseEvent } from '../vocabulary/events';
import { nearestApproach } from './approach';
import type { Run } from './approach';
import { obstructionsBetween } from './between';
import { quoted, reason, round } from './reason';
import type { Reason } from './reason';

/** What of a thing itself keeps others out: it is solid where it is to be entered, or disabled, and stayed so. */
export function keptOut(level: Level, entries: readonly Entry[], id: string, on: CauseEvent = 'enter'): Reason[] {
  const found = lookup(level).get(id);
  if (found?.collection !== 'zones' && found?.collection !== 'fixtures') return [];
  const { thing, collection } = found as { collection: 'zones' | 'fixtures'; thing: Zone | Fixture };
  const became = (field: string, to: boolean): boolean =>
    entries.some((one) => one.kind === 'changed' && one.what === id && one.details.field === field && one.details.to === to);
  const reasons: Reason[] = [];
  const isEntered = 'kind' in thing && kindOfFixture(thing.kind).entered !== undefined;
  const enters = on === 'enter' || on === 'leave' || on === 'dwell';
  const heard = level.chains.some(({ causes }) => causes.some((one) => one.of === id && one.on === 'enter'));
  if ('solid' in thing && thing.solid && enters && (isEntered || heard) && !became('solid', false))
    reasons.push({
      ...reason(`${quoted(level, id)} is solid, so nobody can enter it.`, [], 'Make it passable.'),
      edit: change<Fixture>('fixtures', thing, { solid: false }),
    });
  if (!thing.enabled && !became('enabled', true))
    reasons.push({
      ...reason(`${quoted(level, id)} is disabled, and nothing enabled it.`, [], 'Enable it.'),
      edit: change(collection, thing, { enabled: true }),
    });
  return reasons;
}

/** How near anybody came to what was never entered, and when. */
export function nearestTo(level: Level, run: Run, cause: Pick<Cause, 'of' | 'on'>): Reason {
  const verb =
    { enter: 'entered', leave: 'left', dwell: 'stayed in', bump: 'bumped into', use: 'used' }[cause.on as string] ?? 'entered';
  const name = quoted(level, cause.of);
  const best = nearestApproach(level, run, cause.of);
  if (best === 'no place') return reason(`Nobody ${verb} ${name}.`);
  if (best === null) return reason(`Nobody ${verb} ${name}: nobody was in its room.`, [], 'Add a walk in that room.');
  const when = `${round(best.tick / level.rate)} s`;
  const near = round(best.metres);
  const between = obstructionsBetween(level, run, best, cause.of);
  const says =
    near === 0
      ? `Nobody ${verb} ${name}. ${quoted(level, best.visitor)} touched it at ${when}.`
      : `Nobody ${verb} ${name}. ${quoted(level, best.visitor)} came nearest: ${near} m away, at ${when}.${between.says}`;
  const edit = cause.on === 'enter' ? between.edit : null;
  const mend = edit !== null || near < 2 ? 'Enlarge it, or route the walk through it.' : 'Route the walk through it.';
  return { ...reason(says, [], mend), tick: best.tick, edit };
}
