import * as z from 'zod';
import { referenceSlot } from '../../vocabulary/phrase';
import { reference } from '../../vocabulary/quantities';
import { ownable } from './ownable';
import { done } from './stage';
import { noDelay, stepBase, stepKind } from './step-kind';

/** Leaves something without an owner. */
export const giveUp = stepKind(z.strictObject({ ...stepBase, kind: z.literal('give-up'), thing: reference }), {
  label: 'give up ownership',
  accepts: ownable,
  create: (ownId, target) => ({ id: ownId, kind: 'give-up' as const, ...noDelay, thing: target }),
  references: (step) => [{ path: '/thing', to: step.thing, accepts: ownable }],
  phrase: (step) => ['give up ', referenceSlot('/thing', 'what is given up', step.thing, ownable)],
  raises: { start: ['changed'] },
  lasts: () => 0,
  run: (_step, stage, [id]) => {
    stage.giveUp(id!);
    return done;
  },
});
