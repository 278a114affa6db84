import { BODY_LIMIT } from '@nettlewick/contract';
import type { Request, Response } from 'express';
import { NoPlace, Places } from '../reading/places';
import { SMALL } from '../reading/document-reader';
import { senderOf } from './callers';
import { isRefusal, problemResponse } from './problems';

/** How many JSON lines a request may have: as many as are read without making others wait. */
const LINES = 1000;

/** How many bytes of large requests the server holds at once, unfinished ones included; and of small ones. */
const IN_FLIGHT = 96 * 1024 * 1024;
/** The time a large request may wait for memory, and then take to arrive, in milliseconds. */
const BODY_TIMEOUT_MS = 90_000;
const ARRIVES = 60_000;

/**
 * Receives the bodies of requests, each up to a limit and all of them together up to another. What is small is taken at once; what is
 * large waits unread until there is room for it, the senders in turn.
 */
export class BodyReader {
  private held = 0;
  private readonly room: Places;

  constructor(
    private readonly most = IN_FLIGHT,
    patience = BODY_TIMEOUT_MS,
  ) {
    this.room = new Places(most, patience);
  }

  /**
   * The bytes of a JSON body as they came, in pieces with a buffer of its own each, so that they can be handed over. They count
   * until the response is over. Refuses what is not JSON, compressed, or too large; and any body while too much is held.
   */
  async receive(
    request: Request,
    response: Response,
    limit = BODY_LIMIT,
    types = ['application/json'],
  ): Promise<Uint8Array<ArrayBuffer>[]> {
    if (request.is(types) === false) problemResponse('wrong-media-type', { detail: `Send Content-Type: ${types[0]!}.` });
    const encoding = request.get('content-encoding') ?? 'identity';
    if (encoding.toLowerCase() !== 'identity')
      problemResponse('wrong-media-type', { detail: 'Send the document as it is: compressed requests are not taken.' });
    if (Number(request.get('content-length') ?? 0) > limit) this.tooLarge(response, limit);
    const pieces = new Pieces();
    const sender = senderOf(request, response);
    let letGo: (() => void) | null = null;
    let small = 0;
    response.once('close', () => {
      letGo?.();
      this.held -= small;
      small = 0;
    });
    const room = async (bytes: number): Promise<void> => {
      letGo = await this.room.take(sender, bytes).catch((error: unknown) => {
        if (error instanceof NoPlace) return this.full(response);
        throw error;
      });
      // Whoever has gone meanwhile needs it no more.
      if (response.closed) letGo?.();
    };
    const said = Number(request.get('content-length') ?? 0);
    if (said > SMALL) await room(said);
    let size = 0;
    const late = setTimeout(() => request.destroy(), ARRIVES).unref();
    try {
      for await (const chunk of request as AsyncIterable<Buffer>) {
        size += chunk.length;
        if (size > limit) this.tooLarge(response, limit);
        // One that has not said how large it is may be as large as may be.
        if (letGo === null && size > SMALL) await room(limit);
        if (letGo === null) {
          small += chunk.length;
          this.held += chunk.length;
          if (this.held > this.most) this.full(response);
        }
        pieces.add(chunk);
      }
    } catch (error) {
      if (isRefusal(error) || !request.destroyed || request.complete) throw error;
      problemResponse('bad-request', { detail: 'The request ended before all of it was there. Nothing was changed.' });
    } finally {
      clearTimeout(late);
    }
    return pieces.all();
  }

  /** The value of a small JSON body. */
  async small(request: Request, response: Response): Promise<unknown> {
    const bytes = Buffer.concat(await this.receive(request, response, 64 * 1024));
    return valueOf(() => new TextDecoder('utf-8', { fatal: true }).decode(bytes), 'The body of this request is no JSON');
  }

  /** The values of a body of JSON lines, those that are not empty; refuses too many of them. */
  async lines(request: Request, response: Response): Promise<{ line: number; value: unknown }[]> {
    const types = ['application/x-ndjson', 'application/jsonl', 'application/json'];
    const bytes = Buffer.concat(await this.receive(request, response, 256 * 1024, types));
    const texts = bytes
      .toString('utf8')
      .split('\n')
      .flatMap((text, at) => (text.trim() === '' ? [] : [{ line: at + 1, text }]));
    if (texts.length > LINES)
      problemResponse('too-large', { detail: `Send at most ${LINES} lines at a time. Nothing was changed.` });
    return texts.map(({ line, text }) => ({ line, value: valueOf(() => text, `Line ${line} is no JSON`) }));
  }

  private full(response: Response): never {
    response.set('connection', 'close');
    problemResponse('busy', {
      detail: 'The server is receiving as much as it can hold. Try again in a moment. Nothing was changed.',
    });
  }

  private tooLarge(response: Response, limit: number): never {
    response.set('connection', 'close');
    const most = limit >= 1024 * 1024 ? `${limit / 1024 / 1024} MiB` : `${limit / 1024} KiB`;
    problemResponse('too-large', { detail: `It may have at most ${most}. Nothing was changed.` });
  }
}

/** The value of a JSON text; else the request is refused. */
function valueOf(text: () => string, wrong: string): unknown {
  try {
    return JSON.parse(text()) as unknown;
  } catch {
    return problemResponse('not-json', { detail: `${wrong}. Nothing was changed.` });
  }
}

/** Smaller chunks are joined, so that a body sent byte by byte does not become a list of millions. */
const MIN_CHUNK_BYTES = 16 * 1024;
const BLOCK = 64 * 1024;

/** The pieces of a body, each the whole of its buffer; small ones are put together in blocks. */
class Pieces {
  private readonly full: Uint8Array<ArrayBuffer>[] = [];
  private block = new Uint8Array(0);
  private used = 0;

  add(chunk: Buffer): void {
    const { buffer, byteLength } = chunk;
    if (byteLength >= MIN_CHUNK_BYTES && buffer instanceof ArrayBuffer && buffer.byteLength === byteLength) {
      this.endBlock();
      this.full.push(new Uint8Array(buffer));
      return;
    }
    for (let from = 0; from < byteLength;) {
      if (this.used === this.block.length) {
        this.endBlock();
        this.block = new Uint8Array(BLOCK);
      }
      const part = chunk.subarray(from, from + this.block.length - this.used);
      this.block.set(part, this.used);
      this.used += part.length;
      from += part.length;
    }
  }

  all(): Uint8Array<ArrayBuffer>[] {
    this.endBlock();
    return this.full;
  }

  private endBlock(): void {
    if (this.used > 0) this.full.push(this.used === this.block.length ? this.block : this.block.slice(0, this.used));
    this.block = new Uint8Array(0);
    this.used = 0;
  }
}
