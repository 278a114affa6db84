import { EditError, parseLevel, replay } from '@nettlewick/core';
import type { Level, Renamed } from '@nettlewick/core';
import type { LevelsApi } from './levels-api';
import { failureText } from '../workers/asking';

/**
 * What becomes of a level when the edits that made `ours` of an earlier revision are made again on it, and which of our names had to
 * give way to theirs; or why they cannot be, in a sentence for the user.
 */
export async function replayed(
  api: LevelsApi,
  levelId: string,
  revision: number,
  ours: Level,
  theirs: Level,
): Promise<{ ok: true; level: Level; renamed: Renamed[] } | { ok: false; wrong: string }> {
  const base = await api.openRevision(levelId, revision);
  if (!base.ok) return { ok: false, wrong: failureText(base) };
  try {
    const { level, renamed } = replay(base.value.level, ours, theirs);
    const parsed = parseLevel(level);
    if (parsed.ok) return { ok: true, level, renamed };
    return { ok: false, wrong: `The merged level is not valid: ${parsed.faults[0]?.message}.` };
  } catch (error) {
    if (!(error instanceof EditError)) throw error;
    return { ok: false, wrong: `Could not reapply the edits: ${error.message}.` };
  }
}

/** What is said of names that gave way; null for none. */
export function renamedText(renamed: readonly Renamed[]): string | null {
  if (renamed.length === 0) return null;
  const [first, ...others] = renamed.map(({ from, to }) => `“${from.trim()}” is now called “${to}”`);
  const more =
    others.length === 0 ? '' : others.length === 1 ? `, and ${others[0]!}` : `, and ${others.length} more have new names`;
  return `The other window has used the same name: ${first!}${more}.`;
}
