import type { Journey, Place } from '../vocabulary/places';
import { choiceSlot, metresSlot, referenceSlot } from '../vocabulary/phrase';
import type { Offer, Phrase, Slot } from '../vocabulary/phrase';
import { anyThing } from './words';

const rooms = ['room'] as const;

/** A place in words, with a way to pick it on the sheet. With `rooms` it may be in another room. */
export function placePhrase(path: string, one: Place, anyRoom = false): Phrase {
  const from = referenceSlot(`${path}/of`, 'relative to', one.of, anyThing);
  const relative = one.of !== '';
  const room: Phrase =
    anyRoom && !relative
      ? [' in ', { ...referenceSlot(`${path}/room`, 'the room it is in', one.room, rooms), input: anyRoomInput }]
      : [];
  return [
    metresSlot(`${path}/x`, 'metres east', one.x),
    one.axes === 'own' ? ' ahead, ' : ' east, ',
    metresSlot(`${path}/y`, 'metres north', one.y),
    one.axes === 'own' ? ' to the left, ' : ' north, ',
    metresSlot(`${path}/z`, 'metres up', one.z),
    ' up ',
    { path, label: 'pick a point on the plan', value: one, input: { kind: 'place' } },
    ', from ',
    { ...from, input: { kind: 'reference', accepts: anyThing, none: 'the room' } },
    ...(relative ? relativePhrase(path, one) : []),
    ...(one.height === 'ground' || relative ? [', ', heightSlot(path, one)] : []),
    ...room,
  ];
}

const anyRoomInput: Slot['input'] = { kind: 'reference', accepts: rooms, none: 'the same room' };

function relativePhrase(path: string, one: Place): Phrase {
  const axes: { value: Place['axes']; label: string }[] = [
    { value: 'room', label: 'by the axes of the room' },
    { value: 'own', label: 'by its own heading' },
  ];
  return [' ', choiceSlot(`${path}/axes`, 'along which axes', one.axes, axes)];
}

function heightSlot(path: string, one: Place): Slot {
  return choiceSlot(`${path}/height`, 'where its height counts from', one.height, [
    { value: 'datum', label: one.of === '' ? 'above the room origin' : 'above its base' },
    { value: 'ground', label: 'above the ground' },
  ]);
}

/** What more can be said of a place. */
function placeOffers(path: string, one: Place): Offer[] {
  if (one.of !== '' || one.height === 'ground') return [];
  return [{ label: 'Measure height from the ground', sets: [{ path: `${path}/height`, value: 'ground' }] }];
}

type Arriving = Pick<Journey, 'velocity' | 'arrival' | 'arrivesFacing' | 'facing' | 'to'>;

/** How visitors arrive, in words: what of it is as usual is left out. */
export function arrivalPhrase(one: Arriving): Phrase {
  const facing: { value: Journey['arrivesFacing']; label: string }[] = [
    { value: 'keep', label: 'facing as before' },
    { value: 'take', label: 'taking the reference’s heading' },
    { value: 'towards', label: 'facing' },
  ];
  return [
    ', ',
    choiceSlot('/velocity', 'velocity on arrival', one.velocity, [
      { value: 'stop', label: 'at rest' },
      { value: 'keep', label: 'keeping velocity' },
      { value: 'turn', label: 'turning velocity with heading' },
    ]),
    ...(one.arrivesFacing === 'keep'
      ? []
      : [', ', choiceSlot('/arrivesFacing', 'which way they face', one.arrivesFacing, facing)]),
    ...(one.arrivesFacing === 'towards' && one.facing !== null ? [' ', ...placePhrase('/facing', one.facing)] : []),
    ', ',
    choiceSlot('/arrival', 'whether zones there fire', one.arrival, [
      { value: 'quiet', label: 'without firing enter' },
      { value: 'loud', label: 'firing enter' },
    ]),
  ];
}

/** What more can be said of how visitors arrive. */
export function arrivalOffers(one: Arriving): Offer[] {
  if (one.arrivesFacing !== 'keep') return placeOffers('/to', one.to);
  const point = { ...one.to, y: one.to.y + 1 };
  const own: Offer[] =
    one.to.of === '' ? [] : [{ label: 'Take the reference’s heading', sets: [{ path: '/arrivesFacing', value: 'take' }] }];
  return [
    ...own,
    {
      label: 'Face a point',
      sets: [
        { path: '/facing', value: point },
        { path: '/arrivesFacing', value: 'towards' },
      ],
    },
    ...placeOffers('/to', one.to),
  ];
}
