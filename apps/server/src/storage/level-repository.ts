import type { LevelList, Saved } from '@nettlewick/contract';
import { In, IsNull, Not, Raw } from 'typeorm';
import type { DataSource, FindOperator, Repository, UpdateResult } from 'typeorm';
import { chainOf } from './chains';
import type { Chain, Rebuild } from './chains';
import { NotFound, RevisionConflict } from './errors';
import { History, savedOf } from './history';
import type { Page, SavedRow } from './history';
import { etagOf } from './revision-tag';
import { HotPath } from './hot-path';
import { levels, revisions } from './tables';
import type { LevelRow, RevisionRow } from './tables';
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
  private readonly hot: HotPath;
  private readonly levels: Repository<LevelRow>;

  /** `rebuild`: where documents are rebuilt from edits; here, if nothing else is said. */
  constructor(
    private readonly source: DataSource,
    rebuild?: Rebuild,
  ) {
    this.hot = new HotPath(source);
    this.levels = source.getRepository(levels);
    this.history = new History(source, this.hot, rebuild);
  }

  /** Whether the last thing to be stored did not find room. */
  get diskFull(): boolean {
    return this.hot.diskFull;
  }

  async answers(): Promise<void> {
    await this.source.query('SELECT 1');
  }

  async isEmpty(): Promise<boolean> {
    return !(await this.levels.exists());
  }

  /** The levels, last saved first; or those that are deleted and can still be recovered. */
  async list(deleted: boolean, { limit, after }: Page): Promise<LevelList> {
    const query = this.levels
      .createQueryBuilder('level')
      .innerJoinAndMapOne(
        'level.newest',
        revisions.options.name,
        'newest',
        'newest.levelId = level.id AND newest.number = level.revision',
      )
      .where({ deletedAt: deleted ? Not(IsNull()) : IsNull() })
      .orderBy('level.savedAt', 'DESC')
      .addOrderBy('level.id', 'DESC')
      .limit(limit + 1);
    if (after !== null) query.andWhere('(level.savedAt, level.id) < (:time::timestamptz, :id::uuid)', readPlace(after));
    const rows = (await query.getMany()) as (LevelRow & { newest: RevisionRow })[];
    const page = rows.slice(0, limit);
    for (const { newest } of page) newest.digest ??= await this.history.digest(newest.levelId, newest.number);
    const last = page.at(-1);
    const next = rows.length > limit && last !== undefined ? `${last.savedAt.getTime()}~${last.id}` : null;
    return {
      levels: page.map(({ id, name, revision, savedAt, deletedAt, newest }) => ({
        id,
        name,
        revision,
        etag: etagOf(revision, newest.digest!),
        savedAt: savedAt.toISOString(),
        deletedAt: deletedAt?.toISOString() ?? null,
      })),
      next,
    };
  }

  async create({ name, bytes, digest }: Checked): Promise<Saved> {
    const [row] = await this.hot.write<SavedRow>(
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
    const chain = await chainOf(this.source, id, number);
    return chain === null ? null : { ...chain, digest: newest.digest };
  }

  /** Stores edits as a new revision after the one that they were made on; null if that is not the newest any more. */
  async append(id: string, over: number, edits: Appended): Promise<Saved | null> {
    const { base, digest, name, batch, summary, size, document } = edits;
    const [row] = await this.hot.write<SavedRow>(
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
    const [row] = await this.hot.write<SavedRow>(
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
    await this.found(() => this.levels.update({ id, deletedAt: IsNull() }, { deletedAt: () => 'now()' }));
  }

  async restore(id: string): Promise<Saved> {
    await this.found(() => this.levels.update({ id, deletedAt: Not(IsNull()) }, { deletedAt: null }));
    return this.newest(id);
  }

  /** Changes a level; throws NotFound where there is none to be changed. */
  private async found(update: () => Promise<UpdateResult>): Promise<void> {
    const { affected } = await this.hot.noting(update);
    if (affected === 0) throw new NotFound();
  }

  /**
   * The levels that were deleted at least so many days ago, never fewer than can be recovered. Counted back from the clock, or
   * from the last thing that was stored if that is earlier, so that a clock that runs ahead finds nothing.
   */
  async longDeleted(days: number): Promise<{ id: string; name: string; deletedAt: Date }[]> {
    const rows = await this.levels.find({ where: { deletedAt: longAgo(days) }, order: { deletedAt: 'ASC' } });
    return rows.map(({ id, name, deletedAt }) => ({ id, name, deletedAt: deletedAt! }));
  }

  /** Removes levels for good, by their ids: those of them that are still deleted, and were at least so many days ago. */
  async purge(ids: readonly string[], days: number): Promise<number> {
    const { affected } = await this.hot.noting(() => this.levels.delete({ id: In([...ids]), deletedAt: longAgo(days) }));
    return affected!;
  }
}

/** That a time is at least so many days ago, and never fewer than a deleted level can be recovered. */
function longAgo(days: number): FindOperator<Date> {
  const last = '(SELECT max(greatest(saved_at, deleted_at)) FROM levels)';
  return Raw((column) => `${column} < LEAST(now(), ${last}) - make_interval(days => :days)`, {
    days: Math.max(RECOVERABLE_DAYS, Math.floor(days)),
  });
}

/** Bytes as the database takes them for a text, without a copy. */
function asParameter({ buffer, byteOffset, byteLength }: Uint8Array): Buffer {
  return Buffer.from(buffer as ArrayBuffer, byteOffset, byteLength);
}

/** Where a page of levels ends: the time of its last one, and its id. */
function readPlace(after: string): { time: string; id: string } {
  const [time, id] = after.split('~') as [string, string];
  return { time: new Date(Number(time)).toISOString(), id };
}
