import { fixtureNames, kindOfFixture } from '../fixtures';
import type { FixtureName } from '../fixtures';
import { causeEvents } from '../../vocabulary/events';
import type { CauseEvent } from '../../vocabulary/events';
import type { ThingWord } from '../words';
import type { CauseKind } from './cause-kind';
import { arrived } from './arrived';
import { becameFalse } from './became-false';
import { becameTrue } from './became-true';
import { bump } from './bump';
import { chainFinished } from './chain-finished';
import { changed } from './changed';
import { claimed } from './claimed';
import { closed } from './closed';
import { collected } from './collected';
import { cueFinished } from './cue-finished';
import { cueStarted } from './cue-started';
import { dwell } from './dwell';
import { enter } from './enter';
import { leave } from './leave';
import { moving } from './moving';
import { off } from './off';
import { on } from './on';
import { opened } from './opened';
import { press } from './press';
import { release } from './release';
import { removed } from './removed';
import { signal } from './signal';
import { spawned } from './spawned';
import { teleported } from './teleported';
import { use } from './use';
import { warped } from './warped';

/** All kinds of cause. A new one has a file of its own, a line here, and its word in the vocabulary. */
const table: Record<CauseEvent, CauseKind> = {
  enter,
  leave,
  dwell,
  bump,
  use,
  on,
  off,
  press,
  release,
  moving,
  opened,
  closed,
  arrived,
  signal,
  changed,
  'became-true': becameTrue,
  'became-false': becameFalse,
  'chain-finished': chainFinished,
  teleported,
  warped,
  claimed,
  collected,
  spawned,
  removed,
  'cue-started': cueStarted,
  'cue-finished': cueFinished,
};

export function kindOfCause(event: CauseEvent): CauseKind {
  return table[event];
}

/** The kind of cause that a kind of entry is heard as, or undefined where nothing listens to it. */
export function heardAs(entry: string): CauseKind | undefined {
  return (table as Partial<Record<string, CauseKind>>)[entry];
}

const isFixture = (word: ThingWord): word is FixtureName => (fixtureNames as readonly ThingWord[]).includes(word);

const sourcesOf = new Map(
  causeEvents.map((event): [CauseEvent, readonly ThingWord[]] => [
    event,
    [...fixtureNames.filter((name) => kindOfFixture(name).raises.includes(event)), ...(table[event].sources ?? [])],
  ]),
);

/** What an event can come from. */
export function sourcesFor(event: CauseEvent): readonly ThingWord[] {
  return sourcesOf.get(event)!;
}

/** The events that a thing can raise, the most usual first. */
export function eventsOf(word: ThingWord): CauseEvent[] {
  const all = causeEvents.filter((event) => sourcesFor(event).includes(word));
  const { raises = [], usual = [] } = isFixture(word) ? kindOfFixture(word) : {};
  const first = [...raises, ...usual];
  return [...first, ...all.filter((event) => !first.includes(event))];
}
