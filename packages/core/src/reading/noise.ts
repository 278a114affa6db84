import type { Entry } from '../ledger/entry';

/**
 * The numbers of entries that a table need not show: what is collected is disabled, so leaving it is held, each time. The ledger itself
 * keeps them.
 */
export function noiseIn(entries: Iterable<Entry>): Set<number> {
  const collected = new Set<string>();
  const found = new Set<number>();
  for (const entry of entries) {
    const { kind, what, number } = entry;
    if (what === null) continue;
    if (kind === 'collected') collected.add(what);
    else if (kind === 'changed') {
      const { field, to } = entry.details;
      if (field === 'started over') collected.clear();
      if (field === 'reset' || (field === 'enabled' && to === true)) collected.delete(what);
    } else if (kind === 'held' && collected.has(what)) {
      const { event, reason } = entry.details;
      if (event === 'leave' && reason === 'disabled') found.add(number);
    }
  }
  return found;
}
