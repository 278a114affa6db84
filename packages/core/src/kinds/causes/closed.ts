import { causeKind } from './cause-kind';

/** A door has come to its closed end. */
export const closed = causeKind({
  verb: 'has closed',
  saidOf: 'thing',
  needsEnabled: true,
});
