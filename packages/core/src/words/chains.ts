import type { Cause, CauseEvent, Chain, FlagTest } from '../level/chains';
import type { Instruction } from '../level/people';
import { sourcesFor } from '../level/references';
import { kindOfStep } from '../steps';
import type { Step } from '../steps';
import { choiceSlot, metresSlot, referenceSlot, secondsSlot, spoken } from './phrase';
import type { Phrase, Slot } from './phrase';

/** What each event is called in a sentence, after its visitor or its thing. */
export const eventVerb: Record<CauseEvent, string> = {
  enter: 'enters',
  leave: 'leaves',
  press: 'is pressed',
  release: 'is released',
  opened: 'has opened',
  closed: 'has closed',
  arrived: 'has arrived',
};

/**
 * The cause of a chain as a sentence with its values in place. Paths are relative to the cause. Tag filters that ask for
 * nothing are left out unless `whole` is set.
 */
export function causePhrase(cause: Cause, whole = false): Phrase {
  const of = referenceSlot('of', 'what the event comes from', cause.of, sourcesFor(cause.on));
  const event = choiceSlot(
    'on',
    'event',
    cause.on,
    (Object.keys(eventVerb) as CauseEvent[]).map((value) => ({ value, label: eventVerb[value] })),
  );
  const who: Phrase = [
    { path: 'filter.kinds', label: 'kinds of visitor that count', value: cause.filter.kinds, input: { kind: 'kinds' } },
    ...tagSlot('filter.anyOf', ' tagged any of ', 'tags of which one is enough', cause.filter.anyOf, whole),
    ...tagSlot('filter.allOf', ' tagged all of ', 'tags that are all needed', cause.filter.allOf, whole),
    ...tagSlot('filter.noneOf', ' not tagged ', 'tags that rule out', cause.filter.noneOf, whole),
  ];
  return [
    ...sentence(cause, of, event, who),
    ', ',
    {
      path: 'limit',
      label: 'how many times; empty: every time',
      value: cause.limit,
      input: { kind: 'number', unit: '', min: 0, max: 1_000_000, step: 1, whole: true, none: 'every' },
    },
    cause.limit === null ? ' time' : cause.limit === 1 ? ' time at most' : ' times at most',
    ', cooldown ',
    secondsSlot('cooldown', 'cooldown', cause.cooldown),
  ];
}

function sentence(cause: Cause, of: Slot, event: Slot, who: Phrase): Phrase {
  switch (cause.on) {
    case 'enter':
    case 'leave':
      return ['When ', ...who, ' ', event, ' ', of];
    case 'press':
    case 'release':
      return ['When ', of, ' ', event, ' by ', ...who];
    case 'opened':
    case 'closed':
      return ['When ', of, ' ', event, ', set off by ', ...who];
    case 'arrived':
      return ['When ', of, ' ', event, ' where it was going'];
  }
}

function tagSlot(path: string, before: string, label: string, tags: string[], whole: boolean): Phrase {
  if (tags.length === 0 && !whole) return [];
  return [before, { path, label, value: tags, input: { kind: 'tags', none: 'no tag asked' } }];
}

/** One condition of a chain's guard. Paths are relative to the test. */
export function guardPhrase(test: FlagTest): Phrase {
  return [
    referenceSlot('flag', 'flag that is asked', test.flag, ['flag']),
    ' is ',
    choiceSlot('is', 'on or off', test.is, [
      { value: true, label: 'on' },
      { value: false, label: 'off' },
    ]),
  ];
}

/** A step as a sentence with its values in place, its start and delay included. */
export function stepPhrase(step: Step): Phrase {
  return [
    choiceSlot('start', 'when it starts', step.start, [
      { value: 'after', label: 'then' },
      { value: 'with', label: 'meanwhile' },
    ]),
    ', ',
    secondsSlot('delay', 'delay', step.delay),
    ' later: ',
    ...kindOfStep(step.kind).phrase(step),
  ];
}

/** An instruction of a walk as a sentence with its values in place. */
export function instructionPhrase(instruction: Instruction): Phrase {
  switch (instruction.do) {
    case 'go-to':
      return [
        'goes to ',
        metresSlot('to.x', 'metres east', instruction.to.x),
        ' east, ',
        metresSlot('to.y', 'metres north', instruction.to.y),
        ' north, ',
        metresSlot('to.z', 'metres up', instruction.to.z),
        ' up',
      ];
    case 'wait':
      return ['waits ', secondsSlot('seconds', 'how long', instruction.seconds)];
    case 'carry':
      return ['picks up ', referenceSlot('prop', 'prop to pick up', instruction.prop, ['prop'])];
    case 'drop':
      return ['puts down ', referenceSlot('prop', 'prop to put down', instruction.prop, ['prop'])];
  }
}

/** A chain in one plain sentence, for lists and for reading aloud. */
export function chainSentence(chain: Chain, nameOf: (id: string) => string): string {
  const causes = chain.causes.map((cause) => briefCause(cause, nameOf)).join(', or ');
  const guard = chain.guard.map((test) => spoken(guardPhrase(test), nameOf)).join(' and ');
  const steps = chain.steps.map((step) => spoken(kindOfStep(step.kind).phrase(step), nameOf)).join(', ');
  return `${causes === '' ? 'Nothing sets it off yet' : `When ${causes}`}${guard === '' ? '' : `, if ${guard}`}: ${steps === '' ? 'nothing yet' : steps}.`;
}

function briefCause(cause: Cause, nameOf: (id: string) => string): string {
  const { kinds, anyOf, allOf, noneOf } = cause.filter;
  const tags = [...anyOf, ...allOf].join(', ');
  const who = `${kinds.length === 0 ? 'anyone' : `a ${kinds.join(' or ')}`}${tags === '' ? '' : ` tagged ${tags}`}${noneOf.length === 0 ? '' : ` not tagged ${noneOf.join(', ')}`}`;
  const of = nameOf(cause.of);
  const byWho = cause.on === 'enter' || cause.on === 'leave';
  const event = byWho
    ? `${who} ${eventVerb[cause.on]} ${of}`
    : `${of} ${eventVerb[cause.on]}${who === 'anyone' ? '' : ` by ${who}`}`;
  return `${event}${cause.limit === null ? '' : ` (${cause.limit}× at most)`}`;
}
