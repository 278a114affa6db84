import { causeKind } from './cause-kind';
import { senses } from '../words';

/** A visitor has been inside for as long as the thing asks. */
export const dwell = causeKind({
  verb: 'has stayed in',
  saidOf: 'visitor',
  fromOverlap: true,
  needsEnabled: true,
  sources: senses,
});
