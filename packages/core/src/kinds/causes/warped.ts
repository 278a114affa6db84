import { causeKind } from './cause-kind';
import { anyVisitor } from '../words';

/** A visitor was put into another room. */
export const warped = causeKind({
  verb: 'is warped',
  saidOf: 'alone',
  sources: anyVisitor,
});
