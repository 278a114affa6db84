import { causeKind } from './cause-kind';

/** Something that moves has begun to. */
export const moving = causeKind({
  verb: 'starts to move',
  saidOf: 'thing',
  needsEnabled: true,
});
