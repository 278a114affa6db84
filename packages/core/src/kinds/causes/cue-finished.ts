import { causeKind } from './cause-kind';

/** A cue has played to its end. */
export const cueFinished = causeKind({
  verb: 'has played',
  saidOf: 'thing',
});
