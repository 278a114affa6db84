import * as z from 'zod';
import { referenceSlot } from '../../vocabulary/phrase';
import { reference } from '../../vocabulary/quantities';
import { done } from './stage';
import { noDelay, stepBase, stepKind } from './step-kind';
import { says, written } from './writing';

const texts = ['text'] as const;

/** Writes a text of the level. */
export const setText = stepKind(z.strictObject({ ...stepBase, kind: z.literal('set-text'), target: reference, text: written }), {
  label: 'set a text',
  done: 'write in',
  accepts: texts,
  create: (ownId, target) => ({ id: ownId, kind: 'set-text' as const, ...noDelay, target, text: '' }),
  references: (step) => [{ path: '/target', to: step.target, accepts: texts }],
  phrase: (step) => ['write ', says('what it says', step.text), ' in ', referenceSlot('/target', 'text', step.target, texts)],
  raises: { start: ['changed'] },
  lasts: () => 0,
  run: (step, stage, [id]) => {
    stage.change('text', id!, stage.worded(step.text));
    return done;
  },
});
