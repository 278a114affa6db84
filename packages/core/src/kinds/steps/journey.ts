import { choiceSlot } from '../../vocabulary/phrase';
import type { Phrase } from '../../vocabulary/phrase';
import { noDelay, origin } from './step-kind';

/** How a new step that puts visitors elsewhere begins. */
export const beginning = {
  ...noDelay,
  who: { by: 'cause' as const },
  to: origin,
  arrivesFacing: 'keep' as const,
  facing: null,
  velocity: 'stop' as const,
  arrival: 'quiet' as const,
};

/** How visitors arrive, in words. */
export function arrival(step: { velocity: 'keep' | 'stop' | 'turn'; arrival: 'quiet' | 'loud' }): Phrase {
  return [
    ', ',
    choiceSlot('/velocity', 'what becomes of the velocity', step.velocity, [
      { value: 'stop', label: 'at rest' },
      { value: 'keep', label: 'going on as before' },
      { value: 'turn', label: 'going on as it faces' },
    ]),
    ', ',
    choiceSlot('/arrival', 'whether zones there fire', step.arrival, [
      { value: 'quiet', label: 'without entering what is there' },
      { value: 'loud', label: 'entering what is there' },
    ]),
  ];
}
