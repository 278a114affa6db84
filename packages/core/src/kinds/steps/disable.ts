import * as z from 'zod';
import { reference } from '../../vocabulary/quantities';
import { done } from './stage';
import { named, stepBase, stepKind, tagged } from './step-kind';
import { switchable } from './switchable';

export const disable = stepKind(z.strictObject({ ...stepBase, kind: z.literal('disable'), thing: reference, tagged }), {
  label: 'disable something',
  wish: 'Visibility and collision',
  also: 'disarm deactivate turn off lock',
  target: 'thing',
  accepts: switchable,
  phrase: (step) => ['disable ', ...named(step, '/thing', step.thing, switchable)],
  raises: { start: ['changed'] },
  lasts: () => 0,
  run: (_step, stage, targets) => {
    for (const id of targets) stage.change('enabled', id, false);
    return done;
  },
});
