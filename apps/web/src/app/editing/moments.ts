import { isMachine, motionOf, valuesAt, vectorOf } from '@nettlewick/core';
import type { Entry, Fixture, Level, Thing } from '@nettlewick/core';
import { isLook, lookOfFixtures, withAttached } from '../board/figures';
import type { Moment } from '../board/figures';
import type { RehearsalView } from '../workers/rehearsal';

/** All that is ever elsewhere, or looks otherwise, than at the start of a rehearsal. `find` gives a thing of its level. */
export function changingIn(
  level: Level,
  { tracks }: RehearsalView,
  entries: readonly Entry[],
  find: (id: string) => Thing | undefined,
): ReadonlySet<string> {
  const moving = [...tracks.doors].flatMap(([id, { ticks, values }]) =>
    ticks.length > 1 || values[0] !== startOf(find(id)) ? id : [],
  );
  const looks = new Set(['changed', 'press', 'release']);
  const changed = entries.flatMap(({ kind, what }) => (what !== null && looks.has(kind) ? what : []));
  return withAttached(level, new Set([...tracks.visitors.keys(), ...moving, ...changed]));
}

/** Where everything is and how it looks at a tick of a rehearsal, when its entries up to number `now` have happened. */
export function momentAt(
  { tracks }: RehearsalView,
  entries: readonly Entry[],
  changing: ReadonlySet<string>,
  tick: number,
  now: number,
): Moment {
  const moment = {
    changing,
    visitors: new Map([...tracks.visitors].map(([id, track]) => [id, vectorOf(valuesAt(track, tick))])),
    rooms: new Map([...tracks.rooms].map(([id, stays]) => [id, stays.findLast((stay) => stay.tick <= tick)?.room ?? null])),
    doors: new Map([...tracks.doors].map(([id, track]) => [id, valuesAt(track, tick)[0] ?? 0])),
    texts: new Map<string, string>(),
    states: new Map<string, boolean>(),
    pressed: new Set<string>(),
  };
  for (const entry of entries) {
    if (entry.number > now) break;
    if (entry.what === null) continue;
    if (entry.kind === 'changed') {
      const { field, to } = entry.details;
      if (field === 'text') moment.texts.set(entry.what, String(to));
      else if (field === 'reset') for (const one of lookOfFixtures) moment.states.delete(`${entry.what} ${one}`);
      else if (isLook(field)) moment.states.set(`${entry.what} ${field}`, to === true);
    }
    if (entry.kind === 'collected') for (const one of ['shown', 'enabled']) moment.states.set(`${entry.what} ${one}`, false);
    if (entry.kind === 'press') moment.pressed.add(entry.what);
    if (entry.kind === 'release') moment.pressed.delete(entry.what);
  }
  return moment;
}

/** How many entries have happened when a tick is over. */
export function lastUpTo(entries: readonly Entry[], tick: number): number {
  let low = 0;
  let high = entries.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (entries[middle]!.tick <= tick) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** Where the clock of a machine stands at the start. */
function startOf(thing: Thing | undefined): number {
  const fixture = thing as Fixture | undefined;
  return fixture !== undefined && isMachine(fixture) ? motionOf(fixture).starts(fixture) : 0;
}
