import type { Ledger } from '../ledger/ledger';
import type { EntryKind } from '../vocabulary/entries';
import type { Outcome } from './outcomes';

/** Entries that keep the books of chains and conditions: what comes of them is said by others. */
const books: ReadonlySet<EntryKind> = new Set([
  'start',
  'end',
  'chain-started',
  'chain-finished',
  'step',
  'gave-up',
  'held',
  'signal',
  'became-true',
  'became-false',
]);

/**
 * What an outcome comes to, whatever the order within a tick: what each state is at the end of each tick in which it changes, what
 * visitors and fixtures meet in each tick, and which expectations are met. Two outcomes with the same effect differ in the order of
 * entries alone, or in their bookkeeping.
 */
export function effectOf({ ledger, expectations }: Pick<Outcome, 'ledger' | 'expectations'>): string {
  const ticks: string[] = [];
  let [from, tick] = [1, 0];
  for (let number = 1; number <= ledger.length + 1; number++) {
    const entry = ledger.at(number);
    if (entry !== undefined && entry.tick === tick) continue;
    const said = effectOfTick(ledger, from, number);
    if (said !== '') ticks.push(`${tick}: ${said}`);
    if (entry !== undefined) [from, tick] = [number, entry.tick];
  }
  return [...ticks, ...expectations.map(({ id, passed }) => `${id} ${passed}`)].join('\n');
}

/** The entries of one tick, those before `to`. */
function effectOfTick(ledger: Ledger, from: number, to: number): string {
  const met: string[] = [];
  /** The last that is said of each side of each thing; what was set before a reset is gone with it. */
  const states = new Map<string, string>();
  let resets = '';
  for (let number = from; number < to; number++) {
    const { kind, who, what, chain, step, details } = ledger.at(number)!;
    if (kind === 'changed') {
      const { field, to: value } = details;
      if (field === 'reset' || field === 'started over') {
        resets += `${what} ${field} `;
        for (const key of [...states.keys()]) if (field === 'started over' || key.startsWith(`${what} `)) states.delete(key);
      } else states.set(`${what} ${field} ${who ?? ''}`, JSON.stringify(value));
    } else if (kind === 'step') {
      // Of a push and a stop, or two walks, the last one counts.
      if (who !== null || what !== null) states.set(`${what} does`, JSON.stringify(details.do));
    } else {
      if (kind === 'teleported' || kind === 'warped') states.set(`${what} place`, JSON.stringify(details));
      if (!books.has(kind)) met.push([kind, who, what, chain, step, JSON.stringify(details)].join(' '));
    }
  }
  const parts = [...met.sort(), ...[...states].map(([key, value]) => `${key} ${value}`).sort()];
  return resets === '' ? parts.join(', ') : `${resets}| ${parts.join(', ')}`;
}
