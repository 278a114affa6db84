import { z } from 'zod';
import { place } from '../../vocabulary/places';
import { heading, reference, seconds, vector } from '../../vocabulary/quantities';
import { done } from './stage';
import { degreesSlot, metresSlot, referenceSlot, secondsSlot } from '../../vocabulary/phrase';
import { anyVisitor } from '../words';
import { noDelay, origin, placePhrase, placeReferences, stepBase, stepKind, who, whoPhrase, whoReferences } from './step-kind';

const byCause = { ...noDelay, who: { by: 'cause' as const } };

/** Brings a visitor into play: at a place, or where the document has it. */
export const spawn = stepKind(
  z.strictObject({ ...stepBase, kind: z.literal('spawn'), visitor: reference, at: place.nullable().default(null) }),
  {
    label: 'spawn a visitor',
    accepts: anyVisitor,
    create: (ownId, target) => ({ id: ownId, kind: 'spawn' as const, ...noDelay, visitor: target, at: null }),
    references: (step) => [{ path: 'visitor', to: step.visitor, accepts: anyVisitor }, ...placeReferences('at', step.at)],
    phrase: (step) => [
      'spawn ',
      referenceSlot('visitor', 'who is spawned', step.visitor, anyVisitor),
      ...(step.at === null ? [' where it belongs'] : [' at ', ...placePhrase('at', step.at)]),
    ],
    lasts: () => 0,
    run: (step, stage, [id]) => {
      stage.spawn(id!, step.at);
      return done;
    },
  },
);

/** A step that does one thing to each of its visitors. */
function each<K extends 'remove' | 'hold-visitor' | 'release-visitor' | 'stop-velocity'>(
  kind: K,
  label: string,
  before: string,
  after: string,
  act: (stage: Parameters<ReturnType<typeof stepKind>['run']>[1], id: string) => void,
) {
  return stepKind(z.strictObject({ ...stepBase, kind: z.literal(kind), who }), {
    label,
    accepts: [],
    create: (ownId) => ({ id: ownId, kind, ...byCause }),
    references: (step) => whoReferences(step.who),
    phrase: (step) => [before, ...whoPhrase(step.who), after],
    lasts: () => 0,
    run: (_step, stage, targets) => {
      for (const id of targets) act(stage, id);
      return done;
    },
  });
}

export const remove = each('remove', 'remove a visitor', 'remove ', ' from play', (stage, id) => stage.remove(id));
export const holdVisitor = each('hold-visitor', "hold a visitor's control", 'hold ', '', (stage, id) => stage.control(id, true));
export const releaseVisitor = each('release-visitor', "release a visitor's control", 'release ', '', (stage, id) =>
  stage.control(id, false),
);
export const stopVelocity = each('stop-velocity', "stop a visitor's velocity", 'stop ', ' where it is', (stage, id) =>
  stage.stopVelocity(id),
);

/** Walks visitors to a place; finished when all are there. */
export const walkVisitor = stepKind(z.strictObject({ ...stepBase, kind: z.literal('walk-visitor'), who, to: place }), {
  label: 'walk a visitor to a place',
  accepts: [],
  create: (ownId) => ({ id: ownId, kind: 'walk-visitor' as const, ...byCause, to: origin }),
  references: (step) => [...whoReferences(step.who), ...placeReferences('to', step.to)],
  phrase: (step) => ['walk ', ...whoPhrase(step.who), ' to ', ...placePhrase('to', step.to)],
  lasts: () => 0,
  run: (step, stage, targets) => {
    for (const id of targets) stage.walk(id, step.to);
    return done;
  },
});

/** Pushes visitors along at a velocity for some time; a push with an upward part throws them. */
export const push = stepKind(
  z.strictObject({ ...stepBase, kind: z.literal('push'), who, velocity: vector, seconds: seconds.default(0.5) }),
  {
    label: 'push a visitor',
    accepts: [],
    create: (ownId) => ({ id: ownId, kind: 'push' as const, ...byCause, velocity: { x: 2, y: 0, z: 0 }, seconds: 0.5 }),
    references: (step) => whoReferences(step.who),
    phrase: (step) => [
      'push ',
      ...whoPhrase(step.who),
      ' by ',
      metresSlot('velocity.x', 'metres a second east', step.velocity.x),
      ' east, ',
      metresSlot('velocity.y', 'metres a second north', step.velocity.y),
      ' north and ',
      metresSlot('velocity.z', 'metres a second up', step.velocity.z),
      ' up each second, for ',
      secondsSlot('seconds', 'how long', step.seconds),
    ],
    lasts: (step) => step.seconds,
    run: (step, stage, targets) => {
      for (const id of targets) stage.push(id, step.velocity, step.seconds);
      const ticks = stage.ticksOf(step.seconds);
      return ticks === 0 ? done : { ticks };
    },
  },
);

/** Turns visitors to a heading, or to face a place. */
export const turn = stepKind(
  z.strictObject({
    ...stepBase,
    kind: z.literal('turn'),
    who,
    degrees: heading.default(0),
    facing: place.nullable().default(null),
  }),
  {
    label: 'turn a visitor',
    accepts: [],
    create: (ownId) => ({ id: ownId, kind: 'turn' as const, ...byCause, degrees: 0, facing: null }),
    references: (step) => [...whoReferences(step.who), ...placeReferences('facing', step.facing)],
    phrase: (step) => [
      'turn ',
      ...whoPhrase(step.who),
      ...(step.facing === null
        ? [' to ', degreesSlot('degrees', 'heading', step.degrees)]
        : [' to face ', ...placePhrase('facing', step.facing)]),
    ],
    lasts: () => 0,
    run: (step, stage, targets) => {
      for (const id of targets) stage.turn(id, step.degrees, step.facing);
      return done;
    },
  },
);
