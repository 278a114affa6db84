import type { EditsSince, Revision, RevisionEdits, RevisionList, Saved } from '@nettlewick/contract';
import { Between, IsNull, LessThan, MoreThan } from 'typeorm';
import type { DataSource, Repository } from 'typeorm';
import { chainOf, rebuildHere, thin } from './chains';
import type { Chain, Rebuild } from './chains';
import { digestOf } from './digest';
import { NotFound } from './errors';
import { etagOf } from './revision-tag';
import type { HotPath } from './hot-path';
import { revisions } from './tables';
import type { RevisionRow } from './tables';

/** A stored document: which revision of which level it is, what it is known by, and its text. */
export interface StoredText extends Saved {
  text: string;
}

/** Brings a stored text to what the program of today reads; throws BrokenDocument. */
export type Current = (text: string, digest: string) => Promise<string>;

export interface Page {
  limit: number;
  after: string | null;
}

/** About so many characters of edits are given at once. */
const EDITS_AT_ONCE = 1_000_000;

/** The revisions of the levels: none is ever changed. */
export class History {
  private readonly revisions: Repository<RevisionRow>;

  /** `rebuild`: where documents are rebuilt from edits; here, if nothing else is said. */
  constructor(
    private readonly source: DataSource,
    private readonly hot: HotPath,
    private readonly rebuild: Rebuild = rebuildHere,
  ) {
    this.revisions = source.getRepository(revisions);
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
    const digest = await this.digestIn(id, chain);
    const stored = chain.edits.length === 0 ? chain.document : await this.rebuild(chain);
    const text = await current(stored, digestOf(stored));
    return { ...savedOf({ id, revision: chain.number, saved_at: chain.savedAt, digest }), text };
  }

  /** `digest` is that of what is stored: what has none was stored by a program that wrote none, and is looked at. */
  async newestRow(id: string): Promise<SavedRow> {
    const [row] = await this.hot.rows<Omit<SavedRow, 'digest'> & { digest: string | null }>(
      `SELECT l.id, l.revision, l.saved_at, r.digest FROM levels l
         JOIN revisions r ON r.level_id = l.id AND r.number = l.revision
        WHERE l.id = $1 AND l.deleted_at IS NULL`,
      [id],
    );
    if (row === undefined) throw new NotFound();
    return { ...row, digest: row.digest ?? (await this.digest(id, row.revision)) };
  }

  /** The digest of a revision's document, reckoned anew and noted. */
  async digest(id: string, number: number): Promise<string> {
    const chain = await chainOf(this.source, id, number);
    if (chain === null) throw new NotFound();
    return this.digestIn(id, chain);
  }

  /** What a revision is known by. A program of an earlier version has stored documents without a digest: it is added. */
  private async digestIn(id: string, { number, digest: known, document }: Chain): Promise<string> {
    if (known !== null) return known;
    const digest = digestOf(document);
    await this.hot.noting(() => this.revisions.update({ levelId: id, number, digest: IsNull() }, { digest }));
    return digest;
  }

  /** The revision after another that a batch of edits was saved as; null if there is none. */
  async findBatch(id: string, after: number, batch: string): Promise<Saved | null> {
    const row = await this.revisions.findOneBy({ levelId: id, number: MoreThan(after), batch });
    return row === null ? null : savedOf({ id, revision: row.number, saved_at: row.savedAt, digest: row.digest! });
  }

  /** What was saved after a revision, oldest first, as far as it is kept. */
  async since(id: string, after: number): Promise<EditsSince> {
    const newest = await this.newestRow(id);
    const lengths: { number: number; length: number | null }[] = await this.revisions
      .createQueryBuilder('revision')
      .select('revision.number', 'number')
      .addSelect('length(revision.edits::text)', 'length')
      .where({ levelId: id, number: MoreThan(after) })
      .orderBy('revision.number')
      .limit(200)
      .getRawMany();
    let length = 0;
    const short = lengths.filter((one) => (length += one.length ?? 0) < EDITS_AT_ONCE);
    const rows = await this.revisions.find({
      select: { number: true, digest: true, batch: true, edits: true },
      where: { levelId: id, number: Between(after + 1, short.at(-1)?.number ?? after) },
      order: { number: 'ASC' },
    });
    const first = await this.revisions.findOne({ select: { number: true, digest: true }, where: { levelId: id, number: after } });
    const from = first === null ? null : etagOf(after, first.digest ?? (await this.digest(id, after)));
    const inRow = rows.filter(({ number, digest }, at) => number === after + 1 + at && digest !== null);
    const revisions = inRow.map(({ number, digest, batch, edits }): RevisionEdits => {
      const found = edits === null ? { edits: null, overwritten: [] } : (edits as Pick<RevisionEdits, 'edits' | 'overwritten'>);
      return { revision: number, etag: etagOf(number, digest!), batch, ...found };
    });
    return { from, revisions, complete: after + revisions.length === newest.revision };
  }

  /** The revisions of a level, newest first. */
  async list(id: string, { limit, after }: Page): Promise<RevisionList> {
    await this.newestRow(id);
    const rows = await this.revisions.find({
      where: { levelId: id, ...(after === null ? {} : { number: LessThan(Number(after)) }) },
      order: { number: 'DESC' },
      take: limit + 1,
    });
    const page = rows.slice(0, limit);
    return { revisions: page.map(revisionOf), next: rows.length > limit ? String(page.at(-1)!.number) : null };
  }

  /** Names a revision, or keeps it for ever because it was gone back to. */
  async keep(id: string, number: number, { name, kept }: { name?: string | null; kept?: true }): Promise<Revision> {
    await this.newestRow(id);
    const which = { levelId: id, number };
    const changed = { ...(name === undefined ? {} : { name }), ...(kept === true ? { kept } : {}) };
    await this.hot.noting(async () => Object.keys(changed).length > 0 && this.revisions.update(which, changed));
    const row = await this.revisions.findOneBy(which);
    if (row === null) throw new NotFound();
    return revisionOf(row);
  }

  /** Thins the revisions of a level, see `thin`. Gives how many went. */
  async thin(id: string): Promise<number> {
    return thin(this.source, id, this.rebuild);
  }
}

export interface SavedRow {
  id: string;
  revision: number;
  saved_at: Date;
  digest: string;
}

export function savedOf(row: SavedRow): Saved {
  const { id, revision, digest } = row;
  return { id, revision, etag: etagOf(revision, digest), savedAt: row.saved_at.toISOString() };
}

function revisionOf({ number, savedAt, bytes, name, kept, summary }: RevisionRow): Revision {
  return { number, savedAt: savedAt.toISOString(), bytes, name, kept, summary };
}
