import * as z from 'zod';
import { referenceSlot } from '../../vocabulary/phrase';
import { journey } from '../../vocabulary/places';
import { arrivalOffers, arrivalPhrase, placePhrase } from '../places';
import { done } from './stage';
import { origin } from '../../vocabulary/places';
import { stepBase, stepKind, who, whoPhrase } from './step-kind';

const rooms = ['room'] as const;

/** Takes visitors to another room; who does not travel between rooms is left behind, out of play. */
export const warpStep = stepKind(z.strictObject({ ...stepBase, kind: z.literal('warp'), who, ...journey }), {
  label: 'warp a visitor to a room',
  wish: 'Visitors',
  also: 'travel level change portal',
  accepts: rooms,
  begins: (room) => ({ to: { ...origin, room } }),
  places: ['to', 'facing'],
  phrase: (step) => [
    'warp ',
    ...whoPhrase(step.who),
    ' into ',
    referenceSlot('/to/room', 'room', step.to.room, rooms),
    ' to ',
    ...placePhrase('/to', step.to),
    ...arrivalPhrase(step),
  ],
  offers: arrivalOffers,
  raises: { start: ['warped', 'removed'] },
  lasts: () => 0,
  run: (step, stage, targets) => {
    for (const id of targets) stage.travel(id, step, true);
    return done;
  },
});
