import * as z from 'zod';
import { boundsOf, reference, stop } from '../../vocabulary/quantities';
import { fixturesThatCan } from '../words';
import { done } from './stage';
import { named, stepBase, stepKind, tagged } from './step-kind';

const elevators = fixturesThatCan('go to a stop');

/** Sends an elevator to a stop. */
export const send = stepKind(
  z.strictObject({
    ...stepBase,
    kind: z.literal('send'),
    elevator: reference,
    tagged,
    stop: stop.default(1).meta({ description: 'counted from 1' }),
  }),
  {
    label: 'send an elevator',
    wish: 'Motion',
    also: 'lift platform move raise lower call',
    target: 'elevator',
    accepts: elevators,
    begins: () => ({ stop: 2 }),
    phrase: (step) => [
      'send ',
      ...named(step, '/elevator', step.elevator, elevators),
      ' to stop ',
      {
        path: '/stop',
        label: 'stop to send it to',
        value: step.stop,
        input: { kind: 'number', unit: '', ...boundsOf(stop), step: 1, whole: true },
      },
    ],
    moves: (step) => step.stop,
    lasts: (step, travelOf) => travelOf(step.elevator),
    run: (step, stage, targets) => {
      stage.move(targets, step.stop);
      return done;
    },
  },
);
