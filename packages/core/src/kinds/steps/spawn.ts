import * as z from 'zod';
import { referenceSlot } from '../../vocabulary/phrase';
import { place } from '../../vocabulary/places';
import { reference } from '../../vocabulary/quantities';
import { anyVisitor } from '../words';
import { placePhrase } from '../places';
import { done } from './stage';
import { origin } from '../../vocabulary/places';
import { stepBase, stepKind } from './step-kind';

/** Brings a visitor into play: at a place, or where the document has it. */
export const spawn = stepKind(
  z.strictObject({ ...stepBase, kind: z.literal('spawn'), visitor: reference, at: place.nullable().default(null) }),
  {
    label: 'spawn a visitor',
    wish: 'Visitors',
    also: 'create appear bring in',
    target: 'visitor',
    accepts: anyVisitor,
    places: ['at'],
    phrase: (step) => [
      'spawn ',
      referenceSlot('/visitor', 'who is spawned', step.visitor, anyVisitor),
      ...(step.at === null ? [' at its start'] : [' at ', ...placePhrase('/at', step.at)]),
    ],
    offers: (step) =>
      step.at === null ? [{ label: 'At a custom place', sets: [{ path: '/at', value: origin }], next: '/at' }] : [],
    raises: { start: ['spawned'] },
    lasts: () => 0,
    run: (step, stage, [id]) => {
      stage.spawn(id!, step.at);
      return done;
    },
  },
);
