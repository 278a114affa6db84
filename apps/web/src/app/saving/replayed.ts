import { nameOf, parseLevel, replay } from '@nettlewick/core';
import type { Level, Lost, Renamed } from '@nettlewick/core';
import type { LevelsApi } from './levels-api';
import { failureText } from '../workers/api-client';

/**
 * What becomes of a level when the edits that made `ours` of an earlier revision are made again on it: which of our names had to
 * give way to theirs, and what could not be made; or why nothing of it can be, in a sentence for the user.
 */
export async function replayed(
  api: LevelsApi,
  levelId: string,
  revision: number,
  ours: Level,
  theirs: Level,
): Promise<{ ok: true; level: Level; renamed: Renamed[]; lost: Lost[] } | { ok: false; error: string }> {
  const base = await api.openRevision(levelId, revision);
  if (!base.ok) return { ok: false, error: failureText(base) };
  const { level, renamed, lost } = replay(base.value.level, ours, theirs);
  const parsed = parseLevel(level);
  if (!parsed.ok) return { ok: false, error: `The merged level is not valid: ${parsed.faults[0]?.message}.` };
  return { ok: true, level, renamed, lost: lost.map((one) => ({ ...one, name: nameOf(ours, one.id) })) };
}

/** What is said of names that gave way; null for none. */
export function renamedText(renamed: readonly Renamed[]): string | null {
  if (renamed.length === 0) return null;
  const [first, ...others] = renamed.map(({ from, to }) => `“${from.trim()}” is now called “${to}”`);
  const more =
    others.length === 0 ? '' : others.length === 1 ? `, and ${others[0]!}` : `, and ${others.length} more have new names`;
  return `The other window has used the same name: ${first!}${more}.`;
}
