import { z } from 'zod';
import { reference } from '../level/quantities';
import { referenceSlot } from '../words/phrase';
import { noDelay, stepBase, stepKind } from './step-kind';

const doors = ['door'] as const;

/** Opens or closes a door. Finished when the motion ends, at once if there is nothing to do. */
function doorStep<K extends 'open' | 'close'>(kind: K, end: 0 | 1) {
  return stepKind(z.strictObject({ ...stepBase, kind: z.literal(kind), door: reference }), {
    label: `${kind} a door`,
    accepts: doors,
    create: (ownId, target) => ({ id: ownId, kind, ...noDelay, door: target }),
    references: (step) => [{ path: 'door', to: step.door, accepts: doors }],
    phrase: (step) => [`${kind} `, referenceSlot('door', `door to ${kind}`, step.door, doors)],
    lasts: (step, travelOf) => travelOf(step.door),
    run: (step, stage) => stage.moveDoor(step.door, end),
  });
}

export const open = doorStep('open', 1);
export const close = doorStep('close', 0);
