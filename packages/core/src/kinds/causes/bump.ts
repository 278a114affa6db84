import { causeKind } from './cause-kind';
import { bodiedFixture } from '../words';

/** A visitor is stopped by something solid. */
export const bump = causeKind({
  verb: 'bumps into',
  saidOf: 'visitor',
  fromOverlap: true,
  needsEnabled: true,
  sources: bodiedFixture,
});
