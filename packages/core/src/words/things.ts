import { kindOfFixture } from '../fixtures';
import type { Fixture } from '../fixtures';
import type { Collection, Level, Thing } from '../level/level';
import type { Flag, Visitor, Walk } from '../level/people';
import type { Room, Solid, Zone } from '../level/places';
import type { Extent, Vector } from '../level/quantities';
import { choiceSlot, degreesSlot, lengthSlot, massSlot, metresSlot, referenceSlot, secondsSlot } from './phrase';
import type { Phrase, SlotInput } from './phrase';

/** What holds for the level as a whole, in a sentence. */
export function describeLevel(level: Level): Phrase[] {
  const rate: SlotInput = { kind: 'number', unit: '', min: 1, max: 240, step: 1, whole: true };
  return [['Time runs in ', { path: 'rate', label: 'ticks a second', value: level.rate, input: rate }, ' ticks a second.']];
}

/** A thing in sentences, every value of which can be edited in place. Chains have their own: see `causePhrase`. */
export function describe(collection: Collection, thing: Thing): Phrase[] {
  switch (collection) {
    case 'rooms':
      return room(thing as Room);
    case 'solids':
      return solid(thing as Solid);
    case 'zones':
      return zone(thing as Zone);
    case 'fixtures':
      return fixture(thing as Fixture);
    case 'flags':
      return flag(thing as Flag);
    case 'visitors':
      return visitor(thing as Visitor);
    case 'walks':
      return walk(thing as Walk);
    case 'chains':
      return [];
  }
}

function room(one: Room): Phrase[] {
  const edge = (side: keyof Room['extents']) => metresSlot(`extents.${side}`, `${side} edge`, one.extents[side]);
  return [
    [
      'It reaches from ',
      edge('west'),
      ' west to ',
      edge('east'),
      ' east, and from ',
      edge('south'),
      ' south to ',
      edge('north'),
      ' north.',
    ],
    [
      'Its ground lies at ',
      metresSlot('ground', 'height of the ground', one.ground),
      ', and it is ',
      lengthSlot('height', 'height of the room', one.height),
      ' high.',
    ],
  ];
}

function solid(one: Solid): Phrase[] {
  return [
    ['A block of ', ...sizes('size', one.size), '.'],
    place(one.at, one.heading),
    [
      'Nobody passes it, and it is ',
      choiceSlot('visible', 'seen or not', one.visible, [
        { value: true, label: 'visible' },
        { value: false, label: 'invisible' },
      ]),
      '.',
    ],
    roomPhrase(one.room),
  ];
}

function zone(one: Zone): Phrase[] {
  return [
    ['A box of ', ...sizes('shape.size', one.shape.size), '.'],
    place(one.at, one.heading),
    ['At the start it is ', enabledSlot(one.enabled), '.'],
    roomPhrase(one.room),
  ];
}

function fixture(one: Fixture): Phrase[] {
  const kind = kindOfFixture(one.kind);
  const size: Phrase[] = 'size' in one ? [[`A ${kind.word} of `, ...sizes('size', one.size), '.']] : [];
  return [
    ...size,
    place(one.at, one.heading),
    ...kind.phrases(one),
    [
      'At the start it is ',
      choiceSlot('shown', 'shown or hidden at the start', one.shown, [
        { value: true, label: 'shown' },
        { value: false, label: 'hidden' },
      ]),
      ' and ',
      enabledSlot(one.enabled),
      '.',
    ],
    roomPhrase(one.room),
  ];
}

function visitor(one: Visitor): Phrase[] {
  return [
    [
      'A ',
      choiceSlot('kind', 'kind of visitor', one.kind, [
        { value: 'player', label: 'player' },
        { value: 'creature', label: 'creature' },
        { value: 'prop', label: 'prop' },
      ]),
      ' of ',
      massSlot('mass', 'mass', one.mass),
      ', moving at ',
      {
        path: 'speed',
        label: 'speed',
        value: one.speed,
        input: { kind: 'number', unit: 'm/s', min: 0.001, max: 10_000, step: 0.1 },
      },
      '.',
    ],
    ['Its body is ', ...sizes('body.size', one.body.size), '.'],
    place(one.at, one.heading),
    ['Its tags: ', { path: 'tags', label: 'tags', value: one.tags, input: { kind: 'tags', none: 'none' } }, '.'],
    [
      'It ',
      choiceSlot('raisesOverlaps', 'whether it raises overlaps', one.raisesOverlaps, [
        { value: true, label: 'raises overlaps' },
        { value: false, label: 'raises no overlaps' },
      ]),
      '.',
    ],
    roomPhrase(one.room),
  ];
}

function flag(one: Flag): Phrase[] {
  return [
    [
      'At the start it is ',
      choiceSlot('on', 'on or off at the start', one.on, [
        { value: false, label: 'off' },
        { value: true, label: 'on' },
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
        ...secondsSlot('atMost', 'longest duration', one.atMost),
        input: { kind: 'number', unit: 's', min: 0.1, max: 3600, step: 1 },
      },
      '.',
    ],
  ];
}

function sizes(path: string, size: Extent): Phrase {
  return [
    lengthSlot(`${path}.x`, 'width, along east before it is turned', size.x),
    ' by ',
    lengthSlot(`${path}.y`, 'depth, along north before it is turned', size.y),
    ' and ',
    lengthSlot(`${path}.z`, 'height', size.z),
    ' tall',
  ];
}

function place(at: Vector, heading: number): Phrase {
  return [
    'The middle of its base is at ',
    metresSlot('at.x', 'metres east', at.x),
    ' east, ',
    metresSlot('at.y', 'metres north', at.y),
    ' north, ',
    metresSlot('at.z', 'metres up', at.z),
    ' up; it is turned ',
    degreesSlot('heading', 'heading, anticlockwise from east', heading),
    '.',
  ];
}

function roomPhrase(roomId: string): Phrase {
  return ['It is in ', referenceSlot('room', 'room', roomId, ['room']), '.'];
}

function enabledSlot(enabled: boolean) {
  return choiceSlot('enabled', 'enabled or disabled at the start', enabled, [
    { value: true, label: 'enabled' },
    { value: false, label: 'disabled' },
  ]);
}
