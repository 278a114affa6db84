import { causeKind } from './cause-kind';

/** The condition of a watch holds that did not hold before. */
export const becameTrue = causeKind({
  verb: 'becomes true',
  saidOf: 'alone',
  sources: ['watch'],
});
