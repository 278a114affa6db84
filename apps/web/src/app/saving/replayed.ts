import { EditError, apply, editsBetween, parseLevel } from '@nettlewick/core';
import type { Level } from '@nettlewick/core';
import type { LevelsApi } from './levels-api';
import { failureText } from './asking';

/**
 * What becomes of a level when the edits that made `ours` of an earlier revision are made again on it; or why they cannot be,
 * in a sentence for the user.
 */
export async function replayed(
  api: LevelsApi,
  levelId: string,
  revision: number,
  ours: Level,
  theirs: Level,
): Promise<{ ok: true; level: Level } | { ok: false; wrong: string }> {
  const base = await api.openRevision(levelId, revision);
  if (!base.ok) return { ok: false, wrong: failureText(base) };
  try {
    const level = editsBetween(base.value.level, ours).reduce<Level>(apply, theirs);
    const parsed = parseLevel(level);
    if (parsed.ok) return { ok: true, level };
    return { ok: false, wrong: `Together they are no valid level: ${parsed.faults[0]?.message}.` };
  } catch (error) {
    if (!(error instanceof EditError)) throw error;
    return { ok: false, wrong: `The edits do not fit: ${error.message}.` };
  }
}
