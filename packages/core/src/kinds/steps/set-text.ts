import * as z from 'zod';
import { referenceSlot } from '../../vocabulary/phrase';
import { reference } from '../../vocabulary/quantities';
import { done } from './stage';
import { stepBase, stepKind } from './step-kind';
import { says, written } from './writing';

const texts = ['text'] as const;

/** Writes a text of the level. */
export const setText = stepKind(z.strictObject({ ...stepBase, kind: z.literal('set-text'), target: reference, text: written }), {
  label: 'set a text',
  wish: 'State',
  also: 'variable string say',
  done: 'write in',
  target: 'target',
  accepts: texts,
  begins: () => ({ text: '' }),
  phrase: (step) => ['write ', says('what it says', step.text), ' in ', referenceSlot('/target', 'text', step.target, texts)],
  raises: { start: ['changed'] },
  lasts: () => 0,
  run: (step, stage, [id]) => {
    stage.change('text', id!, stage.worded(step.text));
    return done;
  },
});
