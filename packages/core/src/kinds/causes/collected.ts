import { causeKind } from './cause-kind';

/** A collectible was collected. */
export const collected = causeKind({
  verb: 'is collected',
  saidOf: 'thing',
});
