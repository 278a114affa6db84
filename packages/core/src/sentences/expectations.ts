import type { Level } from '../document/level';
import { nameOf } from '../document/lookup';
import type { Expectation, Match } from '../document/walks';
import { reasonOf } from '../ledger/entry';
import type { Entry } from '../ledger/entry';
import { anyFixture, anyVisitor } from '../kinds/words';
import { entryKinds } from '../vocabulary/entries';
import { boundsOf, count } from '../vocabulary/quantities';
import { choiceSlot, referenceSlot, secondsSlot, spoken } from '../vocabulary/phrase';
import type { Phrase, Slot } from '../vocabulary/phrase';

const anything = [
  'zone',
  ...anyFixture,
  'flag',
  'counter',
  'text',
  'signal',
  'watch',
  'room',
  'solid',
  ...anyVisitor,
  'chain',
] as const;

/** What an expectation is called: its description, or its sentence. */
export function expectationWords(level: Level, expectation: Expectation): string {
  const label = expectation.label.trim();
  return label === '' ? spoken(expectationPhrase(expectation), (id) => nameOf(level, id).trim()) : label;
}

const anyEntry: Match = { kind: 'enter', who: '', what: '', chain: '', reason: '' };

/** A new expectation of a kind: of anybody entering anything, until it is said of what. */
export function newExpectation(expect: Expectation['expect'], id: string): Expectation {
  const own = { id, label: '' };
  switch (expect) {
    case 'happens':
    case 'never':
      return { ...own, expect, entry: anyEntry };
    case 'before':
      return { ...own, expect, entry: anyEntry, then: anyEntry };
    case 'within':
      return { ...own, expect, entry: anyEntry, after: null, seconds: 1 };
    case 'exactly':
      return { ...own, expect, entry: anyEntry, times: 1 };
    case 'at-end':
      return { ...own, expect, state: '' };
  }
}

/** Which entries are like this one: of the same kind, about the same thing, for the same visitor, in the same chain. */
export function matchOf(entry: Entry): Match {
  const { kind, who, what, chain } = entry;
  return { kind, who: who ?? '', what: what ?? '', chain: chain ?? '', reason: reasonOf(entry) ?? '' };
}

/** What is expected, in a sentence with its values in place. Paths are relative to the expectation. */
export function expectationPhrase(one: Expectation): Phrase {
  switch (one.expect) {
    case 'happens':
      return ['Occurs: ', ...matchPhrase('/entry', one.entry)];
    case 'never':
      return ['Never occurs: ', ...matchPhrase('/entry', one.entry)];
    case 'before':
      return [...matchPhrase('/entry', one.entry), ' comes before ', ...matchPhrase('/then', one.then)];
    case 'within':
      return [
        ...matchPhrase('/entry', one.entry),
        ' within ',
        secondsSlot('/seconds', 'how long at most', one.seconds),
        ' after ',
        ...(one.after === null ? ['the start'] : matchPhrase('/after', one.after)),
      ];
    case 'exactly': {
      const input: Slot['input'] = { kind: 'number', unit: '', ...boundsOf(count), step: 1, whole: true };
      const times: Slot = { path: '/times', label: 'how many times', value: one.times, input };
      return ['Occurs exactly ', times, ' times: ', ...matchPhrase('/entry', one.entry)];
    }
    case 'at-end':
      return [
        'At the end ',
        { path: '/state', label: 'condition', value: one.state, input: { kind: 'condition', none: 'a condition' } },
      ];
  }
}

function matchPhrase(path: string, match: Match): Phrase {
  const options = entryKinds.map((value) => ({ value, label: value.replaceAll('-', ' ') }));
  const named = (field: 'what' | 'who' | 'chain', label: string, accepts: readonly string[], none: string): Slot => ({
    ...referenceSlot(`${path}/${field}`, label, match[field], accepts),
    input: { kind: 'reference', accepts, none },
  });
  return [
    choiceSlot(`${path}/kind`, 'kind of entry', match.kind, options),
    ' of ',
    named('what', 'what it is about', anything, 'anything'),
    ' for ',
    named('who', 'who it happens to', anyVisitor, 'anyone'),
    ...(match.chain === '' ? [] : [' in ', named('chain', 'in which chain', ['chain'], 'any chain')]),
    ...(match.reason === '' ? [] : [` (${match.reason})`]),
  ];
}
