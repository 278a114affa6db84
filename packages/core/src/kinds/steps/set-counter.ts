import * as z from 'zod';
import { choiceSlot, referenceSlot } from '../../vocabulary/phrase';
import { boundsOf, reference, whole } from '../../vocabulary/quantities';
import { done } from './stage';
import { stepBase, stepKind } from './step-kind';

const counters = ['counter'] as const;

/** Sets a counter, or adds to it (a negative number takes away). */
export const setCounter = stepKind(
  z.strictObject({
    ...stepBase,
    kind: z.literal('set-counter'),
    counter: reference,
    how: z.enum(['set', 'add']).default('add'),
    value: whole.default(1),
  }),
  {
    label: 'set a counter',
    wish: 'State',
    also: 'variable count add score number',
    done: 'count',
    target: 'counter',
    accepts: counters,
    phrase: (step) => [
      choiceSlot('/how', 'set or add', step.how, [
        { value: 'set', label: 'set to' },
        { value: 'add', label: 'add' },
      ]),
      ' ',
      {
        path: '/value',
        label: 'number',
        value: step.value,
        input: { kind: 'number', unit: '', ...boundsOf(whole), step: 1, whole: true },
      },
      step.how === 'set' ? ' in ' : ' to ',
      referenceSlot('/counter', 'counter', step.counter, counters),
    ],
    raises: { start: ['changed'] },
    lasts: () => 0,
    run: (step, stage, [id]) => {
      stage.change('counter', id!, step.how === 'set' ? step.value : stage.counter(id!) + step.value);
      return done;
    },
  },
);
