import * as z from 'zod';
import { choiceSlot } from '../../vocabulary/phrase';
import { reference } from '../../vocabulary/quantities';
import { done } from './stage';
import { named, stepBase, stepKind, tagged } from './step-kind';
import { switchable } from './switchable';

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
    wish: 'Visibility and collision',
    also: 'arm activate turn on unlock',
    target: 'thing',
    accepts: switchable,
    phrase: (step) => [
      'enable ',
      ...named(step, '/thing', step.thing, switchable),
      '; visitors inside ',
      choiceSlot('/insideEnter', 'whether those inside enter', step.insideEnter, [
        { value: false, label: 'enters nothing' },
        { value: true, label: 'fire enter' },
      ]),
    ],
    raises: { start: ['changed', 'enter'] },
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
