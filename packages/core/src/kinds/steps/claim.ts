import * as z from 'zod';
import { referenceSlot } from '../../vocabulary/phrase';
import { reference } from '../../vocabulary/quantities';
import { ownable } from './ownable';
import { done } from './stage';
import { stepBase, stepKind } from './step-kind';

/** Makes the visitor that caused it the owner of something, unless that has an owner already. */
export const claim = stepKind(z.strictObject({ ...stepBase, kind: z.literal('claim'), thing: reference }), {
  label: 'claim something',
  wish: 'State',
  also: 'own owner take belong',
  target: 'thing',
  accepts: ownable,
  phrase: (step) => ['let the visitor claim ', referenceSlot('/thing', 'what is claimed', step.thing, ownable)],
  raises: { start: ['claimed'] },
  lasts: () => 0,
  run: (_step, stage, [id]) => {
    stage.claim(id!);
    return done;
  },
});
