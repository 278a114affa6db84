import { routes } from '@nettlewick/contract';
import type { Saved, editBatch } from '@nettlewick/contract';
import { fingerprint } from '@nettlewick/core';
import type { Level } from '@nettlewick/core';
import type * as z from 'zod';
import { apiRequest } from './api-client';
import type { ApiResult } from './api-client';
import { DraftDatabase } from './draft-database';
import type { Draft } from './draft-database';
import { LevelReplica } from './level-copy';

/** Looks after the open level beside the interface's thread: keeps its drafts, and sends it to the server. */
export class SaveWorker extends LevelReplica {
  private readonly shelf = new DraftDatabase();
  /** Levels that are about to be sent, by their fingerprints. */
  private readonly prepared = new Map<string, Level>();

  /** Keeps a draft of the level as it is now; of several in a row only the last is written. False if nothing can be kept. */
  keep(draft: Omit<Draft, 'level'>): Promise<boolean> {
    return this.shelf.keep({ ...draft, level: this.level });
  }

  /** Holds the level as it is now ready to be sent, and gives its fingerprint. */
  prepare(): string {
    const print = fingerprint(this.level);
    this.prepared.set(print, this.level);
    return print;
  }

  /** Saves edits on top of the revision with an ETag; a stale one is answered with a problem of status 412. */
  async saveEdits(id: string, etag: string, body: z.input<typeof editBatch>): Promise<ApiResult<Saved>> {
    return apiRequest(routes.editLevel, { parts: { id }, body, etag });
  }

  /** Saves what was prepared over the revision with an ETag; a stale one is answered with a problem of status 412. */
  async save(id: string, etag: string, print: string): Promise<ApiResult<Saved>> {
    const level = this.prepared.get(print);
    this.prepared.delete(print);
    if (level === undefined) throw new Error('Nothing was prepared to be sent.');
    return apiRequest(routes.saveLevel, { parts: { id }, body: level, etag });
  }
}
