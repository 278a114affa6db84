import { collections, levelFields, same } from '@nettlewick/core';
import type { Edit, Level } from '@nettlewick/core';

/** One edit that makes of `before` what `after` is, list by list. */
export function replacing(before: Level, after: Level): Edit {
  const fields = [...collections, ...levelFields];
  const differing = fields.filter((field) => !same(before[field], after[field]));
  const pick = (level: Level): Record<string, unknown> =>
    Object.fromEntries(differing.filter((field) => field in level).map((field) => [field, level[field]]));
  return { kind: 'level', before: pick(before), after: pick(after) };
}
