import { walkSeconds } from '../document/walks';
import { boundsOf, mostOf, rate, someSeconds, speed, whole, wording } from '../vocabulary/quantities';
import { kindOfFixture } from '../kinds/fixtures';
import type { Fixture } from '../kinds/fixtures';
import type { Collection, Level, Thing } from '../document/level';
import type { Watch } from '../document/chains';
import type { Body } from '../vocabulary/forms';
import type { Counter, Flag, Text, Visitor } from '../document/people';
import type { Walk } from '../document/walks';
import type { Room, Solid, Zone } from '../document/places';
import type { ZoneShape } from '../vocabulary/forms';
import type { Extent, Vector } from '../vocabulary/quantities';
import {
  article,
  choiceSlot,
  degreesSlot,
  lengthSlot,
  massSlot,
  metresSlot,
  referenceSlot,
  secondsSlot,
} from '../vocabulary/phrase';
import { anyFixture } from '../kinds/words';
import type { Phrase, Slot, SlotInput } from '../vocabulary/phrase';

/** What holds for the level as a whole, in a sentence. */
export function describeLevel(level: Level): Phrase[] {
  const ticks: SlotInput = { kind: 'number', unit: '', ...boundsOf(rate), step: 1, whole: true };
  return [['Time runs in ', { path: '/rate', label: 'ticks a second', value: level.rate, input: ticks }, ' ticks a second.']];
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
    case 'counters':
      return counter(thing as Counter);
    case 'texts':
      return text(thing as Text);
    case 'signals':
      return [['A message that chains send and listen to.']];
    case 'watches':
      return watch(thing as Watch);
    case 'visitors':
      return visitor(thing as Visitor);
    case 'walks':
      return walk(thing as Walk);
    case 'chains':
      return [];
  }
}

function room(one: Room): Phrase[] {
  const edge = (side: keyof Room['extents']) => metresSlot(`/extents/${side}`, `${side} edge`, one.extents[side]);
  return [
    [
      'Its west edge lies at ',
      edge('west'),
      ' and its east edge at ',
      edge('east'),
      ', its south edge at ',
      edge('south'),
      ' and its north edge at ',
      edge('north'),
      '.',
    ],
    [
      'Its ground lies at ',
      metresSlot('/ground', 'height of the ground', one.ground),
      ', and it is ',
      lengthSlot('/height', 'height of the room', one.height),
      ' high.',
    ],
  ];
}

function solid(one: Solid): Phrase[] {
  return [
    ['A block of ', ...sizes('/size', one.size), '.'],
    place(one.at, one.heading),
    [
      'Nobody passes it, and it is ',
      choiceSlot('/visible', 'seen or not', one.visible, [
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
    shapePhrase('/shape', one.shape),
    place(one.at, one.heading),
    ['At the start it is ', enabledSlot(one.enabled), '.'],
    [
      'It fires ',
      choiceSlot('/swept', 'whether it fires for those who cross it between two ticks', one.swept, [
        { value: false, label: 'for who is inside at a tick' },
        { value: true, label: 'also for who crosses it between two ticks' },
      ]),
      one.dwell === null ? ', and who has stayed in it is told ' : ', and who has stayed in it is told after ',
      dwellSlot(one.dwell),
      '.',
    ],
    attachedPhrase(one.attachedTo),
    tagsPhrase(one.tags),
    roomPhrase(one.room),
  ];
}

function fixture(one: Fixture): Phrase[] {
  const kind = kindOfFixture(one.kind);
  const size: Phrase[] =
    'size' in one ? [[`${article(kind.word) === 'an' ? 'An' : 'A'} ${kind.word} of `, ...sizes('/size', one.size), '.']] : [];
  return [
    ...size,
    place(one.at, one.heading),
    ...kind.phrases(one),
    [
      'At the start it is ',
      choiceSlot('/shown', 'shown or hidden at the start', one.shown, [
        { value: true, label: 'shown' },
        { value: false, label: 'hidden' },
      ]),
      ' and ',
      enabledSlot(one.enabled),
      '.',
    ],
    attachedPhrase(one.attachedTo),
    tagsPhrase(one.tags),
    roomPhrase(one.room),
  ];
}

function visitor(one: Visitor): Phrase[] {
  return [
    [
      'A ',
      choiceSlot('/kind', 'kind of visitor', one.kind, [
        { value: 'player', label: 'player' },
        { value: 'creature', label: 'creature' },
        { value: 'prop', label: 'prop' },
      ]),
      ' of ',
      massSlot('/mass', 'mass', one.mass),
      ', moving at ',
      {
        path: '/speed',
        label: 'speed',
        value: one.speed,
        input: { kind: 'number', unit: 'm/s', ...boundsOf(speed), step: 0.1 },
      },
      '.',
    ],
    ['Its body is this: ', ...shapePhrase('/body', one.body)],
    place(one.at, one.heading),
    tagsPhrase(one.tags),
    [
      'It ',
      choiceSlot('/raisesOverlaps', 'whether it raises overlaps', one.raisesOverlaps, [
        { value: true, label: 'raises overlaps' },
        { value: false, label: 'raises no overlaps' },
      ]),
      ', and ',
      choiceSlot('/travels', 'whether a warp takes it to another room', one.travels, [
        { value: true, label: 'travels between rooms' },
        { value: false, label: 'does not travel between rooms' },
      ]),
      '. At the start it is ',
      choiceSlot('/inPlay', 'whether it is in play at the start', one.inPlay, [
        { value: true, label: 'in play' },
        { value: false, label: 'not in play until it is spawned' },
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
        { value: false, label: 'raises nothing' },
        { value: true, label: 'becomes true then' },
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

/** A box, a ball or a pillar in words; the first word turns the one into the other of about the same size. */
function shapePhrase(path: string, shape: ZoneShape | Body): Phrase {
  const wide = shape.kind === 'box' ? Math.max(shape.size.x, shape.size.y) : 2 * shape.radius;
  const tall = shape.kind === 'box' ? shape.size.z : shape.kind === 'pillar' ? shape.height : 2 * shape.radius;
  const options: { value: ZoneShape; label: string }[] = [
    { value: shape.kind === 'box' ? shape : { kind: 'box', size: { x: wide, y: wide, z: tall } }, label: 'A box' },
    { value: shape.kind === 'pillar' ? shape : { kind: 'pillar', radius: wide / 2, height: tall }, label: 'A pillar' },
  ];
  if (path === '/shape')
    options.push({ value: shape.kind === 'ball' ? shape : { kind: 'ball', radius: wide / 2 }, label: 'A ball' });
  const form = choiceSlot(path, 'shape', shape as ZoneShape, options);
  if (shape.kind === 'box') return [form, ' of ', ...sizes(`${path}/size`, shape.size), '.'];
  const radius = lengthSlot(`${path}/radius`, 'radius', shape.radius);
  if (shape.kind === 'ball') return [form, ' of ', radius, ' radius.'];
  return [form, ' of ', radius, ' radius and ', lengthSlot(`${path}/height`, 'height', shape.height), ' tall.'];
}

function dwellSlot(value: number | null): Slot {
  const input: SlotInput = { kind: 'number', unit: 's', ...boundsOf(someSeconds), step: 0.1, none: 'never' };
  return { path: '/dwell', label: 'seconds inside after which it tells', value, input };
}

function tagsPhrase(tags: string[]): Phrase {
  return ['Its tags: ', { path: '/tags', label: 'tags', value: tags, input: { kind: 'tags', none: 'none' } }, '.'];
}

function attachedPhrase(attachedTo: string): Phrase {
  const slot = referenceSlot('/attachedTo', 'what it is attached to', attachedTo, anyFixture);
  return ['It moves with ', { ...slot, input: { kind: 'reference', accepts: anyFixture, none: 'nothing' } }, '.'];
}

function sizes(path: string, size: Extent): Phrase {
  return [
    lengthSlot(`${path}/x`, 'width, along east before it is turned', size.x),
    ' by ',
    lengthSlot(`${path}/y`, 'depth, along north before it is turned', size.y),
    ' and ',
    lengthSlot(`${path}/z`, 'height', size.z),
    ' tall',
  ];
}

function place(at: Vector, heading: number): Phrase {
  return [
    'The middle of its base is at ',
    metresSlot('/at/x', 'metres east', at.x),
    ' east, ',
    metresSlot('/at/y', 'metres north', at.y),
    ' north, ',
    metresSlot('/at/z', 'metres up', at.z),
    ' up; it is turned ',
    degreesSlot('/heading', 'heading, anticlockwise from east', heading),
    '.',
  ];
}

function roomPhrase(roomId: string): Phrase {
  return ['It is in ', referenceSlot('/room', 'room', roomId, ['room']), '.'];
}

function enabledSlot(enabled: boolean) {
  return choiceSlot('/enabled', 'enabled or disabled at the start', enabled, [
    { value: true, label: 'enabled' },
    { value: false, label: 'disabled' },
  ]);
}
