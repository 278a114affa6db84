import * as z from 'zod';
import { referenceSlot } from '../../vocabulary/phrase';
import { reference } from '../../vocabulary/quantities';
import { ownable } from './ownable';
import { done } from './stage';
import { noDelay, stepBase, stepKind } from './step-kind';

/** Makes the visitor that caused it the owner of something, unless that has an owner already. */
export const claim = stepKind(z.strictObject({ ...stepBase, kind: z.literal('claim'), thing: reference }), {
  label: 'claim something',
  accepts: ownable,
  create: (ownId, target) => ({ id: ownId, kind: 'claim' as const, ...noDelay, thing: target }),
  references: (step) => [{ path: '/thing', to: step.thing, accepts: ownable }],
  phrase: (step) => ['let the visitor claim ', referenceSlot('/thing', 'what is claimed', step.thing, ownable)],
  raises: { start: ['claimed'] },
  lasts: () => 0,
  run: (_step, stage, [id]) => {
    stage.claim(id!);
    return done;
  },
});
