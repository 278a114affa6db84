import * as z from 'zod';
import { referenceSlot } from '../../vocabulary/phrase';
import { reference } from '../../vocabulary/quantities';
import { fixturesThatCan } from '../words';
import { stepBase, stepKind } from './step-kind';

const cues = fixturesThatCan('be played');

/** Plays a cue; finished when the cue is. */
export const playCue = stepKind(z.strictObject({ ...stepBase, kind: z.literal('cue'), cue: reference }), {
  label: 'play a cue',
  wish: 'Signals and cues',
  also: 'speak say line speech sound effect fade shrink animation',
  target: 'cue',
  accepts: cues,
  phrase: (step) => ['play ', referenceSlot('/cue', 'cue to play', step.cue, cues)],
  raises: { start: ['cue-started'], end: ['cue-finished'] },
  lasts: (step, travelOf) => travelOf(step.cue),
  run: (_step, stage, [id]) => stage.cue(id!),
});
