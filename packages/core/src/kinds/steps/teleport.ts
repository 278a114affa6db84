import * as z from 'zod';
import { journey } from '../../vocabulary/places';
import { arrivalOffers, arrivalPhrase, placePhrase } from '../places';
import { beginning } from './journey';
import { done } from './stage';
import { placeReferences, stepBase, stepKind, who, whoPhrase, whoReferences } from './step-kind';

/** Puts visitors elsewhere in their room. */
export const teleport = stepKind(z.strictObject({ ...stepBase, kind: z.literal('teleport'), who, ...journey }), {
  label: 'teleport a visitor',
  accepts: [],
  create: (ownId) => ({ id: ownId, kind: 'teleport' as const, ...beginning }),
  references: (step) => [
    ...whoReferences(step.who),
    ...placeReferences('/to', step.to),
    ...placeReferences('/facing', step.facing),
  ],
  phrase: (step) => ['teleport ', ...whoPhrase(step.who), ' to ', ...placePhrase('/to', step.to), ...arrivalPhrase(step)],
  offers: arrivalOffers,
  raises: { start: ['teleported'] },
  lasts: () => 0,
  run: (step, stage, targets) => {
    for (const id of targets) stage.travel(id, step, false);
    return done;
  },
});
