import { causeKind } from './cause-kind';

/** A cue begins to play. */
export const cueStarted = causeKind({
  verb: 'starts to play',
  saidOf: 'thing',
});
