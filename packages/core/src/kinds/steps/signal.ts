import * as z from 'zod';
import { length, reference, tag } from '../../vocabulary/quantities';
import { done } from './stage';
import { choiceSlot, lengthSlot, referenceSlot } from '../../vocabulary/phrase';
import { stepBase, stepKind } from './step-kind';

const signals = ['signal'] as const;

const address = z.discriminatedUnion('to', [
  z.strictObject({ to: z.literal('all') }),
  z.strictObject({ to: z.literal('tag'), tag }),
  z.strictObject({ to: z.literal('radius'), metres: length }),
]);

/** Sends a signal to everyone, to what has a tag, or within a radius of the visitor in hand (else of what set it off). */
export const signal = stepKind(
  z.strictObject({ ...stepBase, kind: z.literal('signal'), signal: reference, address: address.default({ to: 'all' }) }),
  {
    label: 'send a signal',
    wish: 'Signals and cues',
    also: 'message broadcast tell notify call',
    target: 'signal',
    accepts: signals,
    phrase: (step) => [
      'send ',
      referenceSlot('/signal', 'signal to send', step.signal, signals),
      ' to ',
      choiceSlot('/address', 'who hears it', step.address, [
        { value: { to: 'all' as const }, label: 'all' },
        { value: step.address.to === 'tag' ? step.address : { to: 'tag' as const, tag: 'tag' }, label: 'things tagged' },
        {
          value: step.address.to === 'radius' ? step.address : { to: 'radius' as const, metres: 5 },
          label: 'things within',
        },
      ]),
      ...(step.address.to === 'tag'
        ? [' ', { path: '/address/tag', label: 'tag', value: step.address.tag, input: { kind: 'tag' as const } }]
        : step.address.to === 'radius'
          ? [' ', lengthSlot('/address/metres', 'radius', step.address.metres)]
          : []),
    ],
    raises: { start: ['signal'] },
    lasts: () => 0,
    run: (step, stage, [id]) => {
      const { address: a } = step;
      stage.signal(id!, a.to === 'all' ? { all: true } : a.to === 'tag' ? { tag: a.tag } : { radius: a.metres });
      return done;
    },
  },
);
