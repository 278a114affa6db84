import { Injectable } from '@angular/core';
import type { Saved } from '@nettlewick/contract';
import type { Edit, Level, Overwritten } from '@nettlewick/core';
import { workerFor } from '../workers/start';
import type { ApiResult } from '../workers/api-client';
import type { Draft } from '../workers/draft-database';

/** What keeps the drafts of the open level and sends it, in a worker that does nothing else: neither ever waits for a check. */
@Injectable({ providedIn: 'root' })
export class SaveWorkerClient {
  private readonly client = workerFor('keeping');

  /** Keeps a draft; of several in a row only the last is written. False if this browser cannot keep anything. */
  keep({ level, ...draft }: Draft): Promise<boolean> {
    return this.client.ask(level, (remote) => remote.keep(draft)).catch(() => false);
  }

  /** Holds a level ready to be sent, and gives its fingerprint. */
  prepare(level: Level): Promise<string> {
    return this.client.ask(level, (remote) => remote.prepare());
  }

  /** Saves edits on top of the revision with an ETag; a stale one is answered with a problem of status 412. */
  saveEdits(id: string, etag: string, batch: string, edits: Edit[], overwritten: Overwritten[]): Promise<ApiResult<Saved>> {
    return this.client.ask(
      null,
      (remote) => remote.saveEdits(id, etag, { batch, edits, overwritten }) as Promise<ApiResult<Saved>>,
    );
  }

  /** Saves what was prepared over the revision with an ETag; a stale one is answered with a problem of status 412. */
  save(id: string, etag: string, print: string): Promise<ApiResult<Saved>> {
    return this.client.ask(null, (remote) => remote.save(id, etag, print) as Promise<ApiResult<Saved>>);
  }
}
