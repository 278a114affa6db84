import { BODY_LIMIT } from '@nettlewick/contract';
import type { Request, Response } from 'express';
import { refuse } from './problems';

/** How many bytes of requests the server holds at once, unfinished ones included. */
const IN_FLIGHT = 96 * 1024 * 1024;

/** Receives the bodies of requests, each up to a limit and all of them together up to another. */
export class Bodies {
  private held = 0;

  constructor(private readonly most = IN_FLIGHT) {}

  /**
   * The bytes of a JSON body as they came, in pieces with a buffer of its own each, so that they can be handed over. They count
   * until the response is over. Refuses what is not JSON, compressed, or too large; and any body while too much is held.
   */
  async receive(request: Request, response: Response, limit = BODY_LIMIT): Promise<Uint8Array<ArrayBuffer>[]> {
    if (request.is('application/json') === false) refuse('wrong-media-type', { detail: 'Send Content-Type: application/json.' });
    const encoding = request.get('content-encoding') ?? 'identity';
    if (encoding.toLowerCase() !== 'identity')
      refuse('wrong-media-type', { detail: 'Send the document as it is: compressed requests are not taken.' });
    if (Number(request.get('content-length') ?? 0) > limit) this.tooLarge(response, limit);
    const pieces: Uint8Array<ArrayBuffer>[] = [];
    let size = 0;
    const letGo = (): void => {
      this.held -= size;
      size = 0;
    };
    response.once('close', letGo);
    for await (const chunk of request as AsyncIterable<Buffer>) {
      size += chunk.length;
      this.held += chunk.length;
      if (size > limit) this.tooLarge(response, limit);
      if (this.held > this.most) {
        response.set('connection', 'close').set('retry-after', '1');
        refuse('busy', { detail: 'The server is receiving as much as it can hold. Try again in a moment. Nothing was changed.' });
      }
      pieces.push(ownBuffer(chunk));
    }
    return pieces;
  }

  /** The value of a small JSON body. */
  async small(request: Request, response: Response): Promise<unknown> {
    const bytes = Buffer.concat(await this.receive(request, response, 64 * 1024));
    try {
      return JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(bytes)) as unknown;
    } catch {
      return refuse('not-json', { detail: 'The body of this request is no JSON. Nothing was changed.' });
    }
  }

  private tooLarge(response: Response, limit: number): never {
    response.set('connection', 'close');
    const most = limit >= 1024 * 1024 ? `${limit / 1024 / 1024} MiB` : `${limit / 1024} KiB`;
    refuse('too-large', { detail: `It may have at most ${most}. Nothing was changed.` });
  }
}

/** A piece of a body as the whole of a buffer: a copy, if it shares one with what else came on its connection. */
function ownBuffer(chunk: Buffer): Uint8Array<ArrayBuffer> {
  const { buffer, byteLength } = chunk;
  return buffer instanceof ArrayBuffer && buffer.byteLength === byteLength ? new Uint8Array(buffer) : new Uint8Array(chunk);
}
