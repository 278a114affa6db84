import { causeKind } from './cause-kind';
import { anyVisitor } from '../words';

/** A visitor was put elsewhere in its room. */
export const teleported = causeKind({
  verb: 'is teleported',
  saidOf: 'alone',
  sources: anyVisitor,
});
