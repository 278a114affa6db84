import * as z from 'zod';
import { choiceSlot } from '../../vocabulary/phrase';
import { reference } from '../../vocabulary/quantities';
import { fixturesThatCan } from '../words';
import { done } from './stage';
import { named, stepBase, stepKind, tagged } from './step-kind';

const ways = { forwards: 'open', backwards: 'closed', 'from-the-start': 'again' } as const;

const movers = fixturesThatCan('move');

/** Plays a motion forwards to its end, backwards to its beginning, or from the start. */
export const play = stepKind(
  z.strictObject({
    ...stepBase,
    kind: z.literal('play'),
    machine: reference,
    tagged,
    way: z.enum(['forwards', 'backwards', 'from-the-start']).default('forwards'),
  }),
  {
    label: 'play a motion',
    wish: 'Motion',
    also: 'mover animation path run',
    target: 'machine',
    accepts: movers,
    phrase: (step) => [
      'play ',
      ...named(step, '/machine', step.machine, movers),
      ' ',
      choiceSlot('/way', 'which way it is played', step.way, [
        { value: 'forwards', label: 'forwards' },
        { value: 'backwards', label: 'backwards' },
        { value: 'from-the-start', label: 'from the start' },
      ]),
    ],
    moves: (step) => ways[step.way],
    lasts: (step, travelOf) => travelOf(step.machine),
    run: (step, stage, targets) => {
      stage.move(targets, ways[step.way]);
      return done;
    },
  },
);
