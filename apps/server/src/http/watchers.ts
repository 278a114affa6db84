import type { RevisionEdits, Saved } from '@nettlewick/contract';
import type { Request, Response } from 'express';
import { senderOf } from './callers';

/** The most windows that watch one level, and all levels together. */
const MAX_PER_CALLER = 50;
const MAX_WATCHERS = 500;
/** A window that is so far behind is told nothing until it has caught up, in bytes. */
const BEHIND = 4_000_000;
/** How often a line is sent that says nothing, so that nobody in between takes the connection for dead, in milliseconds. */
const HEARTBEAT = 25_000;
/** How often it is looked who takes what they are told, and how long somebody may take for it, in milliseconds. */
const LOOKS = 2000;
const TAKES = 15_000;

/** A window that watches a level. */
interface Window {
  id: string;
  sender: string;
  response: Response;
  /** Since when it has not taken all that it was told; null while it has. */
  behindSince: number | null;
}

/**
 * Windows that are told at once when the level they have open was saved by another (server-sent events, WHATWG HTML 9.2). One that does
 * not take what it is told is let go of; and where all places are taken, whoever has most of them gives up the oldest: a window that is
 * still there asks again by itself.
 */
export class Watchers {
  /** In the order in which they came. */
  private readonly open = new Map<string, Set<Window>>();
  private readonly all = new Set<Window>();

  constructor() {
    setInterval(() => this.letGoOfDead(Date.now()), LOOKS).unref();
  }

  /** Keeps a connection open, and tells it of each save from now on. */
  watch(id: string, request: Request, response: Response): void {
    const here = this.open.get(id) ?? new Set<Window>();
    if (here.size >= MAX_PER_CALLER) this.makeRoom(here);
    if (this.all.size >= MAX_WATCHERS) this.makeRoom(this.all);
    const window: Window = { id, sender: senderOf(request, response), response, behindSince: null };
    this.open.set(id, here);
    here.add(window);
    this.all.add(window);
    // What is sent in drops is not to be gathered for compression.
    response.status(200).set({ 'content-type': 'text/event-stream', 'cache-control': 'no-cache, no-transform' });
    response.flushHeaders();
    const heartbeat = setInterval(() => response.write(':\n\n'), HEARTBEAT);
    heartbeat.unref();
    response.on('close', () => {
      clearInterval(heartbeat);
      this.forget(window);
    });
    this.tellPresent(id);
  }

  /** Lets go of those that have not taken what they were told for too long. */
  letGoOfDead(now: number): void {
    for (const window of this.all) {
      if (window.response.writableLength === 0) window.behindSince = null;
      else window.behindSince ??= now;
      if (window.behindSince !== null && now - window.behindSince > TAKES) this.letGo(window);
    }
  }

  private makeRoom(among: ReadonlySet<Window>): void {
    const held = new Map<string, number>();
    for (const { sender } of among) held.set(sender, (held.get(sender) ?? 0) + 1);
    const most = Math.max(...held.values());
    for (const window of among) {
      if (held.get(window.sender) !== most) continue;
      this.letGo(window);
      return;
    }
  }

  private letGo(window: Window): void {
    this.forget(window);
    // One that does not read would never see an end in order.
    window.response.destroy();
  }

  private forget(window: Window): void {
    if (!this.all.delete(window)) return;
    const here = this.open.get(window.id);
    here?.delete(window);
    if (here?.size === 0) this.open.delete(window.id);
    else this.tellPresent(window.id);
  }

  /** Tells all who watch a level that it has a new revision, and what that has changed: null for a whole document. */
  saved(id: string, { revision, etag }: Pick<Saved, 'revision' | 'etag'>, edits: RevisionEdits | null): void {
    this.tell(id, 'saved', edits ?? { revision, etag, batch: null, edits: null });
  }

  /** Tells all who watch a level that it was deleted, or is back. */
  deleted(id: string): void {
    this.tell(id, 'deleted', {});
  }

  restored(id: string, revision: number): void {
    this.tell(id, 'restored', { revision });
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
    for (const { response } of this.open.get(id) ?? []) if (response.writableLength < BEHIND) response.write(text);
  }
}
