import * as z from 'zod';
import { reference } from '../../vocabulary/quantities';
import { fixturesThatCan } from '../words';
import { done } from './stage';
import { named, stepBase, stepKind, tagged } from './step-kind';
import type { StepWords } from './step-kind';

const doors = fixturesThatCan('open');

/** Opens, closes or turns over doors. Finished when the motion ends, at once if there is nothing to do. */
export function doorStep<K extends string>(kind: K, { to, ...words }: StepWords & { to: 'open' | 'closed' | 'other' }) {
  return stepKind(z.strictObject({ ...stepBase, kind: z.literal(kind), door: reference, tagged }), {
    ...words,
    target: 'door',
    accepts: doors,
    phrase: (step) => [`${kind} `, ...named(step, '/door', step.door, doors)],
    moves: () => to,
    lasts: (step, travelOf) => travelOf(step.door),
    run: (_step, stage, targets) => {
      stage.move(targets, to);
      return done;
    },
  });
}
