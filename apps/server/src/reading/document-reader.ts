import { availableParallelism } from 'node:os';
import type { Fault } from '@nettlewick/core';
import { Piscina } from 'piscina';
import { NoPlace, Places } from './places';

/** What is to be read: a level document, or what a level is to be created from; in pieces, one after the other. */
export interface ToRead {
  what: 'document' | 'creation';
  pieces: Uint8Array[];
  /** A buffer that nobody needs any more, to put the pieces together in. */
  spare?: ArrayBuffer;
}

/**
 * A document that was read: its name, its text as it is to be stored (UTF-8), and the digest of that; or what is wrong with it. `anew`:
 * whether the whole of it had to be read, which takes long.
 */
export type Read =
  | { ok: true; name: string; bytes: Uint8Array; digest: string; anew: boolean }
  | { ok: false; notJson: string }
  | { ok: false; faults: Fault[] };

/** The documents could not be read now: there are too many, or this one takes too long. */
export class ReaderBusy extends Error {
  override name = 'ReaderBusy';
}

/** How long reading one document may take from when it is begun, in milliseconds; and how long one waits for that. */
const DEADLINE_MS = 20_000;
const QUEUE_TIMEOUT_MS = 90_000;

/** Documents up to so many bytes are small: they are read in a thread of their own, in which nothing large stands before them. */
export const SMALL = 512 * 1024;

/** Buffers reused for the next documents: their number, and their sizes in bytes. */
const SPARE_BUFFERS = { most: 4, from: 128 * 1024, to: 8 * 1024 * 1024 };

const THREADS = Math.min(2, availableParallelism());

/** Threads that read, and places in them: what is begun is read at once, and its time counts from then. */
interface Lane {
  pool: Piscina;
  places: Places;
  threads: number;
}

/** Reads documents in a few threads, so that nobody waits for somebody else's: the small in one, the large in others. */
export class DocumentReader {
  private readonly small: Lane;
  private readonly large: Lane;
  private readonly spare: ArrayBuffer[] = [];

  /** `filename`: of reader.worker.ts, as a module that Node can run. */
  constructor(filename: string) {
    const lane = (threads: number): Lane => ({
      threads,
      places: new Places(threads, QUEUE_TIMEOUT_MS),
      pool: new Piscina({
        filename,
        minThreads: threads,
        maxThreads: threads,
        idleTimeout: Infinity,
        resourceLimits: { maxOldGenerationSizeMb: 768 },
      }),
    });
    this.small = lane(1);
    this.large = lane(THREADS);
  }

  /** Waits until every thread has loaded what it needs, however long a busy machine takes for that: no document's deadline counts it. */
  async ready(): Promise<void> {
    await Promise.all(
      [this.small, this.large].flatMap(({ pool, threads }) =>
        Array.from({ length: threads }, () => pool.run({ what: 'creation', pieces: [] })),
      ),
    );
  }

  /**
   * The bytes are handed over: each piece is the whole of its buffer. `sender`: whose turn it takes; those who open a level, for whom it
   * is brought forward, are nobody, and come first. Throws ReaderBusy.
   */
  async read(what: ToRead['what'], pieces: Uint8Array<ArrayBuffer>[], sender = ''): Promise<Read> {
    const size = pieces.reduce((sum, { length }) => sum + length, 0);
    const { pool, places } = size <= SMALL ? this.small : this.large;
    try {
      const letGo = await places.take(sender);
      try {
        const signal = AbortSignal.timeout(DEADLINE_MS);
        const spare = pieces.length > 1 ? this.spare.pop() : undefined;
        const transferList = pieces.map(({ buffer }) => buffer).concat(spare ?? []);
        return (await pool.run({ what, pieces, spare }, { signal, transferList })) as Read;
      } finally {
        letGo();
      }
    } catch (error) {
      if (isPressure(error)) throw new ReaderBusy(error instanceof Error ? error.message : String(error), { cause: error });
      throw error;
    }
  }

  /** Takes back what a document was read into, once nobody looks at it any more: new buffers are what makes memory be swept. */
  takeBack({ buffer }: Uint8Array): void {
    const fits = buffer.byteLength >= SPARE_BUFFERS.from && buffer.byteLength <= SPARE_BUFFERS.to;
    if (fits && buffer instanceof ArrayBuffer && this.spare.length < SPARE_BUFFERS.most) this.spare.push(buffer);
  }

  async close(): Promise<void> {
    await Promise.all([this.small.pool.destroy(), this.large.pool.destroy()]);
  }
}

/** Whether a document was not read because of how much there is to read, or because it took a thread down with it. */
function isPressure(error: unknown): boolean {
  if (error instanceof NoPlace) return true;
  const { name, code, message } = error as { name?: string; code?: string; message?: string };
  return (
    name === 'AbortError' ||
    code === 'ERR_WORKER_OUT_OF_MEMORY' ||
    /queue is at limit|terminated|No task queue available/i.test(message ?? '')
  );
}
