import * as z from 'zod';
import { reference } from '../../vocabulary/quantities';
import { done } from './stage';
import type { Part } from './stage';
import { named, stepBase, stepKind, tagged } from './step-kind';
import type { StepWords } from './step-kind';
import type { ThingWord } from '../words';

/** Changes one side of what a fixture is. What is hidden is still there: it blocks and weighs as before. */
export function fixtureStep<K extends string>(
  kind: K,
  {
    verb,
    accepts,
    sets: [part, to],
    ...words
  }: StepWords & { verb: string; accepts: readonly ThingWord[]; sets: [Part, boolean] },
) {
  return stepKind(z.strictObject({ ...stepBase, kind: z.literal(kind), fixture: reference, tagged }), {
    ...words,
    target: 'fixture',
    accepts,
    phrase: (step) => [`${verb} `, ...named(step, '/fixture', step.fixture, accepts)],
    raises: { start: ['changed'] },
    lasts: () => 0,
    run: (_step, stage, targets) => {
      for (const id of targets) stage.change(part, id, to);
      return done;
    },
  });
}
