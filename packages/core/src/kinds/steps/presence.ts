import { z } from 'zod';
import { reference } from '../../vocabulary/quantities';
import { done } from './stage';
import type { Part } from './stage';
import { choiceSlot } from '../../vocabulary/phrase';
import { anyFixture, bodiedFixture } from '../words';
import type { ThingWord } from '../words';
import { named } from './motions';
import { fixturesThatCan } from '../words';
import { noDelay, stepBase, stepKind, tagged } from './step-kind';

/** Changes one side of what a fixture is. What is hidden is still there: it blocks and weighs as before. */
function fixtureStep<K extends 'show' | 'hide' | 'make-solid' | 'make-passable'>(
  kind: K,
  label: string,
  verb: string,
  accepts: readonly ThingWord[],
  part: Part,
  to: boolean,
) {
  return stepKind(z.strictObject({ ...stepBase, kind: z.literal(kind), fixture: reference, tagged }), {
    label,
    accepts,
    create: (ownId, target) => ({ id: ownId, kind, ...noDelay, fixture: target, tagged: '' }),
    references: (step) => [{ path: 'fixture', to: step.fixture, accepts }],
    phrase: (step) => [`${verb} `, ...named(step, 'fixture', step.fixture, accepts)],
    lasts: () => 0,
    run: (_step, stage, targets) => {
      for (const id of targets) stage.change(part, id, to);
      return done;
    },
  });
}

const movable = fixturesThatCan('be solid');

export const show = fixtureStep('show', 'show a fixture', 'show', anyFixture, 'shown', true);
export const hide = fixtureStep('hide', 'hide a fixture', 'hide', anyFixture, 'shown', false);
export const makeSolid = fixtureStep('make-solid', 'make a fixture solid', 'make solid', movable, 'solid', true);
export const makePassable = fixtureStep('make-passable', 'make a fixture passable', 'make passable', movable, 'solid', false);

const switchable: readonly ThingWord[] = ['zone', ...anyFixture, 'chain'];

/** Enables zones, fixtures or chains. Those inside enter only if the step says so. */
export const enable = stepKind(
  z.strictObject({
    ...stepBase,
    kind: z.literal('enable'),
    thing: reference,
    tagged,
    insideEnter: z.boolean().default(false).meta({ description: 'whether those who are inside already enter' }),
  }),
  {
    label: 'enable something',
    accepts: switchable,
    create: (ownId, target) => ({
      id: ownId,
      kind: 'enable' as const,
      ...noDelay,
      thing: target,
      tagged: '',
      insideEnter: false,
    }),
    references: (step) => [{ path: 'thing', to: step.thing, accepts: switchable }],
    phrase: (step) => [
      'enable ',
      ...named(step, 'thing', step.thing, switchable),
      '; who is inside ',
      choiceSlot('insideEnter', 'whether those inside enter', step.insideEnter, [
        { value: false, label: 'enters nothing' },
        { value: true, label: 'enters it then' },
      ]),
    ],
    lasts: () => 0,
    run: (step, stage, targets) => {
      for (const id of targets) {
        const changed = stage.change('enabled', id, true);
        if (changed && step.insideEnter) stage.enterThoseInside(id);
      }
      return done;
    },
  },
);

export const disable = stepKind(z.strictObject({ ...stepBase, kind: z.literal('disable'), thing: reference, tagged }), {
  label: 'disable something',
  accepts: switchable,
  create: (ownId, target) => ({ id: ownId, kind: 'disable' as const, ...noDelay, thing: target, tagged: '' }),
  references: (step) => [{ path: 'thing', to: step.thing, accepts: switchable }],
  phrase: (step) => ['disable ', ...named(step, 'thing', step.thing, switchable)],
  lasts: () => 0,
  run: (_step, stage, targets) => {
    for (const id of targets) stage.change('enabled', id, false);
    return done;
  },
});

/** Puts a fixture back as it was at the start. */
export const reset = stepKind(z.strictObject({ ...stepBase, kind: z.literal('reset'), fixture: reference, tagged }), {
  label: 'reset a fixture',
  accepts: anyFixture,
  create: (ownId, target) => ({ id: ownId, kind: 'reset' as const, ...noDelay, fixture: target, tagged: '' }),
  references: (step) => [{ path: 'fixture', to: step.fixture, accepts: anyFixture }],
  phrase: (step) => ['reset ', ...named(step, 'fixture', step.fixture, anyFixture)],
  lasts: () => 0,
  run: (_step, stage, targets) => {
    for (const id of targets) stage.resetFixture(id);
    return done;
  },
});
