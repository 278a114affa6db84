import { walkSeconds } from '../document/walks';
import type { Walk } from '../document/walks';
import type { Collection, Thing } from '../document/level';
import type { Watch } from '../document/chains';
import type { Counter, Flag, Text } from '../document/people';
import { boundsOf, mostOf, whole, wording } from '../vocabulary/quantities';
import { choiceSlot, secondsSlot } from '../vocabulary/phrase';
import type { Phrase, Slot, SlotInput } from '../vocabulary/phrase';

/** What stands nowhere, in sentences. */
export function describeFact(collection: Collection, thing: Thing): Phrase[] {
  switch (collection) {
    case 'flags':
      return flag(thing as Flag);
    case 'counters':
      return counter(thing as Counter);
    case 'texts':
      return text(thing as Text);
    case 'signals':
      return [['A message that chains send and listen to.']];
    case 'watches':
      return watch(thing as Watch);
    case 'walks':
      return walk(thing as Walk);
    default:
      return [];
  }
}

function flag(one: Flag): Phrase[] {
  return [
    [
      'At the start it is ',
      choiceSlot('/on', 'on or off at the start', one.on, [
        { value: false, label: 'off' },
        { value: true, label: 'on' },
      ]),
      ', ',
      perSlot(one.per),
      '.',
    ],
  ];
}

function counter(one: Counter): Phrase[] {
  const input: SlotInput = { kind: 'number', unit: '', ...boundsOf(whole), step: 1, whole: true };
  return [
    [
      'At the start it is ',
      { path: '/value', label: 'value at the start', value: one.value, input },
      ', ',
      perSlot(one.per),
      '.',
    ],
  ];
}

function text(one: Text): Phrase[] {
  const input: SlotInput = { kind: 'text', max: mostOf(wording) };
  return [
    [
      'At the start it says ',
      { path: '/value', label: 'what it says at the start', value: one.value, input },
      ', ',
      perSlot(one.per),
      '.',
    ],
  ];
}

function perSlot(per: Flag['per']): Slot {
  return choiceSlot('/per', 'for the level or for each visitor', per, [
    { value: 'level', label: 'one for the level' },
    { value: 'visitor', label: 'one for each visitor' },
  ]);
}

function watch(one: Watch): Phrase[] {
  return [
    [
      'It watches whether ',
      { path: '/when', label: 'condition', value: one.when, input: { kind: 'condition', none: 'something holds' } },
      '.',
    ],
    [
      'If it holds at the start, it ',
      choiceSlot('/fromStart', 'what it does at the start', one.fromStart, [
        { value: false, label: 'does not fire' },
        { value: true, label: 'fires “becomes true”' },
      ]),
      '.',
    ],
  ];
}

function walk(one: Walk): Phrase[] {
  return [
    [
      'It lasts at most ',
      {
        ...secondsSlot('/atMost', 'longest duration', one.atMost),
        input: { kind: 'number', unit: 's', ...boundsOf(walkSeconds), step: 1 },
      },
      '.',
    ],
  ];
}
