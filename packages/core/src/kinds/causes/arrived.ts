import { causeKind } from './cause-kind';
import { anyVisitor } from '../words';

/** A machine has come to a stop or a pose, or a visitor to where it was told to walk, or a thrown prop down. */
export const arrived = causeKind({
  verb: 'has arrived',
  saidOf: 'alone',
  needsEnabled: true,
  sources: anyVisitor,
});
