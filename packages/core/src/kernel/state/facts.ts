import type { WorldContext } from './context';
import type { CompiledLevel } from './plan';

/** Where a fact is kept: by its id, or by its id and the visitor's if it is kept for each visitor. */
export function valueKey(plan: CompiledLevel, id: string, triggeredBy: string | null): string {
  return plan.perVisitor.has(id) ? `${id} ${triggeredBy ?? ''}` : id;
}

/** The value of a flag, a counter or a text, for a visitor if it is kept for each. */
export function factOf(
  { plan, state }: WorldContext,
  id: string,
  triggeredBy: string | null,
): boolean | number | string | undefined {
  const key = valueKey(plan, id, triggeredBy);
  return state.flags.get(key) ?? state.counters.get(key) ?? state.texts.get(key) ?? plan.perVisitor.get(id);
}
