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
