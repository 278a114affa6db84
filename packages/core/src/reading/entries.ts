import { readByNames } from '../conditions/by-names';
import { fixtureNames, kindOfFixture } from '../kinds/fixtures';
import { kindOfStep, stepNames } from '../kinds/steps';
import type { Step, StepName } from '../kinds/steps';
import { lookup } from '../document/lookup';
import type { Fixture } from '../kinds/fixtures';
import type { Level } from '../document/level';
import { spoken } from '../vocabulary/phrase';
import type { DetailsOf, Entry, EntryOf, Use } from '../ledger/entry';
import type { EntryKind } from '../vocabulary/entries';

/** What a sentence is made of: an entry's details, and the names of whom and what it is about. */
interface Named<K extends EntryKind> {
  who: string;
  what: string;
  chain: string;
  details: DetailsOf[K];
  nobody: boolean;
  nameOf(id: string): string;
  /** The step that an entry is of, and the height of a stop, as far as the level is known. */
  step: Step | undefined;
  heightAt(position: string | undefined): string;
}

/**
 * What an entry says, in one short line. `nameOf` gives the readable name for an id. Of the level it says more: what a step sets and for how
 * long it waits, and how high a stop is.
 */
export function entrySentence(entry: Entry, nameOf: (id: string) => string, level?: Level): string {
  const what = entry.what === null ? '' : nameOf(entry.what);
  const own = byFixtures.get(entry.kind);
  const heightAt = (position: string | undefined): string => stopHeight(level, entry.what, position);
  if (own !== undefined)
    return (
      own(what, entry.who === null ? null : nameOf(entry.who), entry.details) +
      ('to' in entry.details ? heightAt(String(entry.details.to)) : '')
    );
  return sentenceOf(entry, {
    who: entry.who === null ? 'nobody' : nameOf(entry.who),
    what,
    chain: entry.chain === null ? '' : nameOf(entry.chain),
    nobody: entry.who === null,
    nameOf,
    step: level === undefined || entry.step === null ? undefined : stepsOf(level).get(entry.step),
    heightAt,
  });
}

function sentenceOf<K extends EntryKind>(entry: EntryOf<K>, names: Omit<Named<K>, 'details'>): string {
  const say = says[entry.kind] as (named: Named<K>) => string;
  return say({ ...names, details: entry.details });
}

/** The sentences of what only some kinds of fixtures raise stand with those kinds. */
const byFixtures = new Map(
  fixtureNames.flatMap((name) => Object.entries(kindOfFixture(name).says ?? {})) as [
    EntryKind,
    (what: string, who: string | null, details: Entry['details']) => string,
  ][],
);

type RaisedByFixtures =
  'on' | 'off' | 'press' | 'release' | 'moving' | 'opened' | 'closed' | 'collected' | 'cue-started' | 'cue-finished';

const says: { [K in Exclude<EntryKind, RaisedByFixtures>]: (named: Named<K>) => string } & Partial<Record<EntryKind, unknown>> = {
  start: ({ what }) => `The walk “${what}” begins`,
  enter: ({ who, what }) => `${who} enters ${what}`,
  leave: ({ who, what }) => `${who} leaves ${what}`,
  missed: ({ who, what }) => `${who} crossed ${what} between ticks; nothing fired`,
  use: ({ who, what, details }) => `${who} ${uses[details.use].does} ${what}`,
  dwell: ({ who, what }) => `${who} dwells in ${what}`,
  bump: ({ who, what }) => `${who} bumps into ${what}`,
  signal: ({ what, details }) => `${what} is sent to ${addressed(details)}`,
  'became-true': ({ what }) => `${what} has become true`,
  'became-false': ({ what }) => `${what} has become false`,
  'gave-up': ({ chain, details }) => `“${chain}” is cancelled: ${gaveUp[details.reason]}`,
  teleported: ({ what, details }) => `${what} is teleported to ${placed(details)}`,
  warped: ({ what, details, nameOf }) => `${what} is warped into ${nameOf(details.room)}, to ${placed(details)}`,
  'left-behind': ({ what }) => `${what} is left behind: it does not travel between rooms`,
  claimed: ({ who, what }) => `${who} claims ${what}`,
  spawned: ({ what }) => `${what} is spawned`,
  removed: ({ what }) => `${what} is removed from play`,
  'arrived-inside': ({ who, what }) => `${who} arrives inside ${what} (quiet, no enter)`,
  arrived: ({ what, details, heightAt }) =>
    `${what} has arrived${details.at === undefined ? '' : ` at ${details.at}`}${heightAt(details.at)}`,
  blocked: ({ who, what, details, nameOf }) => {
    if (details.by !== undefined) return `${what} is blocked by ${nameOf(details.by)}`;
    return details.problem === undefined ? `${who} is stopped by ${what}` : `${who} cannot go there: ${details.problem}`;
  },
  changed: ({ what, details }) => changed(details, what),
  'chain-started': ({ chain }) => `“${chain}” starts`,
  step: ({ what, details, step, nameOf }) =>
    (step === undefined ? `${stepWords(details.do)} ${what}`.trim() : stepSentence(step, what, nameOf)) +
    (details.problem === undefined ? '' : `: ${details.problem}`),
  'chain-finished': ({ chain }) => `“${chain}” is finished`,
  held: ({ who, what, chain, details, nameOf }) => {
    const held = chain === '' ? `${eventWords(details)} ${what}`.trim() : `“${chain}”`;
    return `${held} held for ${who}: ${heldWords(details, what, nameOf)}`;
  },
  runaway: ({ details, nameOf }) => `Endless loop in one tick: ${(details.cycle ?? []).map(roundWords(nameOf)).join(' → ')}`,
  end: ({ details, nameOf }) => `The rehearsal ends: ${endWords(details, nameOf)}`,
};

const stepsByLevel = new WeakMap<Level, ReadonlyMap<string, Step>>();

function stepsOf(level: Level): ReadonlyMap<string, Step> {
  let found = stepsByLevel.get(level);
  if (found === undefined) {
    found = new Map(level.chains.flatMap(({ steps }) => steps.map((step) => [step.id, step])));
    stepsByLevel.set(level, found);
  }
  return found;
}

/** What a step does to what it acts on: with its values, where those are few. What it does to visitors is said by what follows. */
function stepSentence(step: Step, what: string, nameOf: (id: string) => string): string {
  const kind = kindOfStep(step.kind);
  if ('who' in step || (kind.places ?? []).length > 0) return `${stepWords(step.kind)} ${what}`.trim();
  const { target } = kind;
  // What it acts on may be one of those with a tag.
  const one = target === undefined ? step : { ...step, [target]: what, ...('tagged' in step ? { tagged: '' } : {}) };
  return spoken(kind.phrase(one as Step), (id) => (id === what ? what : nameOf(id)));
}

/** How high a stop of an elevator is, "(2.4 m up)"; nothing of what has no such stop. */
function stopHeight(level: Level | undefined, id: string | null, position: string | undefined): string {
  const [, number] = /^stop (\d+)$/.exec(position ?? '') ?? [];
  const thing =
    level === undefined || id === null || number === undefined
      ? undefined
      : (lookup(level).get(id)?.thing as Fixture | undefined);
  if (thing === undefined || !('stops' in thing)) return '';
  const stop = thing.stops[Number(number) - 1];
  return stop === undefined ? '' : ` (${metres(thing.at.z + stop.z)} m up)`;
}

/** Where somebody was put, "4 m east, 2.5 m north, facing 90°". */
function placed({ x, y, z, heading }: DetailsOf['teleported']): string {
  const up = z === 0 ? '' : `, ${metres(z)} m up`;
  const [east, north] = [x < 0 ? 'west' : 'east', y < 0 ? 'south' : 'north'];
  return `${metres(Math.abs(x))} m ${east}, ${metres(Math.abs(y))} m ${north}${up}, facing ${Math.round(heading)}°`;
}

function metres(value: number): string {
  return String(Math.round(value * 100) / 100 + 0);
}

const uses: Record<Use, { does: string; doing: string }> = {
  use: { does: 'uses', doing: 'using' },
  carry: { does: 'picks up', doing: 'picking up' },
  drop: { does: 'puts down', doing: 'putting down' },
  throw: { does: 'throws', doing: 'throwing' },
};

const gaveUp: Record<DetailsOf['gave-up']['reason'], string> = {
  left: 'the visitor left first',
  restarted: 'it was restarted',
  stopped: 'it was stopped',
  reset: 'it was reset',
  'time limit': 'the wait timed out',
};

function addressed(to: DetailsOf['signal']): string {
  if (to.to === 'tag') return `things tagged ${to.tag}`;
  return to.to === 'radius' ? `things within ${to.metres} m` : 'all';
}

/** A part of a cycle, which the ledger has as `kind id of chain`, with names. */
function roundWords(nameOf: (id: string) => string) {
  return (part: string): string => {
    const [kind = '', ...ids] = part.split(' ');
    return [kind, ...ids.map((id) => (id === 'of' ? id : nameOf(id)))].join(' ');
  };
}

/** Why something was held back, in words. */
function heldWords(why: DetailsOf['held'], what: string, nameOf: (id: string) => string): string {
  switch (why.reason) {
    case 'disabled':
      return `${what === '' ? 'it' : what} is disabled`;
    case 'silent-visitor':
      return 'this visitor raises no overlaps';
    case 'filtered':
      return filteredWords(why, nameOf);
    case 'chain-off':
      return 'the chain is switched off';
    case 'used-up':
      return `limit reached: ${why.used} of ${why.limit} starts used`;
    case 'cooling':
      return `cooldown, ${why.seconds} s left`;
    case 'condition-false':
      return why.read.map((line) => readByNames(line, nameOf)).join('; ');
    case 'running':
      return why.queued === true ? 'already running; another start is queued' : 'the chain is running already';
    case 'out-of-reach':
      if (why.carriedBy !== undefined) return `it is carried by ${nameOf(why.carriedBy)}`;
      return why.problem ?? `it is ${why.metres} m away, and the reach is ${why.reach} m`;
    case 'not-carried':
      return 'not carried by this visitor';
    case 'impossible':
      return why.problem;
  }
}

/** What a filter asks for, and what it found instead. */
function filteredWords(
  { part, asked, found }: Extract<DetailsOf['held'], { reason: 'filtered' }>,
  nameOf: (id: string) => string,
): string {
  switch (part) {
    case 'visitor':
      return asked === 'a visitor'
        ? 'the filter requires a visitor, and nobody set this off'
        : `the filter requires visitor ${nameOf(asked)}, found ${nameOf(found)}`;
    case 'owner':
      return asked === 'an owner'
        ? `the filter requires the owner, and nobody owns it, found ${nameOf(found)}`
        : `the filter requires the owner, ${nameOf(asked)}, found ${nameOf(found)}`;
    case 'first one in':
      return 'only the first one in counts, and others are inside';
    case 'last one out':
      return 'only the last one out counts, and others are still inside';
    case 'hearing':
      return 'the signal was not sent to everyone, and the chain does not say as which thing it hears it';
    case 'hearing tag':
      return `the signal was sent to things tagged ${asked}; what hears it is tagged ${found || 'nothing'}`;
    case 'hearing radius':
      return `the signal reaches ${asked}; what hears it is ${found === 'another room' ? 'in another room' : `${found} away`}`;
    default:
      return `the filter requires ${part} ${asked}, found ${found || 'none'}`;
  }
}

function changed({ field, to }: DetailsOf['changed'], what: string): string {
  switch (field) {
    case 'text':
      return `${what} now says “${String(to)}”`;
    case 'shown':
      return `${what} is now ${to === true ? 'shown' : 'hidden'}`;
    case 'seeThrough':
      return `${what} is now ${to === true ? 'translucent' : 'opaque'}`;
    case 'solid':
      return `${what} is now ${to === true ? 'solid' : 'passable'}`;
    case 'enabled':
      return `${what} is now ${to === true ? 'enabled' : 'disabled'}`;
    case 'value':
      return `${what} is now ${String(to)}`;
    case 'held':
      return `${what} is ${to === true ? 'held' : 'released'}`;
    case 'owner':
      return `${what} no longer has an owner`;
    case 'reset':
      return `${what} is reset`;
    case 'started over':
      return `${what} starts over`;
    case 'on':
      return `${what} is now ${to === true ? 'on' : 'off'}`;
  }
}

function stepWords(kind: string): string {
  const known = stepNames.includes(kind as StepName) ? kindOfStep(kind as StepName).done : undefined;
  return known ?? kind.replace('-', ' ');
}

function eventWords(held: DetailsOf['held']): string {
  if (held.event === 'use') return uses['use' in held && held.use !== undefined ? held.use : 'use'].doing;
  return { enter: 'entering', leave: 'leaving', press: 'pressing', release: 'releasing' }[held.event] ?? held.event;
}

function endWords(end: DetailsOf['end'], nameOf: (id: string) => string): string {
  switch (end.reason) {
    case 'settled':
      return 'nothing more can happen';
    case 'stuck':
      return `${end.who.map(nameOf).join(', ')} is stuck`;
    case 'runaway':
      return 'endless loop in one tick';
    case 'time is up':
      return 'the time of the walk is up';
    case 'too many entries':
      return 'there are more entries than were asked for';
  }
}
