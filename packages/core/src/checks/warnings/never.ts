import { isBodied, kindOfFixture, shapeOfFixture } from '../../kinds/fixtures';
import type { Fixture } from '../../kinds/fixtures';
import { kindOfCause } from '../../kinds/causes';
import type { Zone } from '../../document/places';
import type { Warning, WarningRule } from './warning';

/** What can never happen as the level stands: where nobody can enter, what nothing enables, who is never there. */

const entering: ReadonlySet<string> = new Set(['enter', 'leave', 'dwell']);

/** Solid where it is to be entered: a chain waits for it, or the fixture itself takes or is collected by who enters. */
export const solidWhereEntered: WarningRule = function* (look) {
  for (const fixture of look.level.fixtures) {
    if (
      !isBodied(fixture) ||
      !('solid' in fixture) ||
      !fixture.solid ||
      fixture.letsThrough.owner ||
      fixture.letsThrough.tags.length > 0
    )
      continue;
    if (look.stepsOn(fixture.id, ['make-passable']).length > 0) continue;
    const [heard] = look.causesOf(fixture.id).filter(({ cause }) => entering.has(cause.on));
    if (heard === undefined && !takesWhoEnters(fixture)) continue;
    const name = look.name(fixture.id);
    const wants =
      heard === undefined
        ? 'it works by being entered'
        : `${look.name(heard.chain.id)} waits until somebody ${kindOfCause(heard.cause.on).verb} it`;
    yield {
      kind: 'solid-where-entered',
      weight: 'warning',
      thing: fixture.id,
      also: heard === undefined ? [] : [heard.chain.id],
      path: `${look.pathOf(fixture.id)}/solid`,
      reason: `${name} is solid, so nobody can enter it, but ${wants}.`,
      mend: 'Make it passable.',
      edit: look.set(fixture.id, '/solid', false),
    };
  }
};

/** Whether a fixture does something by itself with who enters it. */
function takesWhoEnters(fixture: Fixture): boolean {
  if (kindOfFixture(fixture.kind).entered === undefined) return false;
  if ('takes' in fixture && fixture.takes !== 'who-enters') return false;
  return !('takenBy' in fixture) || fixture.takenBy.length > 0;
}

/** Disabled from the start, and no step enables it, though something waits for it. */
export const neverEnabled: WarningRule = function* (look) {
  const warn = (id: string, waits: string, also: string[]): Warning => ({
    kind: 'never-enabled',
    weight: 'warning',
    thing: id,
    also,
    path: `${look.pathOf(id)}/enabled`,
    reason: `${look.name(id)} is disabled at the start, and no step enables it. ${waits}`,
    mend: 'Enable it.',
    edit: look.set(id, '/enabled', true),
  });
  const enabled = (id: string): boolean => look.stepsOn(id, ['enable']).length > 0;
  for (const thing of [...look.level.zones, ...look.level.fixtures] as (Zone | Fixture)[]) {
    if (thing.enabled || enabled(thing.id)) continue;
    const [heard] = look.causesOf(thing.id);
    if (heard !== undefined) yield warn(thing.id, `${look.name(heard.chain.id)} waits for it.`, [heard.chain.id]);
    else if ('kind' in thing && takesWhoEnters(thing)) yield warn(thing.id, 'It works by being entered.', []);
  }
  for (const chain of look.level.chains)
    if (!chain.enabled && !enabled(chain.id) && chain.steps.length > 0) yield warn(chain.id, 'It never starts.', []);
};

/** Out of play from the start, and no step spawns it, though it walks or is waited for. */
export const neverInPlay: WarningRule = function* (look) {
  const walking = new Map(look.level.walks.flatMap(({ id, routes }) => routes.map(({ visitor }) => [visitor, id] as const)));
  const named = new Map(look.causes.map(({ cause, chain }) => [cause.filter.named, chain.id] as const));
  for (const { id, inPlay } of look.level.visitors) {
    if (inPlay || look.stepsOn(id, ['spawn']).length > 0) continue;
    const waits = walking.get(id) ?? named.get(id);
    if (waits === undefined) continue;
    yield {
      kind: 'never-in-play',
      weight: 'warning',
      thing: id,
      also: [waits],
      path: `${look.pathOf(id)}/inPlay`,
      reason: `${look.name(id)} is not in play at the start, and no step spawns it, but ${look.name(waits)} needs it.`,
      mend: 'Put it in play.',
      edit: look.set(id, '/inPlay', true),
    };
  }
};

/** A passage that leads to itself. */
export const ownTwin: WarningRule = function* (look) {
  for (const fixture of look.level.fixtures)
    if ('twin' in fixture && fixture.twin === fixture.id)
      yield {
        kind: 'own-twin',
        weight: 'warning',
        thing: fixture.id,
        also: [],
        path: `${look.pathOf(fixture.id)}/twin`,
        reason: `${look.name(fixture.id)} leads to itself.`,
        mend: 'Choose another twin.',
        edit: null,
      };
};

/** A step sends an elevator to a stop that it does not have: it goes to its last. */
export const noSuchStop: WarningRule = function* (look) {
  for (const { step, chain, own, path } of look.steps) {
    if (step.kind !== 'send') continue;
    for (const id of look.targets(step)) {
      const fixture = look.things.get(id)?.thing as Fixture | undefined;
      if (fixture?.kind !== 'elevator' || step.stop <= fixture.stops.length) continue;
      yield {
        kind: 'no-such-stop',
        weight: 'warning',
        thing: chain.id,
        also: [id],
        path: `${path}/stop`,
        reason: `${look.name(chain.id)} sends ${look.name(id)} to stop ${step.stop}, but it has ${fixture.stops.length} stops.`,
        mend: `Send it to stop ${fixture.stops.length}.`,
        edit: look.set(chain.id, `${own}/stop`, fixture.stops.length),
      };
    }
  }
};

/** A door or an elevator that is told to move, and whose motion leads nowhere. */
export const movesNowhere: WarningRule = function* (look) {
  for (const fixture of look.level.fixtures) {
    if (fixture.kind !== 'door' && fixture.kind !== 'elevator') continue;
    const [told] = look.stepsOn(fixture.id, ['open', 'close', 'toggle', 'send', 'play']);
    if (told === undefined || !isStill(fixture)) continue;
    yield {
      kind: 'moves-nowhere',
      weight: 'warning',
      thing: fixture.id,
      also: [told.chain.id],
      path: look.pathOf(fixture.id),
      reason:
        fixture.kind === 'door'
          ? `${look.name(fixture.id)} stays where it is when it opens: it slides by 0 m.`
          : `All stops of ${look.name(fixture.id)} are at one place.`,
      mend: fixture.kind === 'door' ? 'Set how far it slides.' : 'Move a stop.',
      edit: null,
    };
  }
};

function isStill(fixture: Extract<Fixture, { kind: 'door' | 'elevator' }>): boolean {
  if (fixture.kind === 'elevator')
    return fixture.stops.every(
      ({ x, y, z }) => x === fixture.stops[0]!.x && y === fixture.stops[0]!.y && z === fixture.stops[0]!.z,
    );
  const { manner, travel } = fixture;
  return manner === 'slide' && travel.x === 0 && travel.y === 0 && travel.z === 0;
}

/** Hidden from the start and never shown, and in everybody's way. */
export const hiddenButSolid: WarningRule = function* (look) {
  for (const fixture of look.level.fixtures) {
    if (fixture.shown || !isBodied(fixture) || !('solid' in fixture) || !fixture.solid || shapeOfFixture(fixture).height === 0)
      continue;
    if (look.stepsOn(fixture.id, ['show', 'make-passable']).length > 0) continue;
    yield {
      kind: 'hidden-but-solid',
      weight: 'remark',
      thing: fixture.id,
      also: [],
      path: `${look.pathOf(fixture.id)}/shown`,
      reason: `${look.name(fixture.id)} is hidden, and solid all the same.`,
      mend: 'Show it, or make it passable.',
      edit: look.set(fixture.id, '/shown', true),
    };
  }
};
