import { causeKind } from './cause-kind';

/** A door has come to its open end. */
export const opened = causeKind({
  verb: 'has opened',
  saidOf: 'thing',
  needsEnabled: true,
});
