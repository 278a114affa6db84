import { causeKind } from './cause-kind';
import { senses } from '../words';

/** A visitor ceases to overlap it. */
export const leave = causeKind({
  verb: 'leaves',
  saidOf: 'visitor',
  fromOverlap: true,
  needsEnabled: true,
  once: 'only the last one out',
  sources: senses,
});
