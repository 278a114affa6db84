import * as z from 'zod';
import { choiceSlot, referenceSlot } from '../../vocabulary/phrase';
import { reference } from '../../vocabulary/quantities';
import { done } from './stage';
import { stepBase, stepKind } from './step-kind';

const flags = ['flag'] as const;

/** Turns a flag on or off; raises `changed` only when it was otherwise before. */
export const setFlag = stepKind(z.strictObject({ ...stepBase, kind: z.literal('set-flag'), flag: reference, to: z.boolean() }), {
  label: 'set a flag',
  wish: 'State',
  also: 'variable state boolean remember switch',
  done: 'set',
  target: 'flag',
  accepts: flags,
  begins: () => ({ to: true }),
  phrase: (step) => [
    'set ',
    referenceSlot('/flag', 'flag to set', step.flag, flags),
    ' ',
    choiceSlot('/to', 'what to set it to', step.to, [
      { value: true, label: 'on' },
      { value: false, label: 'off' },
    ]),
  ],
  raises: { start: ['changed'] },
  lasts: () => 0,
  run: (step, stage, [id]) => {
    stage.change('flag', id!, step.to);
    return done;
  },
});
