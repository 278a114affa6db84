import type { EditsSince, Revision, RevisionEdits, RevisionList, Saved } from '@nettlewick/contract';
import { chainOf, rebuildHere, thin } from './chains';
import type { Chain, Rebuild } from './chains';
import { digestOf } from './digest';
import { NotFound } from './errors';
import { etagOf } from './revision-tag';
import type { Statements } from './statements';

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
  /** `rebuild`: where documents are rebuilt from edits; here, if nothing else is said. */
  constructor(
    private readonly statements: Statements,
    private readonly rebuild: Rebuild = rebuildHere,
  ) {}

  async open(id: string, current: Current): Promise<StoredText> {
    return this.read(id, null, current);
  }

  async openRevision(id: string, number: number, current: Current): Promise<StoredText> {
    return this.read(id, number, current);
  }

  private async read(id: string, number: number | null, current: Current): Promise<StoredText> {
    const chain = await chainOf(this.statements.source, id, number);
    if (chain === null || chain.deleted) throw new NotFound();
    const digest = await this.digestIn(id, chain);
    const stored = chain.edits.length === 0 ? chain.document : await this.rebuild(chain);
    const text = await current(stored, digestOf(stored));
    return { ...savedOf({ id, revision: chain.number, saved_at: chain.savedAt, digest }), text };
  }

  /** `digest` is that of what is stored: what has none was stored by a program that wrote none, and is looked at. */
  async newestRow(id: string): Promise<SavedRow> {
    const [row] = await this.statements.rows<Omit<SavedRow, 'digest'> & { digest: string | null }>(
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
    const chain = await chainOf(this.statements.source, id, number);
    if (chain === null) throw new NotFound();
    return this.digestIn(id, chain);
  }

  /** What a revision is known by. A program of an earlier version has stored documents without a digest: it is added. */
  private async digestIn(id: string, { number, digest: known, document }: Chain): Promise<string> {
    if (known !== null) return known;
    const digest = digestOf(document);
    await this.statements.write('UPDATE revisions SET digest = $3 WHERE level_id = $1 AND number = $2 AND digest IS NULL', [
      id,
      number,
      digest,
    ]);
    return digest;
  }

  /** The revision after another that a batch of edits was saved as; null if there is none. */
  async findBatch(id: string, after: number, batch: string): Promise<Saved | null> {
    const [row] = await this.statements.rows<SavedRow>(
      'SELECT level_id AS id, number AS revision, saved_at, digest FROM revisions WHERE level_id = $1 AND number > $2 AND batch = $3',
      [id, after, batch],
    );
    return row === undefined ? null : savedOf(row);
  }

  /** What was saved after a revision, oldest first, as far as it is kept. */
  async since(id: string, after: number): Promise<EditsSince> {
    const newest = await this.newestRow(id);
    const rows = await this.statements.rows<{ number: number; digest: string; batch: string | null; edits: string | null }>(
      `SELECT number, digest, batch, edits::text AS edits FROM (
         SELECT *, sum(length(edits::text)) OVER (ORDER BY number) AS length FROM (
           SELECT number, digest, batch, edits FROM revisions WHERE level_id = $1 AND number > $2 ORDER BY number LIMIT 200) first) r
        WHERE length IS NULL OR length < ${EDITS_AT_ONCE} ORDER BY number`,
      [id, after],
    );
    const [first] = await this.statements.rows<{ digest: string | null }>(
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

  /** The revisions of a level, newest first. */
  async list(id: string, { limit, after }: Page): Promise<RevisionList> {
    await this.newestRow(id);
    const below = after === null ? null : Number(after);
    const rows = await this.statements.rows<RevisionRow>(
      `SELECT number, saved_at, bytes, name, kept, summary FROM revisions
        WHERE level_id = $1 AND ($2::integer IS NULL OR number < $2) ORDER BY number DESC LIMIT $3`,
      [id, below, limit + 1],
    );
    const page = rows.slice(0, limit);
    return { revisions: page.map(revisionOf), next: rows.length > limit ? String(page.at(-1)!.number) : null };
  }

  /** Names a revision, or keeps it for ever because it was gone back to. */
  async keep(id: string, number: number, { name, kept }: { name?: string | null; kept?: true }): Promise<Revision> {
    await this.newestRow(id);
    const [row] = await this.statements.write<RevisionRow>(
      `UPDATE revisions SET name = CASE WHEN $3 THEN $4 ELSE name END, kept = kept OR $5
        WHERE level_id = $1 AND number = $2 RETURNING number, saved_at, bytes, name, kept, summary`,
      [id, number, name !== undefined, name ?? null, kept === true],
    );
    if (row === undefined) throw new NotFound();
    return revisionOf(row);
  }

  /** Thins the revisions of a level, see `thin`. Gives how many went. */
  async thin(id: string): Promise<number> {
    return thin(this.statements.source, id, this.rebuild);
  }
}

export interface SavedRow {
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

export function savedOf(row: SavedRow): Saved {
  const { id, revision, digest } = row;
  return { id, revision, etag: etagOf(revision, digest), savedAt: row.saved_at.toISOString() };
}

function revisionOf({ number, saved_at: savedAt, bytes, name, kept, summary }: RevisionRow): Revision {
  return { number, savedAt: savedAt.toISOString(), bytes, name, kept, summary };
}
