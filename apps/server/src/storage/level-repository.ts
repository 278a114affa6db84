import type { LevelList, Saved } from '@nettlewick/contract';
import type { DataSource } from 'typeorm';
import { chainOf } from './chains';
import type { Chain, Rebuild } from './chains';
import { NotFound, RevisionConflict } from './errors';
import { History, savedOf } from './history';
import type { Page, SavedRow } from './history';
import { etagOf } from './revision-tag';
import { Statements } from './statements';
import { KeyedQueue } from './turns';

/** A document that has been read: its name, its text (UTF-8), and the digest of that. */
export interface Checked {
  name: string;
  bytes: Uint8Array;
  digest: string;
}

/** A revision that a save may go over: its number, and how the digest of its document begins. */
export interface Accepted {
  number: number;
  digest: string;
}

/** Edits that are to be stored, as the thread that made them gives them (see editing/). */
export interface Appended {
  /** The digest of the revision that they were made on, and of the new one. */
  base: string;
  digest: string;
  name: string;
  /** As they are stored: JSON. */
  edits: string;
  batch: string | null;
  summary: string;
  /** The whole document, if it is to be stored as well. */
  document: string | null;
  /** About how long the document is, in bytes. */
  size: number;
}

/** A deleted level can be recovered for this long at the least. */
export const RECOVERABLE_DAYS = 30;

/** After so many saves of a level its revisions are thinned. */
const THIN_EVERY = 50;

/** The levels in the database. Every save that changes anything is a new revision; revisions are never changed. */
export class LevelRepository {
  readonly history: History;
  private readonly turns = new KeyedQueue();
  private readonly statements: Statements;

  /** `rebuild`: where documents are rebuilt from edits; here, if nothing else is said. */
  constructor(source: DataSource, rebuild?: Rebuild) {
    this.statements = new Statements(source);
    this.history = new History(this.statements, rebuild);
  }

  /** Whether the last thing to be stored did not find room. */
  get diskFull(): boolean {
    return this.statements.diskFull;
  }

  async answers(): Promise<void> {
    await this.statements.rows('SELECT 1');
  }

  async isEmpty(): Promise<boolean> {
    const [row] = await this.statements.rows<{ any: boolean }>('SELECT EXISTS (SELECT 1 FROM levels) AS any');
    return !row!.any;
  }

  /** The levels, last saved first; or those that are deleted and can still be recovered. */
  async list(deleted: boolean, { limit, after }: Page): Promise<LevelList> {
    const [time, id] = after === null ? [null, null] : readPlace(after);
    const rows = await this.statements.rows<LevelRow>(
      `SELECT l.id, l.name, l.revision, l.saved_at, l.deleted_at, r.digest FROM levels l
         JOIN revisions r ON r.level_id = l.id AND r.number = l.revision
        WHERE l.deleted_at IS ${deleted ? 'NOT NULL' : 'NULL'}
          AND ($1::timestamptz IS NULL OR (l.saved_at, l.id) < ($1::timestamptz, $2::uuid))
        ORDER BY l.saved_at DESC, l.id DESC LIMIT $3`,
      [time, id, limit + 1],
    );
    const page = rows.slice(0, limit);
    for (const row of page) row.digest ??= await this.history.digest(row.id, row.revision);
    const last = page.at(-1);
    const next = rows.length > limit && last !== undefined ? `${last.saved_at.getTime()}~${last.id}` : null;
    return {
      levels: page.map((row) => ({
        id: row.id,
        name: row.name,
        revision: row.revision,
        etag: etagOf(row.revision, row.digest!),
        savedAt: row.saved_at.toISOString(),
        deletedAt: row.deleted_at?.toISOString() ?? null,
      })),
      next,
    };
  }

  async create({ name, bytes, digest }: Checked): Promise<Saved> {
    const [row] = await this.statements.write<SavedRow>(
      `WITH made AS (
         INSERT INTO levels (name, revision, saved_at, digest) VALUES ($1, 1, date_trunc('milliseconds', clock_timestamp()), $2)
         RETURNING id, revision, saved_at)
       INSERT INTO revisions (level_id, number, document, bytes, saved_at, digest)
         SELECT id, revision, $3::json, $4, saved_at, $2 FROM made
       RETURNING level_id AS id, number AS revision, saved_at, digest`,
      [name, digest, asParameter(bytes), bytes.length],
    );
    return savedOf(row!);
  }

  /** Which revision is the newest, without its document. */
  async newest(id: string): Promise<Saved> {
    return savedOf(await this.history.newestRow(id));
  }

  /**
   * Saves a document over one of the revisions that are accepted (null: over any), as a new revision; the very document that
   * is stored already makes none. Throws a RevisionConflict if the newest is none of them. Saves of one level wait for each other
   * before they ask for a connection; one that waits too long is refused as Busy.
   */
  async save(id: string, accepts: readonly Accepted[] | null, document: Checked): Promise<Saved> {
    return this.inTurn(id, async () => {
      let row = await this.saveOver(id, accepts, document);
      if (row === null) {
        const newest = await this.history.newestRow(id);
        const isAccepted =
          accepts === null ||
          accepts.some(({ number, digest }) => number === newest.revision && newest.digest.startsWith(digest));
        if (isAccepted && newest.digest === document.digest) return savedOf(newest);
        // What an older program has stored in between had no digest to be compared until now.
        row = isAccepted ? await this.saveOver(id, accepts, document) : null;
        if (row === null) throw new RevisionConflict(newest.revision);
      }
      if (row.revision % THIN_EVERY === 0) await this.history.thin(id);
      return savedOf(row);
    });
  }

  /** Lets those who change a level go one after the other; who would wait too long is refused as Busy. */
  async inTurn<T>(id: string, work: () => Promise<T>): Promise<T> {
    return this.turns.take(id, work);
  }

  /** The newest revision as it is stored, if it is the one that edits are to be made on; else null. */
  async chainOver(id: string, { number, digest }: Accepted): Promise<(Chain & { digest: string }) | null> {
    const newest = await this.history.newestRow(id);
    if (newest.revision !== number || !newest.digest.startsWith(digest)) return null;
    const chain = await chainOf(this.statements.source, id, number);
    return chain === null ? null : { ...chain, digest: newest.digest };
  }

  /** Stores edits as a new revision after the one that they were made on; null if that is not the newest any more. */
  async append(id: string, over: number, edits: Appended): Promise<Saved | null> {
    const { base, digest, name, batch, summary, size, document } = edits;
    const [row] = await this.statements.write<SavedRow>(
      `WITH moved AS (
         UPDATE levels l SET name = $2, revision = revision + 1, saved_at = date_trunc('milliseconds', clock_timestamp()), digest = $3
          WHERE id = $1 AND deleted_at IS NULL AND revision = $4 AND EXISTS (
            SELECT 1 FROM revisions r WHERE r.level_id = $1 AND r.number = $4 AND r.digest = $5)
         RETURNING id, revision, saved_at)
       INSERT INTO revisions (level_id, number, document, edits, batch, summary, bytes, saved_at, digest)
         SELECT id, revision, $6::json, $7::json, $8, $9, $10, saved_at, $3 FROM moved
       RETURNING level_id AS id, number AS revision, saved_at, digest`,
      [id, name, digest, over, base, document, edits.edits, batch, summary, size],
    );
    if (row === undefined) return null;
    if (row.revision % THIN_EVERY === 0) await this.history.thin(id);
    return savedOf(row);
  }

  /** Stores a document if the newest revision is one that is accepted, and another document; else null. */
  private async saveOver(
    id: string,
    accepts: readonly Accepted[] | null,
    { name, bytes, digest }: Checked,
  ): Promise<SavedRow | null> {
    // The digest of the level itself is for programs that look for it there.
    const [row] = await this.statements.write<SavedRow>(
      `WITH moved AS (
         UPDATE levels l SET name = $2, revision = revision + 1, saved_at = date_trunc('milliseconds', clock_timestamp()), digest = $3
          WHERE id = $1 AND deleted_at IS NULL AND EXISTS (
            SELECT 1 FROM revisions r WHERE r.level_id = $1 AND r.number = l.revision AND r.digest <> $3 AND (
              $4::integer[] IS NULL OR EXISTS (
                SELECT 1 FROM unnest($4::integer[], $5::text[]) AS accepted (number, digest)
                 WHERE accepted.number = r.number AND starts_with(r.digest, accepted.digest))))
         RETURNING id, revision, saved_at)
       INSERT INTO revisions (level_id, number, document, bytes, saved_at, digest)
         SELECT id, revision, $6::json, $7, saved_at, $3 FROM moved
       RETURNING level_id AS id, number AS revision, saved_at, digest`,
      [
        id,
        name,
        digest,
        accepts?.map(({ number }) => number) ?? null,
        accepts?.map((one) => one.digest) ?? null,
        asParameter(bytes),
        bytes.length,
      ],
    );
    return row ?? null;
  }

  async delete(id: string): Promise<void> {
    const rows = await this.statements.write(
      'UPDATE levels SET deleted_at = now() WHERE id = $1 AND deleted_at IS NULL RETURNING id',
      [id],
    );
    if (rows.length === 0) throw new NotFound();
  }

  async restore(id: string): Promise<Saved> {
    const rows = await this.statements.write(
      'UPDATE levels SET deleted_at = NULL WHERE id = $1 AND deleted_at IS NOT NULL RETURNING id',
      [id],
    );
    if (rows.length === 0) throw new NotFound();
    return this.newest(id);
  }

  /**
   * The levels that were deleted at least so many days ago, never fewer than can be recovered. Counted back from the clock, or
   * from the last thing that was stored if that is earlier, so that a clock that runs ahead finds nothing.
   */
  async longDeleted(days: number): Promise<{ id: string; name: string; deletedAt: Date }[]> {
    const rows = await this.statements.rows<{ id: string; name: string; deleted_at: Date }>(
      `SELECT id, name, deleted_at FROM levels WHERE ${LONG_DELETED} ORDER BY deleted_at`,
      [atLeast(days)],
    );
    return rows.map((row) => ({ id: row.id, name: row.name, deletedAt: row.deleted_at }));
  }

  /** Removes levels for good, by their ids: those of them that are still deleted, and were at least so many days ago. */
  async purge(ids: readonly string[], days: number): Promise<number> {
    const gone = await this.statements.write(`DELETE FROM levels WHERE ${LONG_DELETED} AND id = ANY ($2::uuid[]) RETURNING id`, [
      atLeast(days),
      ids,
    ]);
    return gone.length;
  }
}

/** Of a level: that it was deleted at least so many days ago. */
const LONG_DELETED =
  'deleted_at < LEAST(now(), (SELECT max(greatest(saved_at, deleted_at)) FROM levels)) - make_interval(days => $1)';

/** Never fewer days than a deleted level can be recovered. */
function atLeast(days: number): number {
  return Math.max(RECOVERABLE_DAYS, Math.floor(days));
}

interface LevelRow {
  id: string;
  name: string;
  revision: number;
  saved_at: Date;
  deleted_at: Date | null;
  digest: string | null;
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
