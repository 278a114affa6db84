import { TAG_MOST, boundsOf, someSeconds, speed } from '../vocabulary/quantities';
import { kindOfFixture } from '../kinds/fixtures';
import type { Fixture } from '../kinds/fixtures';
import type { Collection, Thing } from '../document/level';
import type { Body } from '../vocabulary/forms';
import type { Visitor } from '../document/people';
import type { Room, Solid, Zone } from '../document/places';
import type { ZoneShape } from '../vocabulary/forms';
import type { Extent, Vector } from '../vocabulary/quantities';
import { article, choiceSlot, degreesSlot, lengthSlot, massSlot, metresSlot, referenceSlot } from '../vocabulary/phrase';
import { fixturesThatCan, anyFixture } from '../kinds/words';
import { describeFact } from './facts';
import { arrivalOffers, arrivalPhrase, placePhrase } from '../kinds/places';
import type { PlaceWords } from '../kinds/fixtures';
import type { Offer, Phrase, Slot, SlotInput } from '../vocabulary/phrase';

/** Some sentences about one side of a thing: its shape and position, behaviour, start state and links. */
export interface Paragraph {
  about: 'Shape and position' | 'Behaviour' | 'Start state' | 'Links';
  phrases: Phrase[];
}

/** The paths of what was asked for although it is as usual. */
export type RevealedPaths = ReadonlySet<string>;

const nothingAsked: RevealedPaths = new Set();

/** A thing in sentences, every value of which can be edited in place. Chains have their own: see `causePhrase`. */
export function describe(collection: Collection, thing: Thing): Phrase[] {
  return paragraphs(collection, thing).flatMap(({ phrases }) => phrases);
}

/**
 * A thing in paragraphs, what matters first. What is as usual is said of it only if its path is in `asked`; `offersOf` has what
 * is left out.
 */
export function paragraphs(collection: Collection, thing: Thing, asked: RevealedPaths = nothingAsked): Paragraph[] {
  switch (collection) {
    case 'rooms':
      return [{ about: 'Shape and position', phrases: room(thing as Room) }];
    case 'solids':
      return solid(thing as Solid, asked);
    case 'zones':
      return zone(thing as Zone, asked);
    case 'fixtures':
      return fixture(thing as Fixture, asked);
    case 'visitors':
      return visitor(thing as Visitor, asked);
    default:
      return [{ about: 'Shape and position', phrases: describeFact(collection, thing) }];
  }
}

type LetsThrough = Extract<Fixture, { letsThrough: unknown }>['letsThrough'];

const wordsFor = (asked: RevealedPaths): PlaceWords => ({
  place: placePhrase,
  arrival: arrivalPhrase,
  arrivalOffers,
  cues: fixturesThatCan('be played'),
  asked,
});

/** What more can be said of a thing than its sentences say. */
export function offersOf(collection: Collection, thing: Thing): Offer[] {
  if (collection === 'fixtures') {
    const one = thing as Fixture;
    const dwells: Offer[] =
      'dwell' in one && one.dwell === null
        ? [{ label: 'Fire after a dwell time', sets: [{ path: '/dwell', value: 3 }], next: '/dwell' }]
        : [];
    return [
      ...(kindOfFixture(one.kind).offers?.(one, wordsFor(new Set())) ?? []),
      ...dwells,
      ...('letsThrough' in one ? throughOffers(one.letsThrough) : []),
      ...(one.seeThrough ? [] : [{ label: 'Make translucent', sets: [{ path: '/seeThrough', value: true }] }]),
      ...tieOffers(one),
    ];
  }
  if (collection === 'zones') {
    const one = thing as Zone;
    const dwells: Offer[] =
      one.dwell === null ? [{ label: 'Fire after a dwell time', sets: [{ path: '/dwell', value: 3 }], next: '/dwell' }] : [];
    const swept: Offer[] = one.swept
      ? []
      : [{ label: 'Detect crossings between ticks', sets: [{ path: '/swept', value: true }] }];
    return [...swept, ...dwells, ...tieOffers(one)];
  }
  if (collection === 'visitors') {
    const { tags, blocks } = thing as Visitor;
    return [
      ...(blocks ? [] : [{ label: 'Block other visitors', sets: [{ path: '/blocks', value: true }] }]),
      ...(tags.length > 0 ? [] : [tagOffer]),
    ];
  }
  return [];
}

function throughOffers({ owner, tags }: LetsThrough): Offer[] {
  return [
    ...(owner ? [] : [{ label: 'Let its owner through', sets: [{ path: '/letsThrough/owner', value: true }] }]),
    ...(tags.length > 0 ? [] : [{ label: 'Let tagged visitors through', sets: [], next: '/letsThrough/tags' }]),
  ];
}

/** "While it is solid, its owner passes it all the same, and so does who is tagged cat." Nothing where nobody does. */
function throughPhrases({ owner, tags }: LetsThrough, asked: RevealedPaths): Phrase[] {
  const tagged = tags.length > 0 || asked.has('/letsThrough/tags');
  if (!owner && !tagged) return [];
  const said: Phrase = ['While it is solid, '];
  if (owner) {
    const options = [
      { value: true, label: 'its owner' },
      { value: false, label: 'not even its owner' },
    ];
    said.push(choiceSlot('/letsThrough/owner', 'whether its owner passes it', true, options), ' may pass');
  }
  if (tagged)
    said.push(
      owner ? ', and visitors tagged ' : 'visitors tagged ',
      tagsSlot('/letsThrough/tags', tags),
      owner ? '' : ' may pass',
    );
  return [[...said.filter((part) => part !== ''), '.']];
}

const tagOffer: Offer = { label: 'Add tags', sets: [], next: '/tags' };

function tieOffers(one: { attachedTo: string; tags: string[] }): Offer[] {
  return [
    ...(one.attachedTo === '' ? [{ label: 'Attach to a fixture', sets: [], next: '/attachedTo' }] : []),
    ...(one.tags.length === 0 ? [tagOffer] : []),
  ];
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

function solid(one: Solid, asked: RevealedPaths): Paragraph[] {
  return [
    {
      about: 'Shape and position',
      phrases: [['A block of ', ...sizes('/size', one.size), '.'], place(one.at, one.heading)],
    },
    {
      about: 'Start state',
      phrases: [
        [
          'It blocks everyone and is ',
          choiceSlot('/visible', 'seen or not', one.visible, [
            { value: true, label: 'visible' },
            { value: false, label: 'invisible' },
          ]),
          '.',
        ],
      ],
    },
    { about: 'Links', phrases: ties({ ...one, tags: [] }, new Set([...asked].filter((path) => path === '/group'))) },
  ];
}

function zone(one: Zone, asked: RevealedPaths): Paragraph[] {
  const does: Phrase[] = [];
  if (one.swept || asked.has('/swept')) {
    const fires = choiceSlot('/swept', 'whether it fires for those who cross it between two ticks', one.swept, [
      { value: false, label: 'only for visitors inside at a tick' },
      { value: true, label: 'also for visitors that cross it between ticks' },
    ]);
    does.push(['It fires ', fires, '.']);
  }
  if (one.dwell !== null || asked.has('/dwell')) does.push(dwellPhrase(one.dwell));
  return [
    { about: 'Shape and position', phrases: [shapePhrase('/shape', one.shape), place(one.at, one.heading)] },
    ...(does.length === 0 ? [] : [{ about: 'Behaviour' as const, phrases: does }]),
    { about: 'Start state', phrases: [['At the start it is ', enabledSlot(one.enabled), '.']] },
    { about: 'Links', phrases: ties(one, asked) },
  ];
}

function dwellPhrase(dwell: number | null): Phrase {
  return ['Fires “dwell” after ', dwellSlot(dwell), ' inside.'];
}

/** What it moves with, its tags, and its room: what is not there is left out. */
function ties(one: { attachedTo?: string; tags: string[]; group?: string; room: string }, asked: RevealedPaths): Phrase[] {
  return [
    ...((one.attachedTo ?? '') === '' && !asked.has('/attachedTo') ? [] : [attachedPhrase(one.attachedTo ?? '')]),
    ...(one.tags.length === 0 && !asked.has('/tags') ? [] : [tagsPhrase(one.tags)]),
    ...((one.group ?? '') === '' && !asked.has('/group') ? [] : [groupPhrase(one.group ?? '')]),
    roomPhrase(one.room),
  ];
}

function fixture(one: Fixture, asked: RevealedPaths): Paragraph[] {
  const kind = kindOfFixture(one.kind);
  const size: Phrase[] =
    'size' in one ? [[`${article(kind.word) === 'an' ? 'An' : 'A'} ${kind.word} of `, ...sizes('/size', one.size), '.']] : [];
  const does = kind.phrases(one, wordsFor(asked));
  const saysSolid = does.some((phrase) => phrase.some((part) => typeof part !== 'string' && part.path === '/solid'));
  if ('dwell' in one && (one.dwell !== null || asked.has('/dwell'))) does.push(dwellPhrase(one.dwell));
  if ('letsThrough' in one) does.push(...throughPhrases(one.letsThrough, asked));
  return [
    // What it does is what matters of a fixture: it comes first.
    ...(does.length === 0 ? [] : [{ about: 'Behaviour' as const, phrases: does }]),
    { about: 'Shape and position', phrases: [...size, place(one.at, one.heading)] },
    {
      about: 'Start state',
      phrases: [
        [
          'At the start it is ',
          choiceSlot('/shown', 'shown or hidden at the start', one.shown, [
            { value: true, label: 'shown' },
            { value: false, label: 'hidden' },
          ]),
          ...(one.seeThrough || asked.has('/seeThrough') ? [', ', seeThroughSlot(one.seeThrough), ','] : []),
          ' and ',
          enabledSlot(one.enabled),
          ...('solid' in one && !saysSolid ? [', ', solidSlot(one.solid)] : []),
          '.',
        ],
      ],
    },
    { about: 'Links', phrases: ties(one, asked) },
  ];
}

function seeThroughSlot(value: boolean): Slot {
  return choiceSlot('/seeThrough', 'translucent or opaque at the start', value, [
    { value: true, label: 'translucent' },
    { value: false, label: 'opaque' },
  ]);
}

function solidSlot(value: boolean): Slot {
  return choiceSlot('/solid', 'solid or passable at the start', value, [
    { value: true, label: 'solid' },
    { value: false, label: 'passable' },
  ]);
}

const blocking = [
  { value: true, label: 'stands in the way of others' },
  { value: false, label: 'lets others pass through it' },
];

function visitor(one: Visitor, asked: RevealedPaths): Paragraph[] {
  return [
    {
      about: 'Shape and position',
      phrases: [
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
        ['Body: ', ...shapePhrase('/body', one.body)],
        place(one.at, one.heading),
      ],
    },
    {
      about: 'Start state',
      phrases: [
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
          ...(one.blocks ? [', and ', choiceSlot('/blocks', 'whether it blocks other visitors', true, blocking)] : []),
          '. At the start it is ',
          choiceSlot('/inPlay', 'whether it is in play at the start', one.inPlay, [
            { value: true, label: 'in play' },
            { value: false, label: 'not in play until it is spawned' },
          ]),
          '.',
        ],
      ],
    },
    { about: 'Links', phrases: ties(one, asked) },
  ];
}

/** A box, a ball or a pillar in words; the first word turns the one into the other of about the same size. */
function shapePhrase(path: string, shape: ZoneShape | Body): Phrase {
  const wide = shape.kind === 'box' ? Math.max(shape.size.x, shape.size.y) : 2 * shape.radius;
  const tall = shape.kind === 'box' ? shape.size.z : shape.kind === 'pillar' ? shape.height : 2 * shape.radius;
  const options: { value: ZoneShape; label: string }[] = [
    { value: shape.kind === 'box' ? shape : { kind: 'box', size: { x: wide, y: wide, z: tall } }, label: 'A box' },
    { value: shape.kind === 'pillar' ? shape : { kind: 'pillar', radius: wide / 2, height: tall }, label: 'A cylinder' },
  ];
  if (path === '/shape')
    options.push({ value: shape.kind === 'ball' ? shape : { kind: 'ball', radius: wide / 2 }, label: 'A sphere' });
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
  return ['Its tags: ', tagsSlot('/tags', tags), '.'];
}

function tagsSlot(path: string, value: string[]): Slot {
  return { path, label: 'tags', value, input: { kind: 'tags', none: 'none' } };
}

function groupPhrase(group: string): Phrase {
  return ['Group: ', { path: '/group', label: 'group', value: group, input: { kind: 'text', max: TAG_MOST } }, '.'];
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
    'Base centre at ',
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

/** The sentence of what a step plays, with its values in place; null for things that are not played. */
export function playedPhrase(one: Fixture): Phrase | null {
  const kind = kindOfFixture(one.kind);
  return kind.plays === undefined ? null : (kind.phrases(one, wordsFor(new Set()))[0] ?? null);
}
