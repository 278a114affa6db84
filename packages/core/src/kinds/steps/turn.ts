import * as z from 'zod';
import { degreesSlot } from '../../vocabulary/phrase';
import { place } from '../../vocabulary/places';
import { heading } from '../../vocabulary/quantities';
import { placePhrase } from '../places';
import { done } from './stage';
import { origin } from '../../vocabulary/places';
import { stepBase, stepKind, who, whoPhrase } from './step-kind';

/** Turns visitors to a heading, or to face a place. */
export const turn = stepKind(
  z.strictObject({
    ...stepBase,
    kind: z.literal('turn'),
    who,
    degrees: heading.default(0),
    facing: place.nullable().default(null),
  }),
  {
    label: 'turn a visitor',
    wish: 'Visitors',
    also: 'face rotate look heading',
    places: ['facing'],
    phrase: (step) => [
      'turn ',
      ...whoPhrase(step.who),
      ...(step.facing === null
        ? [' to ', degreesSlot('/degrees', 'heading', step.degrees)]
        : [' to face ', ...placePhrase('/facing', step.facing)]),
    ],
    offers: (step) =>
      step.facing === null ? [{ label: 'to face a point', sets: [{ path: '/facing', value: origin }], next: '/facing' }] : [],
    lasts: () => 0,
    run: (step, stage, targets) => {
      for (const id of targets) stage.turn(id, step.degrees, step.facing);
      return done;
    },
  },
);
