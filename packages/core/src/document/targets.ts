import { kindOfStep } from '../kinds/steps';
import type { Step } from '../kinds/steps';
import { anyVisitor } from '../kinds/words';
import type { Level } from './level';
import { lookup } from './lookup';
import type { Found } from './lookup';

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

/** Whether a step acts on a thing, by its name or by a tag of it; of visitors those that the document names. */
export function actsOn(step: Step, { thing, word }: Found): boolean {
  const tags: readonly string[] = 'tags' in thing ? (thing as { tags: string[] }).tags : [];
  const kind = kindOfStep(step.kind);
  if ('tagged' in step && step.tagged !== '')
    return tags.includes(step.tagged) && (kind.accepts as readonly string[]).includes(word);
  if ('who' in step && step.who.by === 'tag')
    return (anyVisitor as readonly string[]).includes(word) && tags.includes(step.who.tag);
  return namedTarget(step) === thing.id;
}

/** The id of what a step acts on because it names it; null where it acts on what has a tag, or on whom only the run tells. */
export function namedTarget(step: Step): string | null {
  if (('tagged' in step && step.tagged !== '') || ('who' in step && step.who.by !== 'name')) return null;
  return kindOfStep(step.kind).references(step)[0]?.to ?? null;
}

/** What a step acts on, visitors among it; null for visitors who are only known when it is done. */
export function actedOn(level: Level, step: Step): (string | null)[] {
  if (!('who' in step)) return targetsOf(level, step);
  const { who } = step;
  if (who.by === 'name') return who.visitor === '' ? [] : [who.visitor];
  return who.by === 'tag' ? level.visitors.filter(({ tags }) => tags.includes(who.tag)).map(({ id }) => id) : [null];
}
