import { causeKind } from './cause-kind';
import { anyVisitor } from '../words';

/** A visitor has come into play. */
export const spawned = causeKind({
  verb: 'is spawned',
  saidOf: 'alone',
  sources: anyVisitor,
});
