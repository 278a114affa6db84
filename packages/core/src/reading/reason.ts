import { change } from '../document/edits';
import type { Edit } from '../document/edits';
import type { Chain } from '../document/chains';
import type { Level } from '../document/level';
import { lookup, nameOf } from '../document/lookup';
import type { Visitor } from '../document/people';
import type { Zone } from '../document/places';
import type { Cause } from '../kinds/causes/cause';
import type { Fixture } from '../kinds/fixtures';
import type { Entry } from '../ledger/entry';

/** One part of an answer: in a sentence, with the entries that say so, and the remedy as an edit where there is one. */
export interface Reason {
  says: string;
  /** Numbers of entries, the first the most telling. */
  entries: number[];
  /** A tick to look at, where no entry says it. */
  tick: number | null;
  /** What to do about it; empty for nothing. */
  mend: string;
  edit: Edit | null;
}

/** One part of an answer, with no remedy that could be made by a press. */
export function reason(says: string, entries: number[] = [], mend = ''): Reason {
  return { says, entries, tick: null, mend, edit: null };
}

/** When an entry came, in words. */
export function at(entry: Entry): string {
  return `${round(entry.seconds)} s`;
}

/** To two places. */
export function round(value: number): number {
  return Math.round(value * 100) / 100;
}

/** The name of a thing in quotes. */
export function quoted(level: Level, id: string): string {
  return `“${nameOf(level, id).trim()}”`;
}

export const nothing = { mend: '', edit: null };

/** What lets a chain answer to what was held, as an edit where there is one. */
export function remedyOf(level: Level, chain: Chain, entry: Entry): { mend: string; edit: Edit | null } {
  if (entry.kind !== 'held') return nothing;
  const cause = causeOf(chain, entry);
  const at = cause === undefined ? -1 : chain.causes.indexOf(cause);
  const withCause = (fields: Partial<Cause>): Edit | null =>
    cause === undefined ? null : change('chains', chain, { causes: chain.causes.with(at, { ...cause, ...fields }) });
  const visitor = lookup(level).get(entry.who ?? '')?.thing as Visitor | undefined;
  switch (entry.details.reason) {
    case 'filtered': {
      const { part, asked } = entry.details;
      if (part === 'kinds' && cause !== undefined && visitor !== undefined) {
        const kinds = [...cause.filter.kinds, visitor.kind];
        return {
          mend: `Allow ${visitor.kind}s in the filter.`,
          edit: withCause({ filter: { ...cause.filter, kinds: kinds.length === 3 ? [] : kinds } }),
        };
      }
      const [tag] = asked.split(', ');
      if ((part === 'any of the tags' || part === 'all of the tags') && visitor !== undefined && tag !== undefined && tag !== '')
        return {
          mend: `Tag ${quoted(level, visitor.id)} “${tag}”.`,
          edit: change('visitors', visitor, { tags: [...visitor.tags, tag] }),
        };
      return { mend: 'Change the filter of its cause.', edit: null };
    }
    case 'disabled': {
      const found = lookup(level).get(entry.what ?? '');
      if (found?.collection !== 'zones' && found?.collection !== 'fixtures') return nothing;
      return { mend: 'Enable it.', edit: change(found.collection, found.thing as Zone | Fixture, { enabled: true }) };
    }
    case 'chain-off':
      return { mend: 'Switch the chain on.', edit: change('chains', chain, { enabled: true }) };
    case 'used-up':
      return { mend: 'Let it start every time.', edit: withCause({ limit: null }) };
    case 'cooling':
      return { mend: 'Remove the cooldown.', edit: withCause({ cooldown: 0 }) };
    case 'condition-false':
      return { mend: 'Remove the condition.', edit: change('chains', chain, { guard: '' }) };
    case 'running':
      return { mend: 'Queue the second run.', edit: change('chains', chain, { whileRunning: 'queue' }) };
    case 'silent-visitor':
      return visitor === undefined
        ? nothing
        : { mend: 'Turn on “raises overlaps”.', edit: change('visitors', visitor, { raisesOverlaps: true }) };
    default:
      return nothing;
  }
}

function causeOf(chain: Chain, entry: Entry): Cause | undefined {
  const event = entry.kind === 'held' ? entry.details.event : '';
  return chain.causes.find(({ on, of }) => on === event && (entry.what === null || of === entry.what)) ?? chain.causes[0];
}
