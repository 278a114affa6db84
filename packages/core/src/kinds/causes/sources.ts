import { fixtureNames, kindOfFixture } from '../fixtures';
import { anyFixture, anyVisitor, bodiedFixture } from '../words';
import type { ThingWord } from '../words';
import { causeEvents } from '../../vocabulary/events';
import type { CauseEvent } from '../../vocabulary/events';

const senses: readonly ThingWord[] = ['zone', ...bodiedFixture];
export const everything: readonly ThingWord[] = [
  'zone',
  ...anyFixture,
  'flag',
  'counter',
  'text',
  'room',
  ...anyVisitor,
  'chain',
];

/** What raises an event, beside the fixtures that raise it of their own. */
const general: Partial<Record<CauseEvent, readonly ThingWord[]>> = {
  enter: senses,
  leave: senses,
  dwell: senses,
  bump: bodiedFixture,
  use: [...bodiedFixture, 'prop'],
  arrived: anyVisitor,
  signal: ['signal'],
  changed: everything,
  'became-true': ['watch'],
  'became-false': ['watch'],
  'chain-finished': ['chain'],
  teleported: anyVisitor,
  warped: anyVisitor,
  claimed: ['zone', ...anyFixture],
  spawned: anyVisitor,
  removed: anyVisitor,
};

const sourcesOf = new Map(
  causeEvents.map((event): [CauseEvent, readonly ThingWord[]] => [
    event,
    [...fixtureNames.filter((name) => kindOfFixture(name).raises.includes(event)), ...(general[event] ?? [])],
  ]),
);

/** What an event can come from. */
export function sourcesFor(event: CauseEvent): readonly ThingWord[] {
  return sourcesOf.get(event)!;
}

/** The events that a thing can raise, the most usual first. */
export function eventsOf(word: ThingWord): CauseEvent[] {
  const all = causeEvents.filter((event) => sourcesFor(event).includes(word));
  const own = fixtureNames.includes(word as never) ? kindOfFixture(word as (typeof fixtureNames)[number]).raises : [];
  return [...own, ...all.filter((event) => !own.includes(event))];
}
