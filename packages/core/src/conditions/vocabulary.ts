import { fixtureNames, kindOfFixture } from '../kinds/fixtures';
import { anyFixture, anyVisitor, bodiedFixture } from '../kinds/words';
import type { ThingWord } from '../kinds/words';

/** The part of the state that a function reads: what changes there may change what the function says. */
export type StatePart = 'facts' | 'fixtures' | 'inside' | 'visitors' | 'chains';

/** What an argument of a function is: the id of a thing of one of these kinds, or a tag; written out in quotes. */
export type ParameterWord = ThingWord | 'tag';

/** What a condition can ask about. */
export interface ConditionFunction {
  of: readonly (readonly ParameterWord[])[];
  /** `ids` is a list of the ids of things. */
  gives: 'bool' | 'int' | 'double' | 'string' | 'ids';
  /** Null for what never changes. */
  reads: StatePart | null;
  says: string;
  /** The kinds of things whose ids it gives; what its answers are compared with names one of them. Where it gives ids without, they are of any kind. */
  givesIdOf?: readonly ThingWord[];
}

/** The fixtures of which something can be asked that not every fixture answers. */
function those(asked: string): readonly ThingWord[] {
  return fixtureNames.filter((name) => kindOfFixture(name).asked.includes(asked));
}

const things: readonly ThingWord[] = ['zone', ...anyFixture, 'chain'];
const sensing: readonly ThingWord[] = ['zone', ...bodiedFixture];

/** Every function of the expression language, beside those of the language itself. */
export const vocabulary = {
  flag: {
    of: [['flag']],
    gives: 'bool',
    reads: 'facts',
    says: 'whether a flag is on (of the triggering visitor, if it is kept for each)',
  },
  counter: { of: [['counter']], gives: 'int', reads: 'facts', says: 'the value of a counter' },
  text: { of: [['text', ...those('text')]], gives: 'string', reads: 'facts', says: 'what a text, a sign or a map marker says' },
  flagOf: { of: [['flag'], anyVisitor], gives: 'bool', reads: 'facts', says: 'the flag of one visitor' },
  counterOf: { of: [['counter'], anyVisitor], gives: 'int', reads: 'facts', says: 'the counter of one visitor' },
  textOf: { of: [['text'], anyVisitor], gives: 'string', reads: 'facts', says: 'the text of one visitor' },
  on: { of: [those('on')], gives: 'bool', reads: 'fixtures', says: 'whether a switch is on' },
  pressed: { of: [those('pressed')], gives: 'bool', reads: 'fixtures', says: 'whether a plate is pressed' },
  load: { of: [those('load')], gives: 'double', reads: 'inside', says: 'the load of a plate, in kilograms or heads' },
  open: { of: [those('open')], gives: 'bool', reads: 'fixtures', says: 'whether a door is fully open' },
  closed: { of: [those('closed')], gives: 'bool', reads: 'fixtures', says: 'whether a door is fully closed' },
  stop: { of: [those('stop')], gives: 'int', reads: 'fixtures', says: 'the stop an elevator rests at, from 1; 0 on its way' },
  moving: { of: [those('moving')], gives: 'bool', reads: 'fixtures', says: 'whether it is in motion, or about to start' },
  shown: { of: [anyFixture], gives: 'bool', reads: 'fixtures', says: 'whether a fixture is shown' },
  seeThrough: { of: [anyFixture], gives: 'bool', reads: 'fixtures', says: 'whether a fixture is translucent' },
  solid: { of: [bodiedFixture], gives: 'bool', reads: 'fixtures', says: 'whether a fixture is solid' },
  enabled: { of: [things], gives: 'bool', reads: 'fixtures', says: 'whether a zone, a fixture or a chain is enabled' },
  collected: { of: [those('collected')], gives: 'bool', reads: 'fixtures', says: 'whether it has been collected' },
  owner: {
    of: [['zone', ...anyFixture]],
    gives: 'string',
    reads: 'fixtures',
    givesIdOf: anyVisitor,
    says: 'the id of its owner; empty for none',
  },
  inside: { of: [anyVisitor, sensing], gives: 'bool', reads: 'inside', says: 'whether a visitor is inside' },
  count: { of: [sensing], gives: 'int', reads: 'inside', says: 'how many visitors are inside' },
  inPlay: { of: [anyVisitor], gives: 'bool', reads: 'visitors', says: 'whether a visitor is in play' },
  room: { of: [anyVisitor], gives: 'string', reads: 'visitors', givesIdOf: ['room'], says: 'the id of the room a visitor is in' },
  heading: { of: [anyVisitor], gives: 'double', reads: 'visitors', says: 'the heading of a visitor, in degrees from 0 to 360' },
  carrier: {
    of: [['prop']],
    gives: 'string',
    reads: 'visitors',
    givesIdOf: anyVisitor,
    says: 'id of the carrier; empty if not carried',
  },
  held: { of: [anyVisitor], gives: 'bool', reads: 'visitors', says: "whether a visitor's control is held" },
  running: { of: [['chain']], gives: 'bool', reads: 'chains', says: 'whether a chain runs' },
  hand: {
    of: [],
    gives: 'string',
    reads: 'visitors',
    givesIdOf: anyVisitor,
    says: 'the id of the triggering visitor; empty for none',
  },
  tagged: { of: [['tag']], gives: 'ids', reads: null, says: 'the zones, fixtures and visitors that have a tag' },
  visitors: { of: [sensing], gives: 'ids', reads: 'inside', givesIdOf: anyVisitor, says: 'the visitors inside' },
  players: { of: [], gives: 'ids', reads: 'visitors', givesIdOf: ['player'], says: 'the players in play' },
  creatures: { of: [], gives: 'ids', reads: 'visitors', givesIdOf: ['creature'], says: 'the creatures in play' },
  props: { of: [], gives: 'ids', reads: 'visitors', givesIdOf: ['prop'], says: 'the props in play' },
  hasTag: {
    of: [['zone', ...anyFixture, ...anyVisitor], ['tag']],
    gives: 'bool',
    reads: null,
    says: 'whether a zone, a fixture or a visitor has a tag',
  },
  kind: { of: [anyVisitor], gives: 'string', reads: null, says: 'the kind of a visitor: "player", "creature" or "prop"' },
} as const satisfies Record<string, ConditionFunction>;

export type FunctionName = keyof typeof vocabulary;
export const conditionFunctions = vocabulary as Record<FunctionName, ConditionFunction>;

export function isFunctionName(name: string): name is FunctionName {
  return Object.hasOwn(vocabulary, name);
}

/** Answers a question about the state: whole numbers and loads as numbers, lists of things as their ids in listing order. */
export type ReadState = (asked: FunctionName, ids: readonly string[]) => boolean | number | string | readonly string[];
