import * as z from 'zod';
import { reference } from '../../vocabulary/quantities';
import { anyFixture } from '../words';
import { done } from './stage';
import { named, stepBase, stepKind, tagged } from './step-kind';

/** Puts a fixture back as it was at the start. */
export const reset = stepKind(z.strictObject({ ...stepBase, kind: z.literal('reset'), fixture: reference, tagged }), {
  label: 'reset a fixture',
  wish: 'Motion',
  also: 'restore start over back',
  target: 'fixture',
  accepts: anyFixture,
  phrase: (step) => ['reset ', ...named(step, '/fixture', step.fixture, anyFixture)],
  raises: { start: ['changed'] },
  lasts: () => 0,
  run: (_step, stage, targets) => {
    for (const id of targets) stage.resetFixture(id);
    return done;
  },
});
