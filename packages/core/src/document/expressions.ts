import { kindOfStep } from '../kinds/steps';
import type { Level } from './level';
import { pointer } from '../vocabulary/paths';
import type { Path } from '../vocabulary/paths';

/** An expression of a level: whose, where in the document, and its text. */
export interface Expression {
  from: string;
  path: Path;
  text: string;
}

/** Every expression of a level that asks for something, in document order. */
export function expressions(level: Level): Expression[] {
  const found: Expression[] = [];
  const add = (from: string, keys: (string | number)[], text: string, within: Path = ''): void => {
    if (text.trim() !== '') found.push({ from, path: pointer(keys) + within, text });
  };
  level.chains.forEach((chain, i) => {
    add(chain.id, ['chains', i, 'guard'], chain.guard);
    chain.steps.forEach((step, j) => {
      for (const { path, text } of kindOfStep(step.kind).conditions?.(step) ?? [])
        add(chain.id, ['chains', i, 'steps', j], text, path);
    });
  });
  level.watches.forEach((watch, i) => add(watch.id, ['watches', i, 'when'], watch.when));
  level.walks.forEach((walk, i) => {
    walk.expectations.forEach((one, j) => {
      if (one.expect === 'at-end') add(walk.id, ['walks', i, 'expectations', j, 'state'], one.state);
    });
  });
  return found;
}
