import { causeKind } from './cause-kind';
import { anyFixture } from '../words';

/** A thing has got an owner. */
export const claimed = causeKind({
  verb: 'is claimed',
  saidOf: 'thing',
  sources: ['zone', ...anyFixture],
});
