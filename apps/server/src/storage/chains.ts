import { applied } from '@nettlewick/core';
import type { Edit, Level } from '@nettlewick/core';
import type { DataSource, EntityManager } from 'typeorm';

/**
 * A revision as it is stored: the newest whole document at or before it, and the edits after that, each as JSON with a list `edits`. And
 * what the revision is known by.
 */
export interface Chain {
  number: number;
  digest: string | null;
  savedAt: Date;
  document: string;
  edits: string[];
}

/** The text of a document after the edits that are stored after it. */
export type Rebuild = (chain: Pick<Chain, 'document' | 'edits'>) => Promise<string>;

/** The text of a document after edits. Both are of one version of the format, and so is what they make. */
export function textAfter({ document, edits }: Pick<Chain, 'document' | 'edits'>): string {
  if (edits.length === 0) return document;
  const all = edits.flatMap((text) => (JSON.parse(text) as { edits: Edit[] }).edits);
  return JSON.stringify(all.reduce(applied, JSON.parse(document) as Level));
}

/** Rebuilds a document where nobody else is waiting. */
export const rebuildHere: Rebuild = async (chain) => textAfter(chain);

/** A revision of a level (null: its newest) as it is stored; null if there is none. Levels that are deleted have theirs still. */
export async function chainOf(
  source: DataSource | EntityManager,
  id: string,
  number: number | null,
): Promise<(Chain & { deleted: boolean }) | null> {
  const rows: {
    number: number;
    digest: string | null;
    saved_at: Date;
    document: string | null;
    edits: string | null;
    deleted: boolean;
  }[] = await source.query(
    `WITH wanted AS (SELECT id, COALESCE($2::integer, revision) AS number, deleted_at IS NOT NULL AS deleted FROM levels WHERE id = $1)
     SELECT r.number, r.digest, r.saved_at, w.deleted,
            CASE WHEN r.number = f.number THEN r.document::text END AS document,
            CASE WHEN r.number > f.number THEN r.edits::text END AS edits
       FROM wanted w
       JOIN LATERAL (SELECT max(number) AS number FROM revisions
                      WHERE level_id = w.id AND number <= w.number AND document IS NOT NULL) f ON true
       JOIN revisions r ON r.level_id = w.id AND r.number BETWEEN f.number AND w.number
      WHERE EXISTS (SELECT 1 FROM revisions WHERE level_id = w.id AND number = w.number)
      ORDER BY r.number`,
    [id, number],
  );
  const [first] = rows;
  const last = rows.at(-1);
  if (first === undefined || last === undefined || first.document === null) return null;
  return {
    number: last.number,
    digest: last.digest,
    savedAt: last.saved_at,
    document: first.document,
    edits: rows.slice(1).map(({ edits }) => edits!),
    deleted: last.deleted,
  };
}

/** The number of newest revisions of a level that are always kept. */
const NEWEST_KEPT = 100;

/**
 * Thins the revisions of a level: all of the last day stay, then the last of each hour for a week, then the last of each day;
 * named and kept ones for ever. Ages are counted back from the level's own newest revision, and the newest hundred stay
 * whatever their age, so that a clock that jumps takes nothing along. A revision that stays and builds on one that goes
 * is stored whole first. Returns how many were removed.
 */
export async function thin(source: DataSource, id: string, rebuild: Rebuild): Promise<number> {
  return source.transaction(async (manager) => {
    const going: { number: number }[] = await manager.query(
      `WITH aged AS (
         SELECT r.number, r.saved_at, l.saved_at - r.saved_at AS age,
                row_number() OVER (ORDER BY r.number DESC) AS place,
                row_number() OVER (PARTITION BY date_trunc('hour', r.saved_at) ORDER BY r.number DESC) AS in_hour,
                row_number() OVER (PARTITION BY date_trunc('day', r.saved_at) ORDER BY r.number DESC) AS in_day,
                r.kept OR r.name IS NOT NULL AS stays
           FROM revisions r JOIN levels l ON l.id = r.level_id WHERE r.level_id = $1)
       SELECT number FROM revisions
        WHERE level_id = $1 AND number IN (
          SELECT number FROM aged WHERE NOT stays AND place > ${NEWEST_KEPT}
             AND ((age > interval '7 days' AND in_day > 1) OR (age > interval '1 day' AND age <= interval '7 days' AND in_hour > 1)))
          AND NOT kept AND name IS NULL
        ORDER BY number FOR UPDATE`,
      [id],
    );
    if (going.length === 0) return 0;
    const numbers = going.map(({ number }) => number);
    const after: { number: number }[] = await manager.query(
      `SELECT number FROM (
         SELECT number, document IS NULL AS open, lag(number) OVER (ORDER BY number) AS before FROM revisions WHERE level_id = $1) r
        WHERE open AND before = ANY ($2::integer[]) AND NOT number = ANY ($2::integer[])`,
      [id, numbers],
    );
    for (const { number } of after) {
      const chain = await chainOf(manager, id, number);
      const document = await rebuild(chain!);
      await manager.query('UPDATE revisions SET document = $3::json WHERE level_id = $1 AND number = $2', [id, number, document]);
    }
    await manager.query('DELETE FROM revisions WHERE level_id = $1 AND number = ANY ($2::integer[])', [id, numbers]);
    return numbers.length;
  });
}
