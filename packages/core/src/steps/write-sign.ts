import { z } from 'zod';
import { reference } from '../level/quantities';
import { referenceSlot } from '../words/phrase';
import { done } from '../rehearsal/stage';
import { noDelay, stepBase, stepKind } from './step-kind';

const signs = ['sign'] as const;

/** Puts a text on a sign. */
export const writeSign = stepKind(
  z.strictObject({ ...stepBase, kind: z.literal('write-sign'), sign: reference, text: z.string().max(500) }),
  {
    label: 'write on a sign',
    accepts: signs,
    create: (ownId, target) => ({ id: ownId, kind: 'write-sign' as const, ...noDelay, sign: target, text: '' }),
    references: (step) => [{ path: 'sign', to: step.sign, accepts: signs }],
    phrase: (step) => [
      'write ',
      { path: 'text', label: 'what the sign says', value: step.text, input: { kind: 'text', max: 500 } },
      ' on ',
      referenceSlot('sign', 'sign to write on', step.sign, signs),
    ],
    lasts: () => 0,
    run: (step, stage) => {
      stage.change('texts', step.sign, step.text);
      return done;
    },
  },
);
