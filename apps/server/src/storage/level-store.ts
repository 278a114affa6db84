import type { LevelList, Revision, RevisionList, Saved } from '@nettlewick/contract';
import type { Pool } from 'pg';
import type { DataSource } from 'typeorm';
import { digestOf } from './digest';
import { NotFound, Stale } from './errors';
import { asStorageTrouble } from './trouble';
import { Turns } from './turns';

/** A document that has been read: its name, its text (UTF-8), and the digest of that. */
export interface Checked {
  name: string;
  bytes: Uint8Array;
  digest: string;
}

/** A stored document: which revision of which level it is, and its text. */
export interface StoredText {
  id: string;
  revision: number;
  savedAt: string;
  text: string;
}

/** Brings a stored text to what the program of today reads; throws BrokenDocument. */
export type Current = (text: string, digest: string) => Promise<string>;

export interface Page {
  limit: number;
  after: string | null;
}

/** A deleted level can be recovered for this long at the least. */
export const RECOVERABLE_DAYS = 30;

/** So many of a level's newest revisions are kept, however old they are. */
const NEWEST_KEPT = 100;
/** After so many saves of a level its revisions are thinned. */
const THIN_EVERY = 50;

/** The levels in the database. Every save that changes anything is a new revision; revisions are never changed. */
export class LevelStore {
  private readonly turns = new Turns();
  /** Whether the last thing to be stored did not find room. */
  diskFull = false;

  private readonly pool: Pool;

  constructor(private readonly source: DataSource) {
    this.pool = (source.driver as unknown as { master: Pool }).master;
  }

  async answers(): Promise<void> {
    await this.source.query('SELECT 1');
  }

  async isEmpty(): Promise<boolean> {
    const [row] = await this.rows<{ any: boolean }>('SELECT EXISTS (SELECT 1 FROM levels) AS any');
    return !row!.any;
  }

  /** The levels, last saved first; or those that are deleted and can still be recovered. */
  async list(deleted: boolean, { limit, after }: Page): Promise<LevelList> {
    const [time, id] = after === null ? [null, null] : readPlace(after);
    const rows = await this.rows<LevelRow>(
      `SELECT id, name, revision, saved_at, deleted_at FROM levels
        WHERE deleted_at IS ${deleted ? 'NOT NULL' : 'NULL'}
          AND ($1::timestamptz IS NULL OR (saved_at, id) < ($1::timestamptz, $2::uuid))
        ORDER BY saved_at DESC, id DESC LIMIT $3`,
      [time, id, limit + 1],
    );
    const page = rows.slice(0, limit);
    const last = page.at(-1);
    const next = rows.length > limit && last !== undefined ? `${last.saved_at.getTime()}~${last.id}` : null;
    return {
      levels: page.map((row) => ({
        id: row.id,
        name: row.name,
        revision: row.revision,
        savedAt: row.saved_at.toISOString(),
        deletedAt: row.deleted_at?.toISOString() ?? null,
      })),
      next,
    };
  }

  async create({ name, bytes, digest }: Checked): Promise<Saved> {
    const [row] = await this.write<SavedRow>(
      `WITH made AS (
         INSERT INTO levels (name, revision, saved_at, digest) VALUES ($1, 1, date_trunc('milliseconds', clock_timestamp()), $2)
         RETURNING id, revision, saved_at)
       INSERT INTO revisions (level_id, number, document, bytes, saved_at)
         SELECT id, revision, $3::json, $4, saved_at FROM made
       RETURNING level_id AS id, number AS revision, saved_at`,
      [name, digest, asParameter(bytes), bytes.length],
    );
    return savedOf(row!);
  }

  async open(id: string, current: Current): Promise<StoredText> {
    return this.read(id, null, current);
  }

  async openRevision(id: string, number: number, current: Current): Promise<StoredText> {
    return this.read(id, number, current);
  }

  private async read(id: string, number: number | null, current: Current): Promise<StoredText> {
    const [row] = await this.rows<{ number: number; document: string; saved_at: Date }>(
      `SELECT r.number, r.document::text AS document, r.saved_at FROM levels l
         JOIN revisions r ON r.level_id = l.id AND r.number = COALESCE($2::integer, l.revision)
        WHERE l.id = $1 AND l.deleted_at IS NULL`,
      [id, number],
    );
    if (row === undefined) throw new NotFound();
    const digest = digestOf(row.document);
    const text = await current(row.document, digest);
    return { id, revision: row.number, savedAt: row.saved_at.toISOString(), text };
  }

  /** The newest revision's number, without its document. */
  async currentRevision(id: string): Promise<number> {
    return (await this.newest(id)).revision;
  }

  private async newest(id: string): Promise<SavedRow & { digest: string | null }> {
    const [row] = await this.rows<SavedRow & { digest: string | null }>(
      'SELECT id, revision, saved_at, digest FROM levels WHERE id = $1 AND deleted_at IS NULL',
      [id],
    );
    if (row === undefined) throw new NotFound();
    return row;
  }

  /** Throws Stale with the number of the newest revision. */
  async refuseStale(id: string): Promise<never> {
    throw new Stale(await this.currentRevision(id));
  }

  /**
   * Saves a document over one of the revisions that are accepted (null: over any), as a new revision; the very document that
   * is stored already makes none. Refused as Stale if the newest is none of them. Saves of one level wait for each other
   * before they ask for a connection; one that waits too long is refused as Busy.
   */
  async save(id: string, accepts: readonly number[] | null, { name, bytes, digest }: Checked): Promise<Saved> {
    return this.turns.take(id, async () => {
      const [row] = await this.write<SavedRow>(
        `WITH moved AS (
           UPDATE levels SET name = $2, revision = revision + 1, saved_at = date_trunc('milliseconds', clock_timestamp()), digest = $3
            WHERE id = $1 AND deleted_at IS NULL AND digest IS DISTINCT FROM $3
              AND ($4::integer[] IS NULL OR revision = ANY ($4::integer[]))
           RETURNING id, revision, saved_at)
         INSERT INTO revisions (level_id, number, document, bytes, saved_at)
           SELECT id, revision, $5::json, $6, saved_at FROM moved
         RETURNING level_id AS id, number AS revision, saved_at`,
        [id, name, digest, accepts, asParameter(bytes), bytes.length],
      );
      if (row === undefined) {
        const newest = await this.newest(id);
        const accepted = accepts === null || accepts.includes(newest.revision);
        if (!accepted || newest.digest !== digest) throw new Stale(newest.revision);
        return savedOf(newest);
      }
      if (row.revision % THIN_EVERY === 0) await this.thin(id);
      return savedOf(row);
    });
  }

  async delete(id: string): Promise<void> {
    const rows = await this.write('UPDATE levels SET deleted_at = now() WHERE id = $1 AND deleted_at IS NULL RETURNING id', [id]);
    if (rows.length === 0) throw new NotFound();
  }

  async restore(id: string): Promise<Saved> {
    const [row] = await this.write<SavedRow>(
      'UPDATE levels SET deleted_at = NULL WHERE id = $1 AND deleted_at IS NOT NULL RETURNING id, revision, saved_at',
      [id],
    );
    if (row === undefined) throw new NotFound();
    return savedOf(row);
  }

  /** The revisions of a level, newest first. */
  async revisions(id: string, { limit, after }: Page): Promise<RevisionList> {
    await this.newest(id);
    const below = after === null ? null : Number(after);
    const rows = await this.rows<RevisionRow>(
      `SELECT number, saved_at, bytes, name, kept FROM revisions
        WHERE level_id = $1 AND ($2::integer IS NULL OR number < $2) ORDER BY number DESC LIMIT $3`,
      [id, below, limit + 1],
    );
    const page = rows.slice(0, limit);
    return { revisions: page.map(revisionOf), next: rows.length > limit ? String(page.at(-1)!.number) : null };
  }

  /** Names a revision, or keeps it for ever because it was gone back to. */
  async keepRevision(id: string, number: number, { name, kept }: { name?: string | null; kept?: true }): Promise<Revision> {
    await this.newest(id);
    const [row] = await this.write<RevisionRow>(
      `UPDATE revisions SET name = CASE WHEN $3 THEN $4 ELSE name END, kept = kept OR $5
        WHERE level_id = $1 AND number = $2 RETURNING number, saved_at, bytes, name, kept`,
      [id, number, name !== undefined, name ?? null, kept === true],
    );
    if (row === undefined) throw new NotFound();
    return revisionOf(row);
  }

  /**
   * Thins the revisions of a level: all of the last day stay, then the last of each hour for a week, then the last of each day;
   * named and kept ones for ever. Ages are counted back from the level's own newest revision, and the newest hundred stay
   * whatever their age, so that a clock that jumps takes nothing along. Gives how many went.
   */
  async thin(id: string): Promise<number> {
    const gone = await this.write(
      `WITH aged AS (
         SELECT r.number, r.saved_at, l.saved_at - r.saved_at AS age,
                row_number() OVER (ORDER BY r.number DESC) AS place,
                row_number() OVER (PARTITION BY date_trunc('hour', r.saved_at) ORDER BY r.number DESC) AS in_hour,
                row_number() OVER (PARTITION BY date_trunc('day', r.saved_at) ORDER BY r.number DESC) AS in_day,
                r.kept OR r.name IS NOT NULL AS stays
           FROM revisions r JOIN levels l ON l.id = r.level_id WHERE r.level_id = $1)
       DELETE FROM revisions USING aged
        WHERE level_id = $1 AND revisions.number = aged.number AND NOT aged.stays AND aged.place > ${NEWEST_KEPT}
          AND ((age > interval '7 days' AND in_day > 1) OR (age > interval '1 day' AND age <= interval '7 days' AND in_hour > 1))
       RETURNING revisions.number`,
      [id],
    );
    return gone.length;
  }

  /**
   * The levels that were deleted at least so many days ago, never fewer than can be recovered. Counted back from the clock, or
   * from the last thing that was stored if that is earlier, so that a clock that runs ahead finds nothing.
   */
  async longDeleted(days: number): Promise<{ id: string; name: string; deletedAt: Date }[]> {
    const rows = await this.rows<{ id: string; name: string; deleted_at: Date }>(
      `SELECT id, name, deleted_at FROM levels
        WHERE deleted_at < LEAST(now(), (SELECT max(greatest(saved_at, deleted_at)) FROM levels)) - make_interval(days => $1)
        ORDER BY deleted_at`,
      [Math.max(RECOVERABLE_DAYS, Math.floor(days))],
    );
    return rows.map((row) => ({ id: row.id, name: row.name, deletedAt: row.deleted_at }));
  }

  /** Removes deleted levels for good, by their ids. */
  async purge(ids: readonly string[]): Promise<number> {
    const gone = await this.write('DELETE FROM levels WHERE id = ANY ($1::uuid[]) AND deleted_at IS NOT NULL RETURNING id', [
      ids,
    ]);
    return gone.length;
  }

  private async rows<R>(sql: string, values: unknown[] = []): Promise<R[]> {
    return (await this.source.query(sql, values)) as R[];
  }

  /** As `rows`, of what stores something: keeps whether there was room for it. */
  private async write<R = unknown>(sql: string, values: unknown[]): Promise<R[]> {
    try {
      // Prepared once for each connection, under a name of its own: what is stored most often is planned least often.
      const { rows } = await this.pool.query({ name: statementName(sql), text: sql, values });
      this.diskFull = false;
      return rows as R[];
    } catch (error) {
      if (asStorageTrouble(error) === 'disk-full') this.diskFull = true;
      throw error;
    }
  }
}

interface LevelRow {
  id: string;
  name: string;
  revision: number;
  saved_at: Date;
  deleted_at: Date | null;
}

interface SavedRow {
  id: string;
  revision: number;
  saved_at: Date;
}

interface RevisionRow {
  number: number;
  saved_at: Date;
  bytes: number;
  name: string | null;
  kept: boolean;
}

function savedOf(row: SavedRow): Saved {
  return { id: row.id, revision: row.revision, savedAt: row.saved_at.toISOString() };
}

function revisionOf({ number, saved_at: savedAt, bytes, name, kept }: RevisionRow): Revision {
  return { number, savedAt: savedAt.toISOString(), bytes, name, kept };
}

const statementNames = new Map<string, string>();

/** The name under which a statement is prepared. */
function statementName(sql: string): string {
  let name = statementNames.get(sql);
  if (name === undefined) {
    name = `nettlewick-${statementNames.size + 1}`;
    statementNames.set(sql, name);
  }
  return name;
}

/** Bytes as the database takes them for a text, without a copy. */
function asParameter({ buffer, byteOffset, byteLength }: Uint8Array): Buffer {
  return Buffer.from(buffer as ArrayBuffer, byteOffset, byteLength);
}

/** Where a page of levels ends: the time of its last one, and its id. */
function readPlace(after: string): [string, string] {
  const [time, id] = after.split('~') as [string, string];
  return [new Date(Number(time)).toISOString(), id];
}
