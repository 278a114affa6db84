import { boundsOf, count } from '../vocabulary/quantities';
import type { Cause } from '../kinds/causes/cause';
import type { CauseEvent } from '../vocabulary/events';
import type { Chain } from '../document/chains';
import type { Instruction } from '../document/people';
import { sourcesFor } from '../kinds/causes/sources';
import { kindOfStep } from '../kinds/steps';
import type { Step } from '../kinds/steps';
import { placePhrase } from '../kinds/steps/step-kind';
import { bodiedFixture } from '../kinds/words';
import { choiceSlot, degreesSlot, referenceSlot, secondsSlot, spoken, velocityPhrase } from '../vocabulary/phrase';
import type { Phrase, Slot } from '../vocabulary/phrase';
import type { ThingWord } from '../kinds/words';

/** What each event is called in a sentence, after its visitor or its thing. */
export const eventVerb: Record<CauseEvent, string> = {
  enter: 'enters',
  leave: 'leaves',
  dwell: 'has stayed in',
  bump: 'bumps into',
  use: 'uses',
  on: 'is switched on',
  off: 'is switched off',
  press: 'is pressed',
  release: 'is released',
  moving: 'starts to move',
  opened: 'has opened',
  closed: 'has closed',
  arrived: 'has arrived',
  signal: 'is sent',
  changed: 'changes',
  'became-true': 'becomes true',
  'became-false': 'becomes false',
  'chain-finished': 'is finished',
  teleported: 'is teleported',
  warped: 'is warped',
  claimed: 'is claimed',
  collected: 'is collected',
  spawned: 'is spawned',
  removed: 'is removed',
  'cue-started': 'starts to play',
  'cue-finished': 'has played',
};

/** Events that are said of the visitor: it enters a zone. All others are said of the thing: a door has opened. */
const visitorVerbs: readonly CauseEvent[] = ['enter', 'leave', 'dwell', 'bump', 'use'];
/** Events that are said of the thing alone. */
const alone: readonly CauseEvent[] = ['arrived', 'became-true', 'became-false', 'teleported', 'warped', 'spawned', 'removed'];

/**
 * The cause of a chain as a sentence with its values in place. Paths are relative to the cause. Tag filters that ask for
 * nothing are left out unless `whole` is set. `word` is what the event comes from: only events that such a thing raises are
 * offered.
 */
export function causePhrase(cause: Cause, whole = false, word?: ThingWord): Phrase {
  const of = referenceSlot('/of', 'what the event comes from', cause.of, sourcesFor(cause.on));
  const event = choiceSlot(
    '/on',
    'event',
    cause.on,
    (Object.keys(eventVerb) as CauseEvent[])
      .filter((value) => word === undefined || value === cause.on || sourcesFor(value).includes(word))
      .map((value) => ({ value, label: eventVerb[value] })),
  );
  const who: Phrase = [
    { path: '/filter/kinds', label: 'kinds of visitor that count', value: cause.filter.kinds, input: { kind: 'kinds' } },
    ...tagSlot('/filter/anyOf', ' tagged any of ', 'tags of which one is enough', cause.filter.anyOf, whole),
    ...tagSlot('/filter/allOf', ' tagged all of ', 'tags that are all needed', cause.filter.allOf, whole),
    ...tagSlot('/filter/noneOf', ' not tagged ', 'tags that rule out', cause.filter.noneOf, whole),
  ];
  return [
    ...sentence(cause, of, event, who),
    ', ',
    {
      path: '/limit',
      label: 'how many times; empty: every time',
      value: cause.limit,
      input: { kind: 'number', unit: '', ...boundsOf(count), step: 1, whole: true, none: 'every' },
    },
    cause.limit === null ? ' time' : cause.limit === 1 ? ' time at most' : ' times at most',
    ', cooldown ',
    secondsSlot('/cooldown', 'cooldown', cause.cooldown),
  ];
}

function sentence(cause: Cause, of: Slot, event: Slot, who: Phrase): Phrase {
  if (visitorVerbs.includes(cause.on)) return ['When ', ...who, ' ', event, ' ', of];
  if (alone.includes(cause.on)) return ['When ', of, ' ', event];
  return ['When ', of, ' ', event, cause.on === 'press' || cause.on === 'release' ? ' by ' : ', set off by ', ...who];
}

function tagSlot(path: string, before: string, label: string, tags: string[], whole: boolean): Phrase {
  if (tags.length === 0 && !whole) return [];
  return [before, { path, label, value: tags, input: { kind: 'tags', none: 'no tag asked' } }];
}

/** The guard of a chain: what must hold for it to start. Paths are relative to the chain. */
export function guardPhrase(guard: string): Phrase {
  return [{ path: '/guard', label: 'condition', value: guard, input: { kind: 'condition', none: 'nothing more is asked' } }];
}

/** A step as a sentence with its values in place, its start and delay included. */
export function stepPhrase(step: Step): Phrase {
  return [
    choiceSlot('/start', 'when it starts', step.start, [
      { value: 'after', label: 'then' },
      { value: 'with', label: 'meanwhile' },
    ]),
    ', ',
    secondsSlot('/delay', 'delay', step.delay),
    ' later: ',
    ...kindOfStep(step.kind).phrase(step),
  ];
}

/** An instruction of a walk as a sentence with its values in place. */
export function instructionPhrase(instruction: Instruction): Phrase {
  switch (instruction.do) {
    case 'go-to':
      return ['goes to ', ...placePhrase('/to', instruction.to)];
    case 'wait':
      return ['waits ', secondsSlot('/seconds', 'how long', instruction.seconds)];
    case 'carry':
      return ['picks up ', referenceSlot('/prop', 'prop to pick up', instruction.prop, ['prop'])];
    case 'drop':
      return ['puts down ', referenceSlot('/prop', 'prop to put down', instruction.prop, ['prop'])];
    case 'use':
      return ['uses ', referenceSlot('/fixture', 'what is used', instruction.fixture, bodiedFixture)];
    case 'throw':
      return [
        'throws ',
        referenceSlot('/prop', 'prop to throw', instruction.prop, ['prop']),
        ' at ',
        ...velocityPhrase('/velocity', instruction.velocity),
      ];
    case 'turn':
      return ['turns to ', degreesSlot('/heading', 'heading', instruction.heading)];
  }
}

/** A chain in one plain sentence, for lists and for reading aloud. */
export function chainSentence(chain: Chain, nameOf: (id: string) => string): string {
  const causes = chain.causes.map((cause) => briefCause(cause, nameOf)).join(', or ');
  const steps = chain.steps.map((step) => spoken(kindOfStep(step.kind).phrase(step), nameOf)).join(', ');
  return `${causes === '' ? 'Nothing sets it off yet' : `When ${causes}`}${chain.guard === '' ? '' : `, if ${namedIn(chain.guard, nameOf)}`}: ${steps === '' ? 'nothing yet' : steps}.`;
}

/** An expression with the names of things in place of their ids. */
export function namedIn(expression: string, nameOf: (id: string) => string): string {
  return expression.replace(/["']([a-z0-9-]+)["']/g, (_whole, id: string) => `“${nameOf(id)}”`);
}

function briefCause(cause: Cause, nameOf: (id: string) => string): string {
  const { kinds, anyOf, allOf, noneOf } = cause.filter;
  const tags = [...anyOf, ...allOf].join(', ');
  const who = `${kinds.length === 0 ? 'anyone' : `a ${kinds.join(' or ')}`}${tags === '' ? '' : ` tagged ${tags}`}${noneOf.length === 0 ? '' : ` not tagged ${noneOf.join(', ')}`}`;
  const of = nameOf(cause.of);
  const event = visitorVerbs.includes(cause.on)
    ? `${who} ${eventVerb[cause.on]} ${of}`
    : `${of} ${eventVerb[cause.on]}${who === 'anyone' ? '' : ` by ${who}`}`;
  return `${event}${cause.limit === null ? '' : ` (${cause.limit}× at most)`}`;
}
