import { causeKind } from './cause-kind';

/** A chain has done all of its steps. */
export const chainFinished = causeKind({
  verb: 'is finished',
  saidOf: 'thing',
  sources: ['chain'],
});
