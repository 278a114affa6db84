import { kindOfStep } from '../kinds/steps';
import { pointer } from '../vocabulary/paths';
import type { Path } from '../vocabulary/paths';
import type { Collection, Level, Thing } from './level';

/** An expression of a level: whose, where in the document, and its text. */
export interface Expression {
  from: string;
  path: Path;
  text: string;
}

/** An expression of one thing: where in the thing, and its text. */
export type OwnExpression = Omit<Expression, 'from'>;

/** The collections whose things can ask for something. */
const asking = ['chains', 'watches', 'walks'] as const satisfies readonly Collection[];

/** Every expression of a level that asks for something, in document order. */
export function expressions(level: Level): Expression[] {
  return asking.flatMap((collection) =>
    level[collection].flatMap((thing, i) =>
      expressionsOf(collection, thing).map(({ path, text }) => ({
        from: thing.id,
        path: pointer([collection, i]) + path,
        text,
      })),
    ),
  );
}

const known = new WeakMap<Thing, readonly OwnExpression[]>();
const none: readonly OwnExpression[] = [];

/** The expressions of one thing, in document order; found once, for a thing is never changed in place. */
export function expressionsOf(collection: Collection, thing: Thing): readonly OwnExpression[] {
  if (!(asking as readonly string[]).includes(collection)) return none;
  let found = known.get(thing);
  if (found === undefined) {
    found = [...find(collection as (typeof asking)[number], thing)].filter(({ text }) => text.trim() !== '');
    known.set(thing, found);
  }
  return found;
}

function* find(collection: (typeof asking)[number], thing: Thing): Generator<OwnExpression> {
  switch (collection) {
    case 'chains': {
      const { guard, steps } = thing as Level['chains'][number];
      yield { path: '/guard', text: guard };
      for (const [j, step] of steps.entries()) {
        for (const { path, text } of kindOfStep(step.kind).conditions?.(step) ?? [])
          yield { path: pointer(['steps', j]) + path, text };
      }
      return;
    }
    case 'watches':
      yield { path: '/when', text: (thing as Level['watches'][number]).when };
      return;
    case 'walks':
      for (const [j, one] of (thing as Level['walks'][number]).expectations.entries()) {
        if (one.expect === 'at-end') yield { path: pointer(['expectations', j, 'state']), text: one.state };
      }
  }
}
