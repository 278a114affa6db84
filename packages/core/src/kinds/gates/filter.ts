import type { Filter } from '../../vocabulary/filters';
import type { GateVisitor, Gate, GateFailure } from './gate';

/** Gate 3: who counts. Says which part of the filter the visitor failed. */
export const filterGate: Gate = ({ heard }) => {
  if (heard === undefined) return null;
  const { cause, visitor, unaddressed, owner, others } = heard;
  if (unaddressed !== null) return unaddressed;
  const shutBy = filtered(cause.filter, visitor, owner);
  if (shutBy !== null) return shutBy;
  if (cause.counts === 'first-and-last' && (cause.on === 'enter' || cause.on === 'leave') && others()) {
    const first = cause.on === 'enter';
    return shut(first ? 'first one in' : 'last one out', first ? 'nobody inside' : 'nobody left inside', 'others');
  }
  return null;
};

/** What a filter says of a visitor: which part of it was failed, or null. */
export function filtered(filter: Filter, visitor: GateVisitor | undefined, owner: string | null): GateFailure {
  const { kinds, anyOf, allOf, noneOf, named, ownerOnly } = filter;
  const asks = kinds.length + anyOf.length + allOf.length + noneOf.length > 0 || named !== '' || ownerOnly;
  if (!asks) return null;
  if (visitor === undefined) return shut('visitor', 'a visitor', 'none');
  if (kinds.length > 0 && !kinds.includes(visitor.kind)) return shut('kinds', kinds.join(', '), visitor.kind);
  const has = (tag: string): boolean => visitor.tags.includes(tag);
  const tags = visitor.tags.join(', ');
  if (anyOf.length > 0 && !anyOf.some(has)) return shut('any of the tags', anyOf.join(', '), tags);
  if (!allOf.every(has)) return shut('all of the tags', allOf.join(', '), tags);
  if (noneOf.some(has)) return shut('none of the tags', noneOf.join(', '), tags);
  if (named !== '' && named !== visitor.id) return shut('visitor', named, visitor.id);
  if (ownerOnly && owner !== visitor.id) return shut('owner', owner ?? 'an owner', visitor.id);
  return null;
}

function shut(part: string, asked: string, found: string): GateFailure {
  return { reason: 'filtered', part, asked, found };
}
