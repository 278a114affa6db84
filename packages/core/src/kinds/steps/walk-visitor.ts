import * as z from 'zod';
import { place } from '../../vocabulary/places';
import { placePhrase } from '../places';
import { done } from './stage';
import { origin } from '../../vocabulary/places';
import { stepBase, stepKind, who, whoPhrase } from './step-kind';

/** Walks visitors to a place; finished when all are there. */
export const walkVisitor = stepKind(z.strictObject({ ...stepBase, kind: z.literal('walk-visitor'), who, to: place }), {
  label: 'walk a visitor to a place',
  wish: 'Visitors',
  also: 'go move guard step send patrol',
  begins: () => ({ to: origin }),
  places: ['to'],
  phrase: (step) => ['walk ', ...whoPhrase(step.who), ' to ', ...placePhrase('/to', step.to)],
  raises: { end: ['arrived'] },
  lasts: () => 0,
  run: (step, stage, targets) => {
    for (const id of targets) stage.walk(id, step.to);
    return done;
  },
});
