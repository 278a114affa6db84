import { causeKind } from './cause-kind';
import { everything } from '../words';

/** A value or a state is another than before. */
export const changed = causeKind({
  verb: 'changes',
  saidOf: 'thing',
  sources: everything,
});
