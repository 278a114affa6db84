import { Conditions } from '../conditions/conditions';
import type { ConditionFault } from '../conditions/conditions';
import { expressions } from '../document/expressions';
import type { Expression } from '../document/expressions';
import type { Level } from '../document/level';
import { lookup } from '../document/lookup';

/** What is wrong with the expressions of a level, found before anything runs. */
export function conditionFaults(level: Level): { expression: Expression; fault: ConditionFault }[] {
  const conditions = new Conditions(lookup(level), () => false);
  return expressions(level).flatMap((expression) =>
    conditions.of(expression.text).faults.map((fault) => ({ expression, fault })),
  );
}
