import { fixtureNames, kindOfFixture } from './fixtures';
import type { FixtureName } from './fixtures';
import type { Ability } from './fixtures/fixture-kind';
import type { VisitorKind } from '../vocabulary/visitor-kinds';

/** What a reference may have to point at. */
export type ThingWord =
  'room' | 'solid' | 'zone' | FixtureName | 'flag' | 'counter' | 'text' | 'signal' | VisitorKind | 'chain' | 'watch' | 'walk';

export const anyFixture: readonly FixtureName[] = fixtureNames;
/** Fixtures with a body, which visitors enter, leave or bump into. */
export const bodiedFixture = fixtureNames.filter((name) => kindOfFixture(name).hasBody);
/** Fixtures that move by themselves. */
export const machines = fixtureNames.filter((name) => kindOfFixture(name).machine !== undefined);
export const anyVisitor = ['player', 'creature', 'prop'] as const satisfies readonly VisitorKind[];
/** What has an inside. */
export const senses: readonly ThingWord[] = ['zone', ...bodiedFixture];
/** What has a value or a state of its own. */
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
/** What a place can be relative to. */
export const anyThing: readonly ThingWord[] = ['solid', 'zone', ...anyFixture, ...anyVisitor];

/** The fixtures that a step of a kind can be told to act on. */
export function fixturesThatCan(what: Ability): readonly FixtureName[] {
  return fixtureNames.filter((name) => kindOfFixture(name).can.includes(what));
}
