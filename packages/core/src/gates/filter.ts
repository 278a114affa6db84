import type { Gate, Shut } from './gate';

/** Gate 3: who counts. Says which part of the filter the visitor failed. */
export const filterGate: Gate = ({ cause: { filter }, visitor }) => {
  const asks = filter.kinds.length + filter.anyOf.length + filter.allOf.length + filter.noneOf.length > 0;
  if (!asks) return null;
  if (visitor === undefined) return shut('visitor', 'a visitor', 'none');
  if (filter.kinds.length > 0 && !filter.kinds.includes(visitor.kind))
    return shut('kinds', filter.kinds.join(', '), visitor.kind);
  const has = (tag: string): boolean => visitor.tags.includes(tag);
  const tags = visitor.tags.join(', ');
  if (filter.anyOf.length > 0 && !filter.anyOf.some(has)) return shut('any of the tags', filter.anyOf.join(', '), tags);
  if (!filter.allOf.every(has)) return shut('all of the tags', filter.allOf.join(', '), tags);
  if (filter.noneOf.some(has)) return shut('none of the tags', filter.noneOf.join(', '), tags);
  return null;
};

function shut(part: string, asked: string, found: string): Shut {
  return { reason: 'filtered', details: { part, asked, found } };
}
