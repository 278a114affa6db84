import * as z from 'zod';
import { referenceSlot } from '../../vocabulary/phrase';
import { reference } from '../../vocabulary/quantities';
import { fixturesThatCan } from '../words';
import { done } from './stage';
import { stepBase, stepKind } from './step-kind';
import { says, written } from './writing';

const signs = fixturesThatCan('be written on');

/** Writes on a sign or a map marker; raises `changed` only when it said something else before. */
export const writeSign = stepKind(
  z.strictObject({ ...stepBase, kind: z.literal('write-sign'), sign: reference, text: written }),
  {
    label: 'write on a sign',
    wish: 'Visibility and collision',
    also: 'say change text label',
    done: 'write on',
    target: 'sign',
    accepts: signs,
    begins: () => ({ text: '' }),
    phrase: (step) => [
      'write ',
      says('what the sign says', step.text),
      ' on ',
      referenceSlot('/sign', 'sign to write on', step.sign, signs),
    ],
    raises: { start: ['changed'] },
    lasts: () => 0,
    run: (step, stage, [id]) => {
      stage.change('text', id!, stage.worded(step.text));
      return done;
    },
  },
);
