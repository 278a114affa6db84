import { boundsOf, count } from '../vocabulary/quantities';
import { conditionWords } from '../conditions/by-names';
import type { Cause } from '../kinds/causes/cause';
import { causeEvents } from '../vocabulary/events';
import type { CauseEvent } from '../vocabulary/events';
import type { Chain } from '../document/chains';
import type { Instruction } from '../document/people';
import { eventsOf, kindOfCause, sourcesFor } from '../kinds/causes';
import { kindOfStep } from '../kinds/steps';
import type { Step } from '../kinds/steps';
import { placePhrase } from '../kinds/places';
import { anyFixture, anyVisitor, bodiedFixture } from '../kinds/words';
import { choiceSlot, degreesSlot, referenceSlot, secondsSlot, spoken, velocityPhrase } from '../vocabulary/phrase';
import type { Offer, Phrase, Slot } from '../vocabulary/phrase';
import type { ThingWord } from '../kinds/words';

const hearers: readonly ThingWord[] = ['zone', ...anyFixture, ...anyVisitor];

/** The paths of what was asked for although it is as usual. */
type RevealedPaths = ReadonlySet<string>;
const nothingAsked: RevealedPaths = new Set();

/**
 * The cause of a chain as a sentence with its values in place. Paths are relative to the cause. What is as usual (every time, no
 * cooldown, no tags) is said only if its path is in `asked`; `causeOffers` has what is left out. `word` is what the event comes
 * from: only events that such a thing raises are offered. With `anySource`, a cause without a source accepts things that do not raise
 * its event, too.
 */
export function causePhrase(cause: Cause, asked: RevealedPaths = nothingAsked, word?: ThingWord, anySource = false): Phrase {
  const of = sourceSlot(cause, anySource);
  const event = choiceSlot(
    '/on',
    'event',
    cause.on,
    causeEvents
      .filter((value) => word === undefined || value === cause.on || sourcesFor(value).includes(word))
      .map((value) => ({ value, label: kindOfCause(value).verb })),
  );
  const { filter } = cause;
  const who: Phrase = [
    { path: '/filter/kinds', label: 'kinds of visitor that count', value: filter.kinds, input: { kind: 'kinds' } },
    ...tagSlot('/filter/anyOf', ' tagged any of ', 'tags of which one is enough', filter.anyOf, asked),
    ...tagSlot('/filter/allOf', ' tagged all of ', 'tags that are all needed', filter.allOf, asked),
    ...tagSlot('/filter/noneOf', ' not tagged ', 'tags that rule out', filter.noneOf, asked),
  ];
  return [...sentence(cause, of, event, who), ...howOften(cause, asked)];
}

/** Every kind of thing that raises events. */
const sources: readonly ThingWord[] = [...new Set(causeEvents.flatMap((event) => sourcesFor(event)))];

/** What the event comes from: with `anySource`, the first time, anything that raises events; its most usual one, where it does not raise this one. */
function sourceSlot({ on, of }: Cause, anySource: boolean): Slot {
  const fitting = sourcesFor(on);
  const slot = referenceSlot('/of', 'what the event comes from', of, fitting);
  if (of !== '' || !anySource) return slot;
  const others = sources.filter((word) => !fitting.includes(word)).map((word) => [word, eventsOf(word)[0]] as const);
  const follows = { path: '/on', by: Object.fromEntries(others) };
  return { ...slot, input: { kind: 'reference', accepts: [...fitting, ...others.map(([word]) => word)], follows } };
}

/** Which of those who count, how many times, and how soon again. */
function howOften(cause: Cause, asked: RevealedPaths): Phrase {
  const said: Phrase = [];
  const { filter } = cause;
  if (filter.named !== '' || asked.has('/filter/named')) {
    const slot = referenceSlot('/filter/named', 'the one visitor that counts', filter.named, anyVisitor);
    said.push(', only for ', { ...slot, input: { kind: 'reference', accepts: anyVisitor, none: 'any visitor' } });
  }
  if (filter.ownerOnly) {
    const options = [
      { value: true, label: 'only for its owner' },
      { value: false, label: 'for any visitor' },
    ];
    said.push(', ', choiceSlot('/filter/ownerOnly', 'whether only its owner counts', true, options));
  }
  if (cause.counts !== 'each') {
    const options: { value: Cause['counts']; label: string }[] = [
      { value: 'first-and-last', label: kindOfCause(cause.on).once ?? 'first in and last out only' },
      { value: 'each', label: 'each one' },
    ];
    said.push(', ', choiceSlot('/counts', 'each, or only the first in and the last out', cause.counts, options));
  }
  if (kindOfCause(cause.on).isAddressed && (cause.hears !== '' || asked.has('/hears'))) {
    const slot = referenceSlot('/hears', 'by whom it is heard', cause.hears, hearers);
    said.push(', heard by ', { ...slot, input: { kind: 'reference', accepts: hearers, none: 'everyone' } });
  }
  if (cause.limit !== null) {
    const input = { kind: 'number', unit: '', ...boundsOf(count), step: 1, whole: true, none: 'every' } as const;
    const slot: Slot = { path: '/limit', label: 'how many times; empty: every time', value: cause.limit, input };
    said.push(', at most ', slot, cause.limit === 1 ? ' time' : ' times');
  }
  if (cause.cooldown !== 0) {
    const options: { value: Cause['cooldownFor']; label: string }[] = [
      { value: 'all', label: 'for all' },
      { value: 'visitor', label: 'for each visitor' },
    ];
    const forWhom = choiceSlot('/cooldownFor', 'for all or for each visitor', cause.cooldownFor, options);
    said.push(', cooldown ', secondsSlot('/cooldown', 'cooldown', cause.cooldown), ' ', forWhom);
  }
  return said;
}

/** What more can be said of a cause, in words. Paths are relative to the cause. */
export function causeOffers(cause: Cause): Offer[] {
  const { filter } = cause;
  const { isAddressed, once } = kindOfCause(cause.on);
  const offers: (Offer | false)[] = [
    cause.limit === null && { label: 'Limit the count', sets: [{ path: '/limit', value: 1 }], next: '/limit' },
    cause.cooldown === 0 && { label: 'Cooldown', sets: [{ path: '/cooldown', value: 1 }], next: '/cooldown' },
    cause.cooldown === 0 && {
      label: 'Cooldown per visitor',
      sets: [
        { path: '/cooldown', value: 1 },
        { path: '/cooldownFor', value: 'visitor' },
      ],
      next: '/cooldown',
    },
    filter.anyOf.length === 0 && { label: 'Require any of these tags…', sets: [], next: '/filter/anyOf' },
    filter.allOf.length === 0 && { label: 'only who is tagged all of…', sets: [], next: '/filter/allOf' },
    filter.noneOf.length === 0 && { label: 'Exclude tags…', sets: [], next: '/filter/noneOf' },
    filter.named === '' && { label: 'only one visitor', sets: [], next: '/filter/named' },
    !filter.ownerOnly && { label: 'only its owner', sets: [{ path: '/filter/ownerOnly', value: true }] },
    cause.counts === 'each' && once !== undefined && { label: once, sets: [{ path: '/counts', value: 'first-and-last' }] },
    isAddressed === true && cause.hears === '' && { label: 'Address to one thing', sets: [], next: '/hears' },
  ];
  return offers.filter((offer) => offer !== false);
}

function sentence(cause: Cause, of: Slot, event: Slot, who: Phrase): Phrase {
  const { saidOf, by } = kindOfCause(cause.on);
  if (saidOf === 'visitor') return ['When ', ...who, ' ', event, ' ', of];
  if (saidOf === 'alone') return ['When ', of, ' ', event];
  return ['When ', of, ' ', event, by ?? ', triggered by ', ...who];
}

function tagSlot(path: string, before: string, label: string, tags: string[], asked: RevealedPaths): Phrase {
  if (tags.length === 0 && !asked.has(path)) return [];
  return [before, { path, label, value: tags, input: { kind: 'tags', none: 'any tag' } }];
}

/** The guard of a chain: what must hold for it to start. Paths are relative to the chain. */
export function guardPhrase(guard: string): Phrase {
  return [{ path: '/guard', label: 'condition', value: guard, input: { kind: 'condition', none: 'no condition' } }];
}

const meanwhile: { value: Chain['whileRunning']; label: string }[] = [
  { value: 'ignore', label: 'ignore' },
  { value: 'restart', label: 'restart' },
  { value: 'queue', label: 'queue another run' },
  { value: 'overlap', label: 'run in parallel' },
];

/** How a chain starts, and what it does when it is set off while it runs; nothing where that is as usual. */
export function mannerPhrase(chain: Chain): Phrase {
  const said: Phrase = [];
  if (chain.delay !== 0) {
    said.push('It starts ', secondsSlot('/delay', 'start delay', chain.delay), ' later');
    const options = [
      { value: false, label: 'even if the visitor has left' },
      { value: true, label: 'unless the visitor leaves first' },
    ];
    said.push(', ', choiceSlot('/givesUp', 'whether it gives up when its visitor leaves', chain.givesUp, options), '. ');
  }
  if (chain.whileRunning !== 'ignore') {
    said.push('If triggered while running: ');
    said.push(choiceSlot('/whileRunning', 'when triggered while running', chain.whileRunning, meanwhile), '.');
  }
  return said;
}

/** What more can be said of a chain as a whole. */
export function chainOffers(chain: Chain): Offer[] {
  return [
    ...(chain.delay === 0 ? [{ label: 'Start delay', sets: [{ path: '/delay', value: 1 }], next: '/delay' }] : []),
    ...(chain.whileRunning === 'ignore'
      ? meanwhile
          .filter(({ value }) => value !== 'ignore')
          .map(({ value, label }) => ({
            label: `If triggered while running: ${label}`,
            sets: [{ path: '/whileRunning', value }],
          }))
      : []),
  ];
}

/** A step as a sentence with its values in place: its start and delay only where they are not as usual. */
export function stepPhrase(step: Step): Phrase {
  const start = choiceSlot('/start', 'when it starts', step.start, [
    { value: 'after', label: 'then' },
    { value: 'with', label: 'meanwhile' },
  ]);
  return [
    ...(step.start === 'after' ? [] : [start, ', ']),
    ...(step.delay === 0 ? [] : [secondsSlot('/delay', 'delay', step.delay), ' later, ']),
    ...kindOfStep(step.kind).phrase(step),
  ];
}

/** What more can be said of a step; `first` has nothing before it to go along with. */
export function stepOffers(step: Step, first: boolean): Offer[] {
  return [
    ...(step.delay === 0 ? [{ label: 'a wait before it', sets: [{ path: '/delay', value: 1 }], next: '/delay' }] : []),
    ...(step.start === 'after' && !first
      ? [{ label: 'Start with the previous step', sets: [{ path: '/start', value: 'with' }] }]
      : []),
    ...(kindOfStep(step.kind).offers?.(step) ?? []),
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
  return `${causes === '' ? 'No cause yet' : `When ${causes}`}${chain.guard === '' ? '' : `, if ${conditionWords(chain.guard, nameOf)}`}: ${steps === '' ? 'nothing yet' : steps}.`;
}

/** What a step has brought about that sets off another chain, in a few words. */
export function consequenceWords(
  { event, of }: { event: CauseEvent | null; of: string | null },
  nameOf: (id: string) => string,
): string {
  const it = of === null ? 'the visitor' : nameOf(of);
  if (event === null) return 'at once';
  const { saidOf, verb } = kindOfCause(event);
  return saidOf === 'visitor' ? `someone ${verb} ${it}` : `${it} ${verb}`;
}

function briefCause(cause: Cause, nameOf: (id: string) => string): string {
  const { kinds, anyOf, allOf, noneOf } = cause.filter;
  const tags = [...anyOf, ...allOf].join(', ');
  const who = `${kinds.length === 0 ? 'anyone' : `a ${kinds.join(' or ')}`}${tags === '' ? '' : ` tagged ${tags}`}${noneOf.length === 0 ? '' : ` not tagged ${noneOf.join(', ')}`}`;
  const of = nameOf(cause.of);
  const { saidOf, verb } = kindOfCause(cause.on);
  const event = saidOf === 'visitor' ? `${who} ${verb} ${of}` : `${of} ${verb}${who === 'anyone' ? '' : ` by ${who}`}`;
  return `${event}${cause.limit === null ? '' : ` (${cause.limit}× at most)`}`;
}
