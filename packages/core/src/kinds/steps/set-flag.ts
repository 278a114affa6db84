import * as z from 'zod';
import { choiceSlot, referenceSlot } from '../../vocabulary/phrase';
import { reference } from '../../vocabulary/quantities';
import { done } from './stage';
import { noDelay, stepBase, stepKind } from './step-kind';

const flags = ['flag'] as const;

/** Turns a flag on or off; raises `changed` only when it was otherwise before. */
export const setFlag = stepKind(z.strictObject({ ...stepBase, kind: z.literal('set-flag'), flag: reference, to: z.boolean() }), {
  label: 'set a flag',
  done: 'set',
  accepts: flags,
  create: (ownId, target) => ({ id: ownId, kind: 'set-flag' as const, ...noDelay, flag: target, to: true }),
  references: (step) => [{ path: '/flag', to: step.flag, accepts: flags }],
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
