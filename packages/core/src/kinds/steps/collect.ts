import * as z from 'zod';
import { referenceSlot } from '../../vocabulary/phrase';
import { reference } from '../../vocabulary/quantities';
import { fixturesThatCan } from '../words';
import { done } from './stage';
import { stepBase, stepKind } from './step-kind';

const collectibles = fixturesThatCan('be collected');

/** Collects a collectible. */
export const collect = stepKind(z.strictObject({ ...stepBase, kind: z.literal('collect'), collectible: reference }), {
  label: 'collect something',
  wish: 'State',
  also: 'pick up take coin item',
  target: 'collectible',
  accepts: collectibles,
  phrase: (step) => ['collect ', referenceSlot('/collectible', 'what is collected', step.collectible, collectibles)],
  raises: { start: ['collected'] },
  lasts: () => 0,
  run: (_step, stage, [id]) => {
    stage.collect(id!);
    return done;
  },
});
