import { causeKind } from './cause-kind';

/** The condition of a watch holds no longer. */
export const becameFalse = causeKind({
  verb: 'becomes false',
  saidOf: 'alone',
  sources: ['watch'],
});
