import type { EditsSince, LevelList, Revision, RevisionEdits, RevisionList, Saved } from '@nettlewick/contract';
import { etagOf } from './revision-tag';
import type { Pool } from 'pg';
import type { DataSource } from 'typeorm';
import { chainOf, rebuildHere, thin } from './chains';
import type { Chain, Rebuild } from './chains';
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

/** A stored document: which revision of which level it is, what it is known by, and its text. */
export interface StoredText extends Saved {
  text: string;
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
  edits: string;
  batch: string | null;
  summary: string;
  document: string | null;
  size: number;
}

/** Brings a stored text to what the program of today reads; throws BrokenDocument. */
export type Current = (text: string, digest: string) => Promise<string>;

export interface Page {
  limit: number;
  after: string | null;
}

/** A deleted level can be recovered for this long at the least. */
export const RECOVERABLE_DAYS = 30;

/** About so many characters of edits are given at once. */
const EDITS_AT_ONCE = 1_000_000;

/** After so many saves of a level its revisions are thinned. */
const THIN_EVERY = 50;

/** The levels in the database. Every save that changes anything is a new revision; revisions are never changed. */
export class LevelStore {
  private readonly turns = new Turns();
  /** Whether the last thing to be stored did not find room. */
  diskFull = false;

  private readonly pool: Pool;

  /** `rebuild`: where documents are rebuilt from edits; here, if nothing else is said. */
  constructor(
    private readonly source: DataSource,
    private readonly rebuild: Rebuild = rebuildHere,
  ) {
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
      `SELECT l.id, l.name, l.revision, l.saved_at, l.deleted_at, r.digest FROM levels l
         JOIN revisions r ON r.level_id = l.id AND r.number = l.revision
        WHERE l.deleted_at IS ${deleted ? 'NOT NULL' : 'NULL'}
          AND ($1::timestamptz IS NULL OR (l.saved_at, l.id) < ($1::timestamptz, $2::uuid))
        ORDER BY l.saved_at DESC, l.id DESC LIMIT $3`,
      [time, id, limit + 1],
    );
    const page = rows.slice(0, limit);
    for (const row of page) row.digest ??= await this.digest(row.id, row.revision);
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
    const [row] = await this.write<SavedRow>(
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

  async open(id: string, current: Current): Promise<StoredText> {
    return this.read(id, null, current);
  }

  async openRevision(id: string, number: number, current: Current): Promise<StoredText> {
    return this.read(id, number, current);
  }

  private async read(id: string, number: number | null, current: Current): Promise<StoredText> {
    const chain = await chainOf(this.source, id, number);
    if (chain === null || chain.deleted) throw new NotFound();
    // What a program of before has stored has no digest.
    const digest = chain.edits.length > 0 && chain.digest !== null ? chain.digest : await this.digestIn(id, chain);
    const stored = chain.edits.length === 0 ? chain.document : await this.rebuild(chain);
    const text = await current(stored, digestOf(stored));
    return { ...savedOf({ id, revision: chain.number, saved_at: chain.savedAt, digest }), text };
  }

  /** Which revision is the newest, without its document. */
  async newest(id: string): Promise<Saved> {
    return savedOf(await this.newestRow(id));
  }

  /** `digest` is that of what is stored: what has none was stored by a program that wrote none, and is looked at. */
  private async newestRow(id: string): Promise<SavedRow> {
    const [row] = await this.rows<Omit<SavedRow, 'digest'> & { digest: string | null }>(
      `SELECT l.id, l.revision, l.saved_at, r.digest FROM levels l
         JOIN revisions r ON r.level_id = l.id AND r.number = l.revision
        WHERE l.id = $1 AND l.deleted_at IS NULL`,
      [id],
    );
    if (row === undefined) throw new NotFound();
    return { ...row, digest: row.digest ?? (await this.digest(id, row.revision)) };
  }

  /** The digest of a revision's document, reckoned anew and noted. */
  private async digest(id: string, number: number): Promise<string> {
    const chain = await chainOf(this.source, id, number);
    if (chain === null) throw new NotFound();
    return this.digestIn(id, chain);
  }

  private async digestIn(id: string, { number, digest: known, document }: Chain): Promise<string> {
    if (known !== null) return known;
    const digest = digestOf(document);
    await this.write('UPDATE revisions SET digest = $3 WHERE level_id = $1 AND number = $2 AND digest IS NULL', [
      id,
      number,
      digest,
    ]);
    return digest;
  }

  /**
   * Saves a document over one of the revisions that are accepted (null: over any), as a new revision; the very document that
   * is stored already makes none. Refused as Stale if the newest is none of them. Saves of one level wait for each other
   * before they ask for a connection; one that waits too long is refused as Busy.
   */
  async save(id: string, accepts: readonly Accepted[] | null, document: Checked): Promise<Saved> {
    return this.inTurn(id, async () => {
      let row = await this.saveOver(id, accepts, document);
      if (row === null) {
        const newest = await this.newestRow(id);
        const isAccepted =
          accepts === null ||
          accepts.some(({ number, digest }) => number === newest.revision && newest.digest.startsWith(digest));
        if (isAccepted && newest.digest === document.digest) return savedOf(newest);
        // What an older program has stored in between had no digest to be compared until now.
        row = isAccepted ? await this.saveOver(id, accepts, document) : null;
        if (row === null) throw new Stale(newest.revision);
      }
      if (row.revision % THIN_EVERY === 0) await this.thin(id);
      return savedOf(row);
    });
  }

  /** Lets those who change a level go one after the other; who would wait too long is refused as Busy. */
  async inTurn<T>(id: string, work: () => Promise<T>): Promise<T> {
    return this.turns.take(id, work);
  }

  /** The newest revision as it is stored, if it is the one that edits are to be made on; else null. */
  async chainOver(id: string, { number, digest }: Accepted): Promise<(Chain & { digest: string }) | null> {
    const newest = await this.newestRow(id);
    if (newest.revision !== number || !newest.digest.startsWith(digest)) return null;
    const chain = await chainOf(this.source, id, number);
    return chain === null ? null : { ...chain, digest: newest.digest };
  }

  /** Stores edits as a new revision after the one that they were made on; null if that is not the newest any more. */
  async append(id: string, over: number, edits: Appended): Promise<Saved | null> {
    const { base, digest, name, batch, summary, size, document } = edits;
    const [row] = await this.write<SavedRow>(
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
    if (row.revision % THIN_EVERY === 0) await this.thin(id);
    return savedOf(row);
  }

  /** The revision after another that a batch of edits was saved as; null if there is none. */
  async findBatch(id: string, after: number, batch: string): Promise<Saved | null> {
    const [row] = await this.rows<SavedRow>(
      'SELECT level_id AS id, number AS revision, saved_at, digest FROM revisions WHERE level_id = $1 AND number > $2 AND batch = $3',
      [id, after, batch],
    );
    return row === undefined ? null : savedOf(row);
  }

  /** What was saved after a revision, oldest first, as far as it is kept. */
  async editsSince(id: string, after: number): Promise<EditsSince> {
    const newest = await this.newestRow(id);
    const rows = await this.rows<{ number: number; digest: string; batch: string | null; edits: string | null }>(
      `SELECT number, digest, batch, edits::text AS edits FROM (
         SELECT *, sum(length(edits::text)) OVER (ORDER BY number) AS length FROM revisions WHERE level_id = $1 AND number > $2) r
        WHERE length IS NULL OR length < ${EDITS_AT_ONCE} ORDER BY number LIMIT 200`,
      [id, after],
    );
    const [first] = await this.rows<{ digest: string | null }>(
      'SELECT digest FROM revisions WHERE level_id = $1 AND number = $2',
      [id, after],
    );
    const from = first === undefined ? null : etagOf(after, first.digest ?? (await this.digest(id, after)));
    const inRow = rows.filter(({ number, digest }, at) => number === after + 1 + at && digest !== null);
    const revisions = inRow.map(({ number, digest, batch, edits }): RevisionEdits => {
      const found =
        edits === null ? { edits: null, overwritten: [] } : (JSON.parse(edits) as Pick<RevisionEdits, 'edits' | 'overwritten'>);
      return { revision: number, etag: etagOf(number, digest), batch, ...found };
    });
    return { from, revisions, complete: after + revisions.length === newest.revision };
  }

  /** Stores a document if the newest revision is one that is accepted, and another document; else null. */
  private async saveOver(
    id: string,
    accepts: readonly Accepted[] | null,
    { name, bytes, digest }: Checked,
  ): Promise<SavedRow | null> {
    // The digest of the level itself is for programs that look for it there.
    const [row] = await this.write<SavedRow>(
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
    const rows = await this.write('UPDATE levels SET deleted_at = now() WHERE id = $1 AND deleted_at IS NULL RETURNING id', [id]);
    if (rows.length === 0) throw new NotFound();
  }

  async restore(id: string): Promise<Saved> {
    const rows = await this.write('UPDATE levels SET deleted_at = NULL WHERE id = $1 AND deleted_at IS NOT NULL RETURNING id', [
      id,
    ]);
    if (rows.length === 0) throw new NotFound();
    return this.newest(id);
  }

  /** The revisions of a level, newest first. */
  async revisions(id: string, { limit, after }: Page): Promise<RevisionList> {
    await this.newestRow(id);
    const below = after === null ? null : Number(after);
    const rows = await this.rows<RevisionRow>(
      `SELECT number, saved_at, bytes, name, kept, summary FROM revisions
        WHERE level_id = $1 AND ($2::integer IS NULL OR number < $2) ORDER BY number DESC LIMIT $3`,
      [id, below, limit + 1],
    );
    const page = rows.slice(0, limit);
    return { revisions: page.map(revisionOf), next: rows.length > limit ? String(page.at(-1)!.number) : null };
  }

  /** Names a revision, or keeps it for ever because it was gone back to. */
  async keepRevision(id: string, number: number, { name, kept }: { name?: string | null; kept?: true }): Promise<Revision> {
    await this.newestRow(id);
    const [row] = await this.write<RevisionRow>(
      `UPDATE revisions SET name = CASE WHEN $3 THEN $4 ELSE name END, kept = kept OR $5
        WHERE level_id = $1 AND number = $2 RETURNING number, saved_at, bytes, name, kept, summary`,
      [id, number, name !== undefined, name ?? null, kept === true],
    );
    if (row === undefined) throw new NotFound();
    return revisionOf(row);
  }

  /** Thins the revisions of a level, see `thin`. Gives how many went. */
  async thin(id: string): Promise<number> {
    return thin(this.source, id, this.rebuild);
  }

  /**
   * The levels that were deleted at least so many days ago, never fewer than can be recovered. Counted back from the clock, or
   * from the last thing that was stored if that is earlier, so that a clock that runs ahead finds nothing.
   */
  async longDeleted(days: number): Promise<{ id: string; name: string; deletedAt: Date }[]> {
    const rows = await this.rows<{ id: string; name: string; deleted_at: Date }>(
      `SELECT id, name, deleted_at FROM levels WHERE ${LONG_DELETED} ORDER BY deleted_at`,
      [atLeast(days)],
    );
    return rows.map((row) => ({ id: row.id, name: row.name, deletedAt: row.deleted_at }));
  }

  /** Removes levels for good, by their ids: those of them that are still deleted, and were at least so many days ago. */
  async purge(ids: readonly string[], days: number): Promise<number> {
    const gone = await this.write(`DELETE FROM levels WHERE ${LONG_DELETED} AND id = ANY ($2::uuid[]) RETURNING id`, [
      atLeast(days),
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

interface SavedRow {
  id: string;
  revision: number;
  saved_at: Date;
  digest: string;
}

interface RevisionRow {
  number: number;
  saved_at: Date;
  bytes: number;
  name: string | null;
  kept: boolean;
  summary: string | null;
}

function savedOf(row: SavedRow): Saved {
  const { id, revision, digest } = row;
  return { id, revision, etag: etagOf(revision, digest), savedAt: row.saved_at.toISOString() };
}

function revisionOf({ number, saved_at: savedAt, bytes, name, kept, summary }: RevisionRow): Revision {
  return { number, savedAt: savedAt.toISOString(), bytes, name, kept, summary };
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
