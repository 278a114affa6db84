import type { Level } from '../level/level';
import { lookup } from '../level/lookup';
import { Conditions } from './conditions';
import type { ConditionFault } from './conditions';
import { expressions } from './expressions';
import type { Expression } from './expressions';

/** What is wrong with the expressions of a level, found before anything runs. */
export function conditionFaults(level: Level): { expression: Expression; fault: ConditionFault }[] {
  const conditions = new Conditions(lookup(level), () => false);
  return expressions(level).flatMap((expression) =>
    conditions.of(expression.text).faults.map((fault) => ({ expression, fault })),
  );
}
