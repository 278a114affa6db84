import * as z from 'zod';
import { journey } from '../../vocabulary/places';
import { arrivalOffers, arrivalPhrase, placePhrase } from '../places';
import { done } from './stage';
import { origin } from '../../vocabulary/places';
import { stepBase, stepKind, who, whoPhrase } from './step-kind';

/** Puts visitors elsewhere in their room. */
export const teleport = stepKind(z.strictObject({ ...stepBase, kind: z.literal('teleport'), who, ...journey }), {
  label: 'teleport a visitor',
  wish: 'Visitors',
  also: 'put jump bring place portal',
  begins: () => ({ to: origin }),
  places: ['to', 'facing'],
  phrase: (step) => ['teleport ', ...whoPhrase(step.who), ' to ', ...placePhrase('/to', step.to), ...arrivalPhrase(step)],
  offers: arrivalOffers,
  raises: { start: ['teleported'] },
  lasts: () => 0,
  run: (step, stage, targets) => {
    for (const id of targets) stage.travel(id, step, false);
    return done;
  },
});
