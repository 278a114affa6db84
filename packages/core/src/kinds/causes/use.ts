import { causeKind } from './cause-kind';
import { bodiedFixture } from '../words';

/** A visitor uses, picks up, puts down or throws it. */
export const use = causeKind({
  verb: 'uses',
  saidOf: 'visitor',
  needsEnabled: true,
  sources: [...bodiedFixture, 'prop'],
});
