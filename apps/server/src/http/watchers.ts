import type { Request, Response } from 'express';
import { refuse } from './problems';

/** So many windows may watch one level, and all levels together. */
const MOST_OF_ONE = 50;
const MOST = 500;
/** A window that is so far behind is told nothing until it has caught up, in bytes. */
const BEHIND = 4_000_000;
/** How often a line is sent that says nothing, so that nobody in between takes the connection for dead, in milliseconds. */
const HEARTBEAT = 25_000;

/** Windows that are told at once when the level they have open was saved by another (server-sent events, WHATWG HTML 9.2). */
export class Watchers {
  private readonly open = new Map<string, Set<Response>>();
  private count = 0;

  /** Keeps a connection open, and tells it of each save from now on; refuses where too many watch. */
  watch(id: string, request: Request, response: Response): void {
    const watching = this.open.get(id) ?? new Set();
    if (this.count >= MOST || watching.size >= MOST_OF_ONE)
      refuse('busy', { detail: 'Too many windows watch already. Saves are found by asking, as before.' });
    this.open.set(id, watching);
    watching.add(response);
    this.count++;
    // What is sent in drops is not to be gathered for compression.
    response.status(200).set({ 'content-type': 'text/event-stream', 'cache-control': 'no-cache, no-transform' });
    response.flushHeaders();
    const heartbeat = setInterval(() => response.write(':\n\n'), HEARTBEAT);
    heartbeat.unref();
    request.on('close', () => {
      clearInterval(heartbeat);
      this.count--;
      watching.delete(response);
      if (watching.size === 0) this.open.delete(id);
      else this.tellPresent(id);
    });
    this.tellPresent(id);
  }

  /** Tells all who watch a level that it has a new revision. */
  saved(id: string, revision: number): void {
    this.tell(id, 'saved', { revision });
  }

  /** Passes on what a running game says of a play of a level; gives how many windows hear it. */
  played(id: string, lines: readonly unknown[]): number {
    this.tell(id, 'played', { lines });
    return this.open.get(id)?.size ?? 0;
  }

  private tellPresent(id: string): void {
    this.tell(id, 'present', { windows: this.open.get(id)?.size ?? 0 });
  }

  private tell(id: string, event: string, data: object): void {
    const text = `event: ${event}\ndata: ${JSON.stringify(data)}\n\n`;
    // Who does not keep up is not waited for: a save is found by asking, and a play is told anew.
    for (const response of this.open.get(id) ?? []) if (response.writableLength < BEHIND) response.write(text);
  }
}
