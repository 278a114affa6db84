import { causeKind } from './cause-kind';

/** A switch is off again. */
export const off = causeKind({
  verb: 'is switched off',
  saidOf: 'thing',
  needsEnabled: true,
});
