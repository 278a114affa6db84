import * as z from 'zod';
import { referenceSlot } from '../../vocabulary/phrase';
import { reference } from '../../vocabulary/quantities';
import { ownable } from './ownable';
import { done } from './stage';
import { stepBase, stepKind } from './step-kind';

/** Leaves something without an owner. */
export const giveUp = stepKind(z.strictObject({ ...stepBase, kind: z.literal('give-up'), thing: reference }), {
  label: 'give up ownership',
  wish: 'State',
  also: 'owner release free',
  target: 'thing',
  accepts: ownable,
  phrase: (step) => ['give up ', referenceSlot('/thing', 'what is given up', step.thing, ownable)],
  raises: { start: ['changed'] },
  lasts: () => 0,
  run: (_step, stage, [id]) => {
    stage.giveUp(id!);
    return done;
  },
});
