import { causeKind } from './cause-kind';

/** A switch is on. */
export const on = causeKind({
  verb: 'is switched on',
  saidOf: 'thing',
  needsEnabled: true,
});
