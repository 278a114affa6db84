import { causeKind } from './cause-kind';

/** The load on a plate has come to its threshold. */
export const press = causeKind({
  verb: 'is pressed',
  saidOf: 'thing',
  by: ' by ',
  fromOverlap: true,
  needsEnabled: true,
});
