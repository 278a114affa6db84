import * as z from 'zod';
import { reference } from '../../vocabulary/quantities';
import type { ThingWord } from '../words';
import { done } from './stage';
import type { Part } from './stage';
import { named, noDelay, stepBase, stepKind, tagged } from './step-kind';

/** Changes one side of what a fixture is. What is hidden is still there: it blocks and weighs as before. */
export function fixtureStep<K extends string>(
  kind: K,
  label: string,
  verb: string,
  accepts: readonly ThingWord[],
  part: Part,
  to: boolean,
) {
  return stepKind(z.strictObject({ ...stepBase, kind: z.literal(kind), fixture: reference, tagged }), {
    label,
    accepts,
    create: (ownId, target) => ({ id: ownId, kind, ...noDelay, fixture: target, tagged: '' }),
    references: (step) => [{ path: '/fixture', to: step.fixture, accepts }],
    phrase: (step) => [`${verb} `, ...named(step, '/fixture', step.fixture, accepts)],
    raises: { start: ['changed'] },
    lasts: () => 0,
    run: (_step, stage, targets) => {
      for (const id of targets) stage.change(part, id, to);
      return done;
    },
  });
}
