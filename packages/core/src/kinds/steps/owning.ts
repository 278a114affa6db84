import { z } from 'zod';
import { reference } from '../../vocabulary/quantities';
import { done } from './stage';
import { referenceSlot } from '../../vocabulary/phrase';
import { anyFixture } from '../words';
import type { ThingWord } from '../words';
import { fixturesThatCan } from '../words';
import { noDelay, stepBase, stepKind } from './step-kind';

const ownable: readonly ThingWord[] = ['zone', ...anyFixture];
const collectibles = fixturesThatCan('be collected');

/** Makes the visitor that caused it the owner of something, unless that has an owner already. */
export const claim = stepKind(z.strictObject({ ...stepBase, kind: z.literal('claim'), thing: reference }), {
  label: 'claim something',
  accepts: ownable,
  create: (ownId, target) => ({ id: ownId, kind: 'claim' as const, ...noDelay, thing: target }),
  references: (step) => [{ path: 'thing', to: step.thing, accepts: ownable }],
  phrase: (step) => ['let the visitor claim ', referenceSlot('thing', 'what is claimed', step.thing, ownable)],
  lasts: () => 0,
  run: (_step, stage, [id]) => {
    stage.claim(id!);
    return done;
  },
});

/** Leaves something without an owner. */
export const giveUp = stepKind(z.strictObject({ ...stepBase, kind: z.literal('give-up'), thing: reference }), {
  label: 'give up ownership',
  accepts: ownable,
  create: (ownId, target) => ({ id: ownId, kind: 'give-up' as const, ...noDelay, thing: target }),
  references: (step) => [{ path: 'thing', to: step.thing, accepts: ownable }],
  phrase: (step) => ['give up ', referenceSlot('thing', 'what is given up', step.thing, ownable)],
  lasts: () => 0,
  run: (_step, stage, [id]) => {
    stage.giveUp(id!);
    return done;
  },
});

/** Collects a collectible. */
export const collect = stepKind(z.strictObject({ ...stepBase, kind: z.literal('collect'), collectible: reference }), {
  label: 'collect something',
  accepts: collectibles,
  create: (ownId, target) => ({ id: ownId, kind: 'collect' as const, ...noDelay, collectible: target }),
  references: (step) => [{ path: 'collectible', to: step.collectible, accepts: collectibles }],
  phrase: (step) => ['collect ', referenceSlot('collectible', 'what is collected', step.collectible, collectibles)],
  lasts: () => 0,
  run: (_step, stage, [id]) => {
    stage.collect(id!);
    return done;
  },
});
