import { kindOfCause } from '../../kinds/causes';
import type { Fixture } from '../../kinds/fixtures';
import { isMachine, kindOfFixture } from '../../kinds/fixtures';
import type { Zone } from '../../document/places';
import type { Step } from '../../kinds/steps';
import type { CauseEvent } from '../../vocabulary/events';
import type { Filter } from '../../vocabulary/filters';
import type { CheckContext, Warning, WarningRule } from './warning';

/** What nobody and nothing of this level can fulfil: filters that nobody passes, and events that nothing brings about. */

/** A filter of a cause or of a passage, and where it stands. */
interface Demand {
  thing: string;
  /** What has to be owned. */
  owned: string;
  filter: Filter;
  own: string;
  path: string;
}

function askingIn(look: CheckContext): Demand[] {
  const causes = look.causes.map(({ chain, cause, own, path }) => ({
    thing: chain.id,
    owned: cause.of,
    filter: cause.filter,
    own: `${own}/filter`,
    path: `${path}/filter`,
  }));
  const passages = look.level.fixtures.flatMap((one): Demand[] =>
    'filter' in one
      ? [{ thing: one.id, owned: one.id, filter: one.filter, own: '/filter', path: `${look.pathOf(one.id)}/filter` }]
      : [],
  );
  return [...causes, ...passages];
}

/** Nobody of this level is such a visitor. Of a tag that nobody has, another check tells. */
export const nobodyIsMeant: WarningRule = function* (look) {
  const { visitors } = look.level;
  if (visitors.length === 0) return;
  const tags = look.once(visitors, 'tags', (all) => new Set(all.flatMap((one) => one.tags)));
  for (const { thing, filter, own, path } of askingIn(look)) {
    const { kinds, anyOf, allOf, noneOf, named } = filter;
    if (anyOf.some((tag) => !tags.has(tag)) || allOf.some((tag) => !tags.has(tag))) continue;
    const parts: [
      field: 'kinds' | 'named' | 'anyOf' | 'allOf' | 'noneOf',
      fits: (one: (typeof visitors)[number]) => boolean,
      says: string,
    ][] = [
      ['kinds', (one) => kinds.length === 0 || kinds.includes(one.kind), `a ${kinds.join(' or a ')}`],
      ['named', (one) => named === '' || one.id === named, look.name(named)],
      ['anyOf', (one) => anyOf.length === 0 || anyOf.some((tag) => one.tags.includes(tag)), `tagged “${anyOf.join('” or “')}”`],
      ['allOf', (one) => allOf.every((tag) => one.tags.includes(tag)), `tagged “${allOf.join('” and “')}”`],
      ['noneOf', (one) => !noneOf.some((tag) => one.tags.includes(tag)), `not tagged “${noneOf.join('” or “')}”`],
    ];
    const passes = look.once(visitors, JSON.stringify([kinds, anyOf, allOf, noneOf, named]), (all) =>
      all.some((one) => parts.every(([, fits]) => fits(one))),
    );
    if (passes) continue;
    const asked = parts.filter(([field]) => filter[field].length > 0);
    // The part without which somebody would pass, if there is one.
    const [tight] = asked.filter(([field]) => visitors.some((one) => parts.every(([at, fits]) => at === field || fits(one))));
    const near = visitors.find((one) => parts.every(([at, fits]) => at === tight?.[0] || fits(one)));
    const [mend, value] =
      tight === undefined || near === undefined
        ? ['Ask for another visitor.', undefined]
        : tight[0] === 'kinds'
          ? [`Let a ${near.kind} count, too, as ${look.name(near.id)} is.`, [...kinds, near.kind]]
          : [`Do not ask that it is ${tight[2]}.`, tight[0] === 'named' ? '' : []];
    yield {
      kind: 'nobody-passes',
      weight: 'warning',
      thing,
      also: near === undefined ? [] : [near.id],
      path: tight === undefined ? path : `${path}/${tight[0]}`,
      reason: `${look.name(thing)} asks for a visitor that is ${asked.map(([, , says]) => says).join(' and ')}, and this level has none.`,
      mend,
      edit: value === undefined ? null : look.set(thing, `${own}/${tight![0]}`, value),
    };
  }
};

/** Only its owner counts, and nothing lets anybody become it. */
export const nobodyOwns: WarningRule = function* (look) {
  for (const { thing, owned, filter, own, path } of askingIn(look)) {
    const what = look.things.get(owned)?.thing;
    if (!filter.ownerOnly || what === undefined) continue;
    if (look.once(what, 'claims', () => look.stepsOn(owned, ['claim']).length > 0)) continue;
    yield {
      kind: 'nobody-owns',
      weight: 'warning',
      thing,
      also: [owned],
      path: `${path}/ownerOnly`,
      reason: `${look.name(thing)} asks for the owner of ${look.name(owned)}, and nothing lets anybody claim it.`,
      mend: 'Let everybody count, or add a step that claims it.',
      edit: look.set(thing, `${own}/ownerOnly`, false),
    };
  }
};

/** A cause or a passage that may never start anything. */
export const neverMayStart: WarningRule = function* (look) {
  for (const { chain, cause, own, path } of look.causes)
    if (cause.limit === 0)
      yield {
        kind: 'never-may-start',
        weight: 'warning',
        thing: chain.id,
        also: [],
        path: `${path}/limit`,
        reason: `${look.name(chain.id)} may be started 0 times by ${look.name(cause.of)}.`,
        mend: 'Remove the limit.',
        edit: look.set(chain.id, `${own}/limit`, null),
      };
};

const moves: readonly Step['kind'][] = ['open', 'close', 'toggle', 'send', 'play', 'reset'];
const changes: readonly Step['kind'][] = ['set-flag', 'set-counter', 'set-text'];

/** Why an event of a thing can never come about, and what mends it: by one press where `sets` says which field. */
interface Never {
  why: string;
  mend: string;
  sets?: [path: string, value: unknown];
}

/** Why something can never raise an event, as far as the document alone tells; null if it may. */
function neverRaises(look: CheckContext, id: string, event: CauseEvent): Never | null {
  const found = look.things.get(id);
  if (found === undefined) return null;
  const fixture = found.collection === 'fixtures' ? (found.thing as Fixture) : null;
  const told = (kinds: readonly Step['kind'][]): boolean => look.stepsOn(id, kinds).length > 0;
  const needs = (kinds: readonly Step['kind'][], why: string, mend: string): Never | null => (told(kinds) ? null : { why, mend });
  switch (event) {
    case 'dwell': {
      const { dwell } = found.thing as Zone;
      return dwell === null ? { why: 'it has no dwell time', mend: 'Set its dwell time to 1 s.', sets: ['/dwell', 1] } : null;
    }
    case 'bump':
      return fixture !== null && 'solid' in fixture && !fixture.solid && !told(['make-solid'])
        ? { why: 'it is passable, and nothing makes it solid', mend: 'Make it solid, or wait for enter.', sets: ['/solid', true] }
        : null;
    case 'opened':
    case 'closed':
    case 'moving':
    case 'arrived':
      return fixture === null || !isMachine(fixture) ? null : neverComes(look, fixture, event);
    case 'on':
    case 'off': {
      if (fixture?.kind !== 'switch' || fixture.works !== 'once' || told(['reset'])) return null;
      return fixture.on === (event === 'on')
        ? { why: `it starts ${event}, and works only once`, mend: 'Let it work as a toggle.', sets: ['/works', 'toggle'] }
        : null;
    }
    case 'changed':
      if (found.word === 'flag' || found.word === 'text') return needs(changes, 'no step sets it', 'Add a step that sets it.');
      return found.word === 'counter' && !isCountedOn(look, id)
        ? needs(changes, 'nothing counts on it', 'Add a step that sets it, or a collectible that adds to it.')
        : null;
    case 'signal':
      return needs(['signal'], 'no step sends it', 'Add a step that sends it.');
    case 'claimed':
      return needs(['claim'], 'no step claims it', 'Add a step that claims it.');
    case 'collected':
      return fixture?.kind === 'collectible' && fixture.takenBy.length === 0
        ? needs(['collect'], 'nobody collects it', 'Let players collect it.')
        : null;
    case 'spawned':
      return needs(['spawn'], 'no step spawns it', 'Add a step that spawns it.');
    case 'cue-started':
    case 'cue-finished':
      return isPlayed(look, id) ? null : needs(['cue'], 'nothing plays it', 'Add a step that plays it.');
    default:
      return null;
  }
}

/** Whether what is collected adds to a counter. */
function isCountedOn(look: CheckContext, id: string): boolean {
  const counters = look.once(
    look.level.fixtures,
    'counters of collectibles',
    (all) => new Set(all.flatMap((one) => ('counter' in one ? [one.counter] : []))),
  );
  return counters.has(id);
}

/** Whether a passage plays a cue. */
function isPlayed(look: CheckContext, id: string): boolean {
  const played = look.once(
    look.level.fixtures,
    'played by passages',
    (all) => new Set(all.flatMap((one) => ('before' in one ? [one.before.cue, one.after.cue] : []))),
  );
  return played.has(id);
}

/** Why a machine never comes where it would raise an event. */
function neverComes(
  look: CheckContext,
  fixture: Extract<Fixture, { easing: string }>,
  event: 'opened' | 'closed' | 'moving' | 'arrived',
): Never | null {
  const told = look.stepsOn(fixture.id, moves);
  const word = kindOfFixture(fixture.kind).word;
  if (told.length === 0)
    return fixture.kind === 'mover' && fixture.running
      ? null
      : { why: `no step moves the ${word}`, mend: 'Add a step that moves it.' };
  if (fixture.kind !== 'door' || event === 'moving' || event === 'arrived') return null;
  const opposite = event === 'opened' ? 'close' : 'open';
  // It comes back by itself, or was there at the start and never comes there again.
  if (told.some(({ step }) => step.kind !== opposite) || fixture.returnAfter !== null) return null;
  const [only] = told;
  return {
    why: `steps only ${opposite} it, as ${look.name(only!.chain.id)} does`,
    mend: event === 'opened' ? 'Add a step that opens it.' : 'Add a step that closes it, or let it return.',
  };
}

/** A chain waits for an event that nothing brings about. */
export const neverRaised: WarningRule = function* (look) {
  for (const { chain, cause, path } of look.causes) {
    const thing = look.things.get(cause.of)?.thing;
    const never = thing === undefined ? null : look.once(thing, `never ${cause.on}`, () => neverRaises(look, cause.of, cause.on));
    if (never === null) continue;
    const { why, mend, sets } = never;
    const warning: Warning = {
      kind: 'never-raised',
      weight: 'warning',
      thing: chain.id,
      also: [cause.of],
      path,
      reason: `${look.name(chain.id)} waits until ${said(look, cause.of, cause.on)}, but ${why}.`,
      mend,
      edit: sets === undefined ? null : look.set(cause.of, ...sets),
    };
    yield warning;
  }
};

/** An event in words: "“Gate” has opened", "somebody has stayed in “Nook”". */
function said(look: CheckContext, of: string, event: CauseEvent): string {
  const { verb, saidOf } = kindOfCause(event);
  return saidOf === 'visitor' ? `somebody ${verb} ${look.name(of)}` : `${look.name(of)} ${verb}`;
}
