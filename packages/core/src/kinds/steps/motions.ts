import { z } from 'zod';
import { reference } from '../../vocabulary/quantities';
import { done } from './stage';
import { choiceSlot, referenceSlot } from '../../vocabulary/phrase';
import { machines } from '../words';
import type { ThingWord } from '../words';
import { fixturesThatCan } from '../words';
import { noDelay, stepBase, stepKind, tagged } from './step-kind';

const doors = fixturesThatCan('open');
const movers = fixturesThatCan('move');
const elevators = fixturesThatCan('go to a stop');

/** Opens, closes or turns over doors. Finished when the motion ends, at once if there is nothing to do. */
function doorStep<K extends 'open' | 'close' | 'toggle'>(kind: K, label: string, to: 'open' | 'closed' | 'other') {
  return stepKind(z.strictObject({ ...stepBase, kind: z.literal(kind), door: reference, tagged }), {
    label,
    accepts: doors,
    create: (ownId, target) => ({ id: ownId, kind, ...noDelay, door: target, tagged: '' }),
    references: (step) => [{ path: 'door', to: step.door, accepts: doors }],
    phrase: (step) => [`${kind} `, ...named(step, 'door', step.door, doors)],
    lasts: (step, travelOf) => travelOf(step.door),
    run: (_step, stage, targets) => {
      stage.move(targets, to);
      return done;
    },
  });
}

export const open = doorStep('open', 'open a door', 'open');
export const close = doorStep('close', 'close a door', 'closed');
export const toggle = doorStep('toggle', 'open or close a door', 'other');

/** Sends an elevator to a stop. */
export const send = stepKind(
  z.strictObject({
    ...stepBase,
    kind: z.literal('send'),
    elevator: reference,
    tagged,
    stop: z.number().int().min(1).max(100).default(1).meta({ description: 'counted from 1' }),
  }),
  {
    label: 'send an elevator',
    accepts: elevators,
    create: (ownId, target) => ({ id: ownId, kind: 'send' as const, ...noDelay, elevator: target, tagged: '', stop: 2 }),
    references: (step) => [{ path: 'elevator', to: step.elevator, accepts: elevators }],
    phrase: (step) => [
      'send ',
      ...named(step, 'elevator', step.elevator, elevators),
      ' to stop ',
      {
        path: 'stop',
        label: 'stop to send it to',
        value: step.stop,
        input: { kind: 'number', unit: '', min: 1, max: 100, step: 1, whole: true },
      },
    ],
    lasts: (step, travelOf) => travelOf(step.elevator),
    run: (step, stage, targets) => {
      stage.move(targets, step.stop);
      return done;
    },
  },
);

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
    accepts: movers,
    create: (ownId, target) => ({
      id: ownId,
      kind: 'play' as const,
      ...noDelay,
      machine: target,
      tagged: '',
      way: 'forwards' as const,
    }),
    references: (step) => [{ path: 'machine', to: step.machine, accepts: movers }],
    phrase: (step) => [
      'play ',
      ...named(step, 'machine', step.machine, movers),
      ' ',
      choiceSlot('way', 'which way it is played', step.way, [
        { value: 'forwards', label: 'forwards' },
        { value: 'backwards', label: 'backwards' },
        { value: 'from-the-start', label: 'from the start' },
      ]),
    ],
    lasts: (step, travelOf) => travelOf(step.machine),
    run: (step, stage, targets) => {
      stage.move(targets, ({ forwards: 'open', backwards: 'closed', 'from-the-start': 'again' } as const)[step.way]);
      return done;
    },
  },
);

/** What a step names, or the tag that stands for it. */
export function named(step: { tagged: string }, path: string, id: string, accepts: readonly ThingWord[]) {
  if (step.tagged === '') return [referenceSlot(path, 'what it acts on', id, accepts)];
  const input = { kind: 'text', max: 40 } as const;
  return ['all tagged ', { path: 'tagged', label: 'tag of what it acts on', value: step.tagged, input }];
}
