import type { Edit } from '../document/edits';
import type { Level } from '../document/level';
import { connections } from '../document/references';
import type { Fixture } from '../kinds/fixtures';
import { box, SetPieceBuilder } from './piece';

/** One usual way in which something is set off. */
interface Way<F extends Fixture = Fixture> {
  id: string;
  /** What it comes to, for the fixture named `it`. */
  says: string;
  make(kit: SetPieceBuilder, fixture: F): void;
}

/** A way of one kind of fixture. */
type WayOf<K extends Fixture['kind']> = Way<Extract<Fixture, { kind: K }>>;

const players = { kinds: ['player'] };
const firstAndLast = { ...players, counts: 'first-and-last' };
/** How far before and behind something it is walked up to, and how far a place goes beyond its sides, in metres. */
const APPROACH_DEPTH_M = 1.7;
const SIDE_GAP_M = 0.3;
/** The least height of a zone, in metres, so that no visitor passes above it. */
const MIN_ZONE_HEIGHT_M = 2.4;
/** The height above the floor of things at eye level, in metres. */
const EYE_LEVEL_M = 1.6;
/** The most characters of a name that is part of a longer name. */
const MAX_NAME_PART = 60;

/** A place around something with a body, so that it works from both sides; turned as it is. */
function placeAround(kit: SetPieceBuilder, { name, at, size, heading, attachedTo }: Extract<Fixture, { size: unknown }>): string {
  const thin = size.x < size.y;
  const x = size.x + 2 * (thin ? APPROACH_DEPTH_M : SIDE_GAP_M);
  const y = size.y + 2 * (thin ? SIDE_GAP_M : APPROACH_DEPTH_M);
  return kit.zone(`At ${name}`, 0, 0, box(x, y, Math.max(MIN_ZONE_HEIGHT_M, size.z + 0.2)), { at, heading, attachedTo });
}

/** A place before something that has no body: on the ground, or where it hangs high, on the floor that must be below it. */
function placeBefore(kit: SetPieceBuilder, { name, at, attachedTo }: Fixture): string {
  const high = at.z - kit.at(0, 0).z;
  const floor = kit.at(0, 0, high < MIN_ZONE_HEIGHT_M ? 0 : high - EYE_LEVEL_M);
  return kit.zone(`Before ${name}`, 0, 0, box(2, 2, MIN_ZONE_HEIGHT_M), { at: floor, attachedTo });
}

/** Shows on entering what was hidden at the start. */
function startsHidden(kit: SetPieceBuilder, fixture: Fixture): void {
  if (fixture.shown) kit.change(fixture, { shown: false });
}

const opensToWhoeverStepsUp: WayOf<'door'> = {
  id: 'near',
  says: 'Open when a visitor comes near',
  make: (kit, door) => {
    const near = placeAround(kit, door);
    kit.opensWhileInside(door.id, near, `${door.name} opens`, `${door.name} closes`, players.kinds);
  },
};

const opensToWhoeverUsesIt: WayOf<'door'> = {
  id: 'use',
  says: 'Open when a visitor uses it',
  make: (kit, door) => {
    const after = door.returnAfter === null ? [kit.step('wait', { seconds: 3 }), kit.step('close', { door: door.id })] : [];
    kit.chain(`${door.name} is used`, kit.cause('use', door.id, players), [kit.step('open', { door: door.id }), ...after]);
  },
};

const takesUpWhoeverStepsOn: WayOf<'elevator'> = {
  id: 'ride',
  says: 'Carry visitors that step on',
  make: (kit, { id: elevator, name, at, size, heading, startsAt, stops, ...own }) => {
    // A little less wide than what it serves, moved along with it, and so tall that riding is not leaving.
    const shape = box(Math.max(0.2, size.x - 0.2), Math.max(0.2, size.y - 0.2), size.z + MIN_ZONE_HEIGHT_M);
    const on = kit.zone(`On ${name}`, 0, 0, shape, { at, heading, attachedTo: elevator });
    const stop = startsAt < stops.length ? startsAt + 1 : Math.max(1, startsAt - 1);
    kit.chain(`${name} takes along`, kit.cause('enter', on, players), [kit.step('send', { elevator, stop })]);
    if (own.whenLeft === 'stay' && own.returnAfter === null)
      kit.chain(`${name} comes back`, kit.cause('leave', on, firstAndLast), [kit.step('send', { elevator, stop: startsAt })]);
  },
};

const goesWhenSomebodyComes: WayOf<'mover'> = {
  id: 'near',
  says: 'Run when a visitor comes near',
  make: (kit, mover) => {
    const near = placeAround(kit, mover);
    const play = (way: string) => kit.step('play', { machine: mover.id, way });
    kit.chain(`${mover.name} goes`, kit.cause('enter', near, firstAndLast), [play('forwards')]);
    if (mover.atEnd === 'stay' && mover.returnAfter === null)
      kit.chain(`${mover.name} goes back`, kit.cause('leave', near, firstAndLast), [play('backwards')]);
  },
};

const givesWay: WayOf<'barrier'> = {
  id: 'near',
  says: 'Let visitors through when near',
  make: (kit, barrier) => {
    const near = placeAround(kit, barrier);
    const fixture = barrier.id;
    const together = { fixture, start: 'with' };
    kit.whileInside(
      near,
      players.kinds,
      [`${barrier.name} gives way`, kit.step('make-passable', { fixture }), kit.step('hide', together)],
      [`${barrier.name} is back`, kit.step('make-solid', { fixture }), kit.step('show', together)],
    );
  },
};

const shownWhileNear: WayOf<'sign'> = {
  id: 'near',
  says: 'Show while a visitor is near',
  make: (kit, sign) => {
    startsHidden(kit, sign);
    const near = placeBefore(kit, sign);
    const fixture = sign.id;
    kit.whileInside(
      near,
      players.kinds,
      [`${sign.name} is shown`, kit.step('show', { fixture })],
      [`${sign.name} is hidden`, kit.step('hide', { fixture })],
    );
  },
};

const comesUp: WayOf<'marker'> = {
  id: 'near',
  says: 'Show once its place is reached',
  make: (kit, marker) => {
    startsHidden(kit, marker);
    const near = placeBefore(kit, marker);
    const cause = kit.cause('enter', near, { ...players, limit: 1 });
    kit.chain(`${marker.name} comes up`, cause, [kit.step('show', { fixture: marker.id })]);
  },
};

const playsToWhoeverComes: WayOf<'cue'> = {
  id: 'near',
  says: 'Play when a visitor comes near',
  make: (kit, cue) => {
    const near = placeBefore(kit, cue);
    kit.chain(`${cue.name} plays`, kit.cause('enter', near, players), [kit.step('cue', { cue: cue.id })]);
  },
};

/** The usual ways of what does nothing by itself, the most usual first. */
const ways: { [K in Fixture['kind']]?: readonly WayOf<K>[] } = {
  door: [opensToWhoeverStepsUp, opensToWhoeverUsesIt],
  elevator: [takesUpWhoeverStepsOn],
  mover: [goesWhenSomebodyComes],
  barrier: [givesWay],
  sign: [shownWhileNear],
  marker: [comesUp],
  cue: [playsToWhoeverComes],
};

const waysOf = ({ kind }: Fixture): readonly Way[] => (ways[kind] ?? []) as readonly Way[];

/** The usual ways to set off a fixture that no chain acts on yet, the most usual first; none where one does, or where it acts by itself. */
export function waysToSetOff(level: Level, fixture: Fixture): { id: string; says: string }[] {
  if (('running' in fixture && fixture.running) || connections(level, fixture.id).actedOnBy.length > 0) return [];
  return waysOf(fixture).map(({ id, says }) => ({ id, says }));
}

/** The edit that lets a fixture be set off in one of its ways: its place and its chains, in one step of undo. RangeError for a way that it has not. */
export function setOff(level: Level, fixture: Fixture, way: string, newId: (prefix: string) => string): Edit {
  const found = waysOf(fixture).find(({ id }) => id === way);
  if (found === undefined) throw new RangeError(`${fixture.name} is not triggered in the way "${way}"`);
  const kit = new SetPieceBuilder(level, { id: `set-off-${fixture.kind}`, questions: [] }, fixture, {}, newId);
  found.make(kit, { ...fixture, name: fixture.name.trim().slice(0, MAX_NAME_PART) });
  return { kind: 'all', label: `add a trigger for ${fixture.name}`, edits: kit.edits };
}
