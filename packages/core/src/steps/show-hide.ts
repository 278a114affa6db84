import { z } from 'zod';
import { reference } from '../level/quantities';
import { anyFixture, referenceSlot } from '../words/phrase';
import { done } from '../rehearsal/stage';
import { noDelay, stepBase, stepKind } from './step-kind';

/** Shows or hides a fixture. What is hidden is still there: it blocks and weighs as before. */
function visibilityStep<K extends 'show' | 'hide'>(kind: K, shown: boolean) {
  return stepKind(z.strictObject({ ...stepBase, kind: z.literal(kind), fixture: reference }), {
    label: `${kind} a fixture`,
    accepts: anyFixture,
    create: (ownId, target) => ({ id: ownId, kind, ...noDelay, fixture: target }),
    references: (step) => [{ path: 'fixture', to: step.fixture, accepts: anyFixture }],
    phrase: (step) => [`${kind} `, referenceSlot('fixture', `fixture to ${kind}`, step.fixture, anyFixture)],
    lasts: () => 0,
    run: (step, stage) => {
      stage.change('shown', step.fixture, shown);
      return done;
    },
  });
}

export const show = visibilityStep('show', true);
export const hide = visibilityStep('hide', false);
