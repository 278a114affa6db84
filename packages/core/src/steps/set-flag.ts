import { z } from 'zod';
import { reference } from '../level/quantities';
import { choiceSlot, referenceSlot } from '../words/phrase';
import { done } from '../rehearsal/stage';
import { noDelay, stepBase, stepKind } from './step-kind';

const flags = ['flag'] as const;

/** Turns a flag on or off; raises `changed` only when it was otherwise before. */
export const setFlag = stepKind(z.strictObject({ ...stepBase, kind: z.literal('set-flag'), flag: reference, to: z.boolean() }), {
  label: 'set a flag',
  accepts: flags,
  create: (ownId, target) => ({ id: ownId, kind: 'set-flag' as const, ...noDelay, flag: target, to: true }),
  references: (step) => [{ path: 'flag', to: step.flag, accepts: flags }],
  phrase: (step) => [
    'set ',
    referenceSlot('flag', 'flag to set', step.flag, flags),
    ' ',
    choiceSlot('to', 'what to set it to', step.to, [
      { value: true, label: 'on' },
      { value: false, label: 'off' },
    ]),
  ],
  lasts: () => 0,
  run: (step, stage) => {
    stage.change('flags', step.flag, step.to);
    return done;
  },
});
