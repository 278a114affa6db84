import { causeKind } from './cause-kind';
import { anyVisitor } from '../words';

/** A visitor was taken out of play. */
export const removed = causeKind({
  verb: 'is removed',
  saidOf: 'alone',
  sources: anyVisitor,
});
