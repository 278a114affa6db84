import { availableParallelism } from 'node:os';
import type { Fault } from '@nettlewick/core';
import { Piscina } from 'piscina';

/** What is to be read: a level document, or what a level is to be created from; in pieces, one after the other. */
export interface ToRead {
  what: 'document' | 'creation';
  pieces: Uint8Array[];
  /** A buffer that nobody needs any more, to put the pieces together in. */
  spare?: ArrayBuffer;
}

/** A document that was read: its name, its text as it is to be stored (UTF-8), and the digest of that; or what is wrong with it. */
export type Read =
  { ok: true; name: string; bytes: Uint8Array; digest: string } | { ok: false; notJson: string } | { ok: false; faults: Fault[] };

/** The documents could not be read now: there are too many, or this one takes too long. */
export class ReaderBusy extends Error {
  override name = 'ReaderBusy';
}

/** How long reading one document may take, in milliseconds. */
const DEADLINE = 15_000;

/** Buffers that are kept for the next documents: how many, and how long they are. */
const SPARE = { most: 4, from: 128 * 1024, to: 8 * 1024 * 1024 };

const THREADS = Math.min(2, availableParallelism());

/** Reads documents in a few threads, so that nobody waits for somebody else's. */
export class DocumentReader {
  private readonly pool: Piscina;
  private readonly spare: ArrayBuffer[] = [];

  /** `filename`: of reader.worker.ts, as a module that Node can run. */
  constructor(filename: string) {
    this.pool = new Piscina({
      filename,
      minThreads: THREADS,
      maxThreads: THREADS,
      maxQueue: 256,
      idleTimeout: Infinity,
      resourceLimits: { maxOldGenerationSizeMb: 768 },
    });
  }

  /** Waits until every thread has loaded what it needs, however long a busy machine takes for that: no document's deadline counts it. */
  async ready(): Promise<void> {
    const nothing = Array.from({ length: THREADS }, () => this.pool.run({ what: 'creation', pieces: [] }));
    await Promise.all(nothing);
  }

  /** The bytes are handed over: each piece is the whole of its buffer. Throws ReaderBusy. */
  async read(what: ToRead['what'], pieces: Uint8Array<ArrayBuffer>[]): Promise<Read> {
    try {
      const signal = AbortSignal.timeout(DEADLINE);
      const spare = pieces.length > 1 ? this.spare.pop() : undefined;
      const transferList = pieces.map(({ buffer }) => buffer).concat(spare ?? []);
      return (await this.pool.run({ what, pieces, spare }, { signal, transferList })) as Read;
    } catch (error) {
      if (isPressure(error)) throw new ReaderBusy(error instanceof Error ? error.message : String(error), { cause: error });
      throw error;
    }
  }

  /** Takes back what a document was read into, once nobody looks at it any more: new buffers are what makes memory be swept. */
  takeBack({ buffer }: Uint8Array): void {
    const fits = buffer.byteLength >= SPARE.from && buffer.byteLength <= SPARE.to;
    if (fits && buffer instanceof ArrayBuffer && this.spare.length < SPARE.most) this.spare.push(buffer);
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
