import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import type { Fault } from '@nettlewick/core';
import { Piscina } from 'piscina';

/** What is to be read: a level document, or what a level is to be created from. */
export interface ToRead {
  what: 'document' | 'creation';
  bytes: Uint8Array;
}

/** A document that was read: its name, its text as it is to be stored (UTF-8), and the SHA-256 of that; or what is wrong with it. */
export type Read =
  { ok: true; name: string; bytes: Uint8Array; digest: string } | { ok: false; notJson: string } | { ok: false; faults: Fault[] };

/** The documents could not be read now: there are too many, or this one takes too long. */
export class ReaderBusy extends Error {
  override name = 'ReaderBusy';
}

/** How long reading one document may take, in milliseconds. */
const DEADLINE = 15_000;

/** Reads documents in a few threads, so that nobody waits for somebody else's. */
export class DocumentReader {
  private readonly pool: Piscina;

  /** `folder`: where this file and its worker stand. */
  constructor(folder: string) {
    this.pool = new Piscina({
      filename: join(folder, 'reader.worker.ts'),
      execArgv: ['--import', 'tsx'],
      minThreads: Math.min(2, availableParallelism()),
      maxThreads: Math.min(2, availableParallelism()),
      maxQueue: 256,
      idleTimeout: Infinity,
      resourceLimits: { maxOldGenerationSizeMb: 768 },
    });
  }

  /** The bytes are handed over. Throws ReaderBusy. */
  async read(what: ToRead['what'], bytes: Uint8Array<ArrayBuffer>): Promise<Read> {
    try {
      const signal = AbortSignal.timeout(DEADLINE);
      return (await this.pool.run({ what, bytes }, { signal, transferList: [bytes.buffer] })) as Read;
    } catch (error) {
      if (isPressure(error)) throw new ReaderBusy(error instanceof Error ? error.message : String(error), { cause: error });
      throw error;
    }
  }

  async close(): Promise<void> {
    await this.pool.destroy();
  }
}

/** Whether a document was not read because of how much there is to read, or because it took a thread down with it. */
function isPressure(error: unknown): boolean {
  const { name, code, message } = error as { name?: string; code?: string; message?: string };
  return (
    name === 'AbortError' ||
    code === 'ERR_WORKER_OUT_OF_MEMORY' ||
    /queue is at limit|terminated|No task queue available/i.test(message ?? '')
  );
}
