import { z } from 'zod';
import { whole } from '../../vocabulary/quantities';
import { reference } from '../../vocabulary/quantities';
import { done } from './stage';
import { choiceSlot, referenceSlot } from '../../vocabulary/phrase';
import type { Slot } from '../../vocabulary/phrase';
import { fixturesThatCan } from '../words';
import { noDelay, stepBase, stepKind } from './step-kind';

const flags = ['flag'] as const;
const counters = ['counter'] as const;
const texts = ['text'] as const;
const signs = fixturesThatCan('be written on');

/** Turns a flag on or off; raises `changed` only when it was otherwise before. */
export const setFlag = stepKind(z.strictObject({ ...stepBase, kind: z.literal('set-flag'), flag: reference, to: z.boolean() }), {
  label: 'set a flag',
  done: 'set',
  accepts: flags,
  create: (ownId, target) => ({ id: ownId, kind: 'set-flag' as const, ...noDelay, flag: target, to: true }),
  references: (step) => [{ path: 'flag', to: step.flag, accepts: flags }],
  phrase: (step) => [
    'set ',
    referenceSlot('flag', 'flag to set', step.flag, flags),
    ' ',
    choiceSlot('to', 'what to set it to', step.to, [
      { value: true, label: 'on' },
      { value: false, label: 'off' },
    ]),
  ],
  lasts: () => 0,
  run: (step, stage, [id]) => {
    stage.change('flag', id!, step.to);
    return done;
  },
});

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
    done: 'count',
    accepts: counters,
    create: (ownId, target) => ({
      id: ownId,
      kind: 'set-counter' as const,
      ...noDelay,
      counter: target,
      how: 'add' as const,
      value: 1,
    }),
    references: (step) => [{ path: 'counter', to: step.counter, accepts: counters }],
    phrase: (step) => [
      choiceSlot('how', 'set or add', step.how, [
        { value: 'set', label: 'set to' },
        { value: 'add', label: 'add' },
      ]),
      ' ',
      {
        path: 'value',
        label: 'number',
        value: step.value,
        input: { kind: 'number', unit: '', min: -1_000_000_000, max: 1_000_000_000, step: 1, whole: true },
      },
      step.how === 'set' ? ' in ' : ' to ',
      referenceSlot('counter', 'counter', step.counter, counters),
    ],
    lasts: () => 0,
    run: (step, stage, [id]) => {
      stage.change('counter', id!, step.how === 'set' ? step.value : stage.counter(id!) + step.value);
      return done;
    },
  },
);

const says = (label: string, value: string): Slot => ({ path: 'text', label, value, input: { kind: 'text', max: 500 } });
const written = z.string().max(500).meta({ description: '{visitor} stands for the name of the visitor that caused it' });

/** Writes a text of the level. */
export const setText = stepKind(z.strictObject({ ...stepBase, kind: z.literal('set-text'), target: reference, text: written }), {
  label: 'set a text',
  done: 'write in',
  accepts: texts,
  create: (ownId, target) => ({ id: ownId, kind: 'set-text' as const, ...noDelay, target, text: '' }),
  references: (step) => [{ path: 'target', to: step.target, accepts: texts }],
  phrase: (step) => ['write ', says('what it says', step.text), ' in ', referenceSlot('target', 'text', step.target, texts)],
  lasts: () => 0,
  run: (step, stage, [id]) => {
    stage.change('text', id!, stage.worded(step.text));
    return done;
  },
});

/** Writes on a sign or a map marker; raises `changed` only when it said something else before. */
export const writeSign = stepKind(
  z.strictObject({ ...stepBase, kind: z.literal('write-sign'), sign: reference, text: written }),
  {
    label: 'write on a sign',
    done: 'write on',
    accepts: signs,
    create: (ownId, target) => ({ id: ownId, kind: 'write-sign' as const, ...noDelay, sign: target, text: '' }),
    references: (step) => [{ path: 'sign', to: step.sign, accepts: signs }],
    phrase: (step) => [
      'write ',
      says('what the sign says', step.text),
      ' on ',
      referenceSlot('sign', 'sign to write on', step.sign, signs),
    ],
    lasts: () => 0,
    run: (step, stage, [id]) => {
      stage.change('text', id!, stage.worded(step.text));
      return done;
    },
  },
);
