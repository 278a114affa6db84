import { causeKind } from './cause-kind';

/** The load on a plate has dropped below its threshold. */
export const release = causeKind({
  verb: 'is released',
  saidOf: 'thing',
  by: ' by ',
  fromOverlap: true,
  needsEnabled: true,
});
