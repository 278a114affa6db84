import { z } from 'zod';
import { journey } from '../../vocabulary/places';
import { done } from './stage';
import { choiceSlot, referenceSlot } from '../../vocabulary/phrase';
import type { Phrase } from '../../vocabulary/phrase';
import { noDelay, origin, placePhrase, placeReferences, stepBase, stepKind, who, whoPhrase, whoReferences } from './step-kind';

const rooms = ['room'] as const;

const beginning = {
  ...noDelay,
  who: { by: 'cause' as const },
  to: origin,
  arrivesFacing: 'keep' as const,
  facing: null,
  velocity: 'stop' as const,
  arrival: 'quiet' as const,
};

/** Puts visitors elsewhere in their room. */
export const teleport = stepKind(z.strictObject({ ...stepBase, kind: z.literal('teleport'), who, ...journey }), {
  label: 'teleport a visitor',
  accepts: [],
  create: (ownId) => ({ id: ownId, kind: 'teleport' as const, ...beginning }),
  references: (step) => [
    ...whoReferences(step.who),
    ...placeReferences('to', step.to),
    ...placeReferences('facing', step.facing),
  ],
  phrase: (step) => ['teleport ', ...whoPhrase(step.who), ' to ', ...placePhrase('to', step.to), ...arrival(step)],
  lasts: () => 0,
  run: (step, stage, targets) => {
    for (const id of targets) stage.travel(id, step, false);
    return done;
  },
});

/** Takes visitors to another room; who does not travel between rooms is left behind, out of play. */
export const warpStep = stepKind(z.strictObject({ ...stepBase, kind: z.literal('warp'), who, ...journey }), {
  label: 'warp a visitor to a room',
  accepts: rooms,
  create: (ownId, target) => ({ id: ownId, kind: 'warp' as const, ...beginning, to: { ...origin, room: target } }),
  references: (step) => [
    ...whoReferences(step.who),
    ...placeReferences('to', step.to),
    ...placeReferences('facing', step.facing),
  ],
  phrase: (step) => [
    'warp ',
    ...whoPhrase(step.who),
    ' into ',
    referenceSlot('to.room', 'room', step.to.room, rooms),
    ' to ',
    ...placePhrase('to', step.to),
    ...arrival(step),
  ],
  lasts: () => 0,
  run: (step, stage, targets) => {
    for (const id of targets) stage.travel(id, step, true);
    return done;
  },
});

function arrival(step: { velocity: 'keep' | 'stop' | 'turn'; arrival: 'quiet' | 'loud' }): Phrase {
  return [
    ', ',
    choiceSlot('velocity', 'what becomes of the velocity', step.velocity, [
      { value: 'stop', label: 'at rest' },
      { value: 'keep', label: 'going on as before' },
      { value: 'turn', label: 'going on as it faces' },
    ]),
    ', ',
    choiceSlot('arrival', 'whether zones there fire', step.arrival, [
      { value: 'quiet', label: 'without entering what is there' },
      { value: 'loud', label: 'entering what is there' },
    ]),
  ];
}
