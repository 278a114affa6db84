import { kindOfStep } from '../kinds/steps';
import type { Step } from '../kinds/steps';
import type { Level } from './level';
import { lookup } from './lookup';

/** The ids that a step acts on: what it names, or all that have its tag; none while nothing is chosen. Visitors are not among them. */
export function targetsOf(level: Level, step: Step): string[] {
  const kind = kindOfStep(step.kind);
  if ('tagged' in step && step.tagged !== '') {
    const accepts: readonly string[] = kind.accepts;
    const things = lookup(level);
    return [...level.zones, ...level.fixtures]
      .filter(({ id, tags }) => tags.includes(step.tagged) && accepts.includes(things.get(id)!.word))
      .map(({ id }) => id);
  }
  const [first] = kind.references(step);
  return first === undefined || first.to === '' ? [] : [first.to];
}
