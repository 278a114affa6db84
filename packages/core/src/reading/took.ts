import type { Chain } from '../document/chains';
import { kindOfStep } from '../kinds/steps';
import type { Ledger } from '../ledger/ledger';

/** What of a ledger says how long steps took: when each was done first, and what each entry brought about, by kinds. */
interface Steps {
  done: Map<string, { number: number; seconds: number }>;
  brought: Map<number, { kind: string; seconds: number }[]>;
}

const known = new WeakMap<Ledger, Steps>();

/**
 * How long the steps of a chain took in a run, in seconds by their ids, when each was done first: until what it raises at its end, or else until
 * the step that waits for it. Only what took some time.
 */
export function stepDurations(ledger: Ledger, chain: Chain): ReadonlyMap<string, number> {
  const { done, brought } = stepsOf(ledger);
  const took = new Map<string, number>();
  chain.steps.forEach((step, at) => {
    const own = done.get(`${chain.id} ${step.id}`);
    if (own === undefined) return;
    const ends: readonly string[] = kindOfStep(step.kind).raises?.end ?? [];
    const end = brought.get(own.number)?.find(({ kind }) => ends.includes(kind));
    const next = chain.steps[at + 1];
    const waiting = next?.start === 'after' ? done.get(`${chain.id} ${next.id}`) : undefined;
    const until = end?.seconds ?? (waiting === undefined ? own.seconds : waiting.seconds - next!.delay);
    const seconds = Math.round((until - own.seconds) * 1000) / 1000;
    if (seconds > 0) took.set(step.id, seconds);
  });
  return took;
}

function stepsOf(ledger: Ledger): Steps {
  let found = known.get(ledger);
  if (found !== undefined) return found;
  found = { done: new Map(), brought: new Map() };
  for (const { kind, number, seconds, chain, step, cause } of ledger) {
    const key = `${chain} ${step}`;
    if (kind === 'step' && !found.done.has(key)) found.done.set(key, { number, seconds });
    if (cause === null) continue;
    const others = found.brought.get(cause);
    if (others === undefined) found.brought.set(cause, [{ kind, seconds }]);
    else others.push({ kind, seconds });
  }
  known.set(ledger, found);
  return found;
}
