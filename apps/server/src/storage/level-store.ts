import { parseLevel } from '@nettlewick/core';
import type { Level } from '@nettlewick/core';
import type { LevelSummary, Revision, Saved, StoredLevel } from '@nettlewick/contract';
import { IsNull, LessThan, Not } from 'typeorm';
import type { DataSource, EntityManager } from 'typeorm';
import { levels, revisions } from './tables';
import type { LevelRow } from './tables';

/** There is no such level or revision, or it is deleted. */
export class NotFound extends Error {
  override name = 'NotFound';
}

/** The level has a newer revision than the one that was changed. */
export class Stale extends Error {
  override name = 'Stale';
  constructor(readonly currentRevision: number) {
    super(`The newest revision is ${currentRevision}`);
  }
}

/** A deleted level can be recovered for this long. */
export const RECOVERABLE_DAYS = 30;

/** The levels in the database. Every save is a new revision; revisions are never changed. */
export class LevelStore {
  constructor(private readonly source: DataSource) {}

  async answers(): Promise<void> {
    await this.source.query('SELECT 1');
  }

  async isEmpty(): Promise<boolean> {
    return (await this.source.getRepository(levels).count()) === 0;
  }

  /** The levels, last saved first; or those that are deleted and can still be recovered. */
  async list(deleted: boolean): Promise<LevelSummary[]> {
    const rows = await this.source
      .getRepository(levels)
      .find({ where: { deletedAt: deleted ? Not(IsNull()) : IsNull() }, order: { savedAt: 'DESC', id: 'ASC' } });
    return rows.map(summary);
  }

  async create(level: Level): Promise<Saved> {
    return this.source.transaction(async (manager) => {
      const savedAt = new Date();
      const row = await manager.getRepository(levels).save({ name: level.name, revision: 1, savedAt, deletedAt: null });
      await addRevision(manager, row, level);
      return savedOf(row);
    });
  }

  async open(id: string): Promise<StoredLevel> {
    const row = await this.source.getRepository(levels).findOneBy({ id, deletedAt: IsNull() });
    if (row === null) throw new NotFound();
    return this.openRevision(id, row.revision);
  }

  async openRevision(id: string, number: number): Promise<StoredLevel> {
    const found = await this.source.getRepository(revisions).findOneBy({ levelId: id, number });
    const alive = await this.source.getRepository(levels).existsBy({ id, deletedAt: IsNull() });
    if (found === null || !alive) throw new NotFound();
    return { id, revision: number, savedAt: found.savedAt.toISOString(), level: current(found.document) };
  }

  /** The newest revision's number, without its document. */
  async currentRevision(id: string): Promise<number> {
    const row = await this.source.getRepository(levels).findOneBy({ id, deletedAt: IsNull() });
    if (row === null) throw new NotFound();
    return row.revision;
  }

  /**
   * Saves what `next` makes of the newest revision as a new one. `accepts` is asked with the newest number, and the save
   * is refused as Stale if it says no. Two saves at once wait for each other.
   */
  async save(
    id: string,
    accepts: (revision: number) => boolean,
    next: (newest: () => Promise<Level>) => Promise<Level>,
  ): Promise<Saved> {
    return this.source.transaction(async (manager) => {
      const repository = manager.getRepository(levels);
      const row = await repository.findOne({ where: { id, deletedAt: IsNull() }, lock: { mode: 'pessimistic_write' } });
      if (row === null) throw new NotFound();
      if (!accepts(row.revision)) throw new Stale(row.revision);
      const level = await next(async () =>
        current((await manager.getRepository(revisions).findOneByOrFail({ levelId: id, number: row.revision })).document),
      );
      const updated = { ...row, name: level.name, revision: row.revision + 1, savedAt: new Date() };
      await repository.update({ id }, updated);
      await addRevision(manager, updated, level);
      return savedOf(updated);
    });
  }

  async delete(id: string): Promise<void> {
    const { affected } = await this.source.getRepository(levels).update({ id, deletedAt: IsNull() }, { deletedAt: new Date() });
    if (affected === 0) throw new NotFound();
  }

  async restore(id: string): Promise<Saved> {
    const repository = this.source.getRepository(levels);
    const { affected } = await repository.update({ id, deletedAt: Not(IsNull()) }, { deletedAt: null });
    if (affected === 0) throw new NotFound();
    return savedOf(await repository.findOneByOrFail({ id }));
  }

  /** Removes for good what was deleted too long ago to be recovered; gives how many levels that were. */
  async forgetDeleted(now: Date): Promise<number> {
    const before = new Date(now.getTime() - RECOVERABLE_DAYS * 86_400_000);
    const { affected } = await this.source.getRepository(levels).delete({ deletedAt: LessThan(before) });
    return affected ?? 0;
  }

  /** The revisions of a level, newest first. */
  async revisions(id: string): Promise<Revision[]> {
    await this.currentRevision(id);
    const rows = await this.source.getRepository(revisions).find({
      where: { levelId: id },
      select: { levelId: true, number: true, bytes: true, savedAt: true },
      order: { number: 'DESC' },
    });
    return rows.map((row) => ({ number: row.number, savedAt: row.savedAt.toISOString(), bytes: row.bytes }));
  }
}

async function addRevision(manager: EntityManager, row: LevelRow, document: Level): Promise<void> {
  const bytes = Buffer.byteLength(JSON.stringify(document));
  await manager
    .getRepository(revisions)
    .insert({ levelId: row.id, number: row.revision, document: document as never, bytes, savedAt: row.savedAt });
}

function summary(row: LevelRow): LevelSummary {
  const { id, name, revision } = row;
  return { id, name, revision, savedAt: row.savedAt.toISOString(), deletedAt: row.deletedAt?.toISOString() ?? null };
}

function savedOf(row: LevelRow): Saved {
  return { id: row.id, revision: row.revision, savedAt: row.savedAt.toISOString() };
}

/** A stored document as the program of today reads it: one of an older version is brought forward. */
function current(document: Level): Level {
  const parsed = parseLevel(document);
  return parsed.ok ? parsed.level : document;
}
