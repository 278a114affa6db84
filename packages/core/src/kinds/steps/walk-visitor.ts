import * as z from 'zod';
import { place } from '../../vocabulary/places';
import { placePhrase } from '../places';
import { done } from './stage';
import { origin, placeReferences, stepBase, stepKind, who, whoPhrase, whoReferences } from './step-kind';
import { byCause } from './visitor-step';

/** Walks visitors to a place; finished when all are there. */
export const walkVisitor = stepKind(z.strictObject({ ...stepBase, kind: z.literal('walk-visitor'), who, to: place }), {
  label: 'walk a visitor to a place',
  accepts: [],
  create: (ownId) => ({ id: ownId, kind: 'walk-visitor' as const, ...byCause, to: origin }),
  references: (step) => [...whoReferences(step.who), ...placeReferences('/to', step.to)],
  phrase: (step) => ['walk ', ...whoPhrase(step.who), ' to ', ...placePhrase('/to', step.to)],
  raises: { end: ['arrived'] },
  lasts: () => 0,
  run: (step, stage, targets) => {
    for (const id of targets) stage.walk(id, step.to);
    return done;
  },
});
