import { causeKind } from './cause-kind';
import { senses } from '../words';

/** A visitor comes to overlap a zone or a fixture with a body. */
export const enter = causeKind({
  verb: 'enters',
  saidOf: 'visitor',
  fromOverlap: true,
  needsEnabled: true,
  once: 'only the first one in',
  sources: senses,
});
