import type { RevisionEdits, Saved } from '@nettlewick/contract';
import { BrokenDocument, RevisionConflict } from '../storage/errors';
import type { Accepted, LevelRepository } from '../storage/level-repository';
import { readEtag } from '../storage/revision-tag';
import type { EditingThread, EditsResult } from './editing-thread';

/** What came of a request: the new revision and what it has changed (null for too much to tell), or what is wrong with the request. */
export type EditsSaved =
  | { ok: true; saved: Saved; edits: RevisionEdits | null }
  | Exclude<Extract<EditsResult, { ok: false }>, { unknown: true } | { broken: true }>;

/** Up to so many characters of edits are sent to the other windows with the news of them. */
const SENT_ALONG = 64 * 1024;

/** Saves levels by their edits. */
export class LevelEdits {
  constructor(
    private readonly thread: EditingThread,
    private readonly store: LevelRepository,
  ) {}

  /**
   * Saves edits over one of the revisions that are accepted (null: over any), as a new one. Throws a RevisionConflict if the newest is none of
   * them; but a batch that has been saved since, whose answer was lost, is answered anew.
   */
  async save(id: string, accepts: readonly Accepted[] | null, body: Uint8Array): Promise<EditsSaved> {
    return this.store.inTurn(id, async () => {
      const over = await this.revisionOver(id, accepts);
      let made = await this.thread.make({ id, base: over.digest, body });
      if (!made.ok && 'unknown' in made) {
        const stored = await this.store.chainOver(id, over);
        if (stored === null) return this.again(id, over, made.batch);
        made = await this.thread.make({ id, base: stored.digest, body, stored });
      }
      if (!made.ok) {
        if ('unknown' in made) throw new Error('A level that was sent along is not held');
        if ('broken' in made) throw new BrokenDocument(made.faults);
        return made;
      }
      const saved = await this.store.append(id, over.number, made);
      return saved === null ? this.again(id, over, made.batch) : { ok: true, saved, edits: toldOf(made, saved) };
    });
  }

  /** The revision that edits are to be made on. */
  private async revisionOver(id: string, accepts: readonly Accepted[] | null): Promise<Accepted> {
    const [only] = accepts ?? [];
    if (only !== undefined && accepts?.length === 1) return only;
    const { revision, etag } = await this.store.newest(id);
    const newest = readEtag(etag)!;
    if (accepts?.some(({ number, digest }) => number === newest.number && digest === newest.digest) === false)
      throw new RevisionConflict(revision);
    return newest;
  }

  private async again(id: string, { number }: Accepted, batch: string | null): Promise<EditsSaved> {
    const newest = await this.store.newest(id);
    const saved = batch === null ? null : await this.store.history.findBatch(id, number, batch);
    if (saved === null) throw new RevisionConflict(newest.revision);
    return { ok: true, saved, edits: null };
  }
}

function toldOf({ edits, batch }: Extract<EditsResult, { ok: true }>, { revision, etag }: Saved): RevisionEdits | null {
  if (edits.length > SENT_ALONG) return null;
  return { revision, etag, batch, ...(JSON.parse(edits) as Pick<RevisionEdits, 'edits' | 'overwritten'>) };
}
