import * as z from 'zod';
import { secondsSlot, velocityPhrase } from '../../vocabulary/phrase';
import { seconds, vector } from '../../vocabulary/quantities';
import { done } from './stage';
import { stepBase, stepKind, who, whoPhrase } from './step-kind';

/** Pushes visitors along at a velocity for some time; a push with an upward part throws them. */
export const push = stepKind(
  z.strictObject({ ...stepBase, kind: z.literal('push'), who, velocity: vector, seconds: seconds.default(0.5) }),
  {
    label: 'push a visitor',
    wish: 'Visitors',
    also: 'knock throw back shove launch velocity impulse',
    begins: () => ({ velocity: { x: 2, y: 0, z: 0 } }),
    phrase: (step) => [
      'push ',
      ...whoPhrase(step.who),
      ' by ',
      ...velocityPhrase('/velocity', step.velocity),
      ', for ',
      secondsSlot('/seconds', 'how long', step.seconds),
    ],
    lasts: (step) => step.seconds,
    run: (step, stage, targets) => {
      for (const id of targets) stage.push(id, step.velocity, step.seconds);
      const ticks = stage.ticksOf(step.seconds);
      return ticks === 0 ? done : { ticks };
    },
  },
);
