import * as z from 'zod';
import { secondsSlot } from '../../vocabulary/phrase';
import { seconds } from '../../vocabulary/quantities';
import { done } from './stage';
import { stepBase, stepKind } from './step-kind';

/** Lets time pass. */
export const wait = stepKind(z.strictObject({ ...stepBase, kind: z.literal('wait'), seconds }), {
  label: 'wait',
  wish: 'Timing',
  also: 'pause delay timer seconds',
  begins: () => ({ seconds: 1 }),
  phrase: (step) => ['wait ', secondsSlot('/seconds', 'how long to wait', step.seconds)],
  lasts: (step) => step.seconds,
  run: (step, stage) => {
    const ticks = stage.ticksOf(step.seconds);
    return ticks === 0 ? done : { ticks };
  },
});
