import { Injectable, inject } from '@angular/core';
import type { RevisionEdits } from '@nettlewick/contract';
import { EditError, applied, editsBetween, fingerprint, rebase } from '@nettlewick/core';
import type { Edit } from '@nettlewick/core';
import { LevelStore } from '../state/level-store';
import { failureText } from '../workers/api-client';
import { LevelsApi } from './levels-api';

/**
 * Brings the open level to what others have saved, and maps its pending edits over that. Saving and catching up wait for each other:
 * what is pending does not change while it is on its way.
 */
@Injectable({ providedIn: 'root' })
export class CatchingUp {
  private readonly store = inject(LevelStore);
  private readonly api = inject(LevelsApi);
  private last: Promise<unknown> = Promise.resolve();
  private underWay = 0;

  /** Does something once all that was begun before has ended: at once if nothing is under way. */
  inTurn<T>(work: () => Promise<T>): Promise<T> {
    const mine = this.underWay === 0 ? work() : this.last.then(work);
    this.underWay += 1;
    this.last = mine.catch(() => undefined).finally(() => (this.underWay -= 1));
    return mine;
  }

  /** Takes over a revision that another window has saved. */
  take(levelId: string, theirs: RevisionEdits): Promise<void> {
    return this.inTurn(async () => {
      if (!this.isBehind(levelId, theirs.revision)) return;
      if (theirs.revision !== this.store.revision() + 1 || !this.takeEdits(levelId, theirs)) await this.run(levelId);
    });
  }

  /** Takes over what was saved while nobody listened. */
  lookUp(levelId: string): Promise<void> {
    return this.inTurn(() => this.run(levelId));
  }

  /** Does what `lookUp` does, within a turn that was taken already. */
  async run(levelId: string): Promise<void> {
    while (this.isBehind(levelId, Infinity)) {
      const { revision, etag } = this.store.now();
      const since = await this.api.editsSince(levelId, revision);
      if (!since.ok) return this.fail(levelId, failureText(since));
      const { from, revisions, complete } = since.value;
      if (!this.isBehind(levelId, Infinity)) return;
      // After a backup was restored, the same number may be that of another document.
      const isSame = from === etag && revisions.every((one) => this.takeEdits(levelId, one));
      if (!isSame || (revisions.length === 0 && !complete)) return this.takeWhole(levelId);
      if (complete) return this.store.noteCaughtUp();
    }
  }

  /** The server does not answer: that matters where something is to be sent. */
  private fail(levelId: string, detail: string): void {
    const { level, sent } = this.store.now();
    if (level !== sent) this.store.failSaving(levelId, 'offline', detail);
  }

  /** Whether the level is open, and may be brought to a later revision. */
  private isBehind(levelId: string, revision: number): boolean {
    const state = this.store.now();
    return state.levelId === levelId && state.level !== null && state.saving !== 'conflict' && revision > state.revision;
  }

  /** Takes over the edits of one revision; false if they are not known, do not fit, or would cost an edit that was made offline. */
  private takeEdits(levelId: string, { edits, ...theirs }: RevisionEdits): boolean {
    const { pending, attempts } = this.store.now();
    const isOwn = attempts.some(({ key }) => key === theirs.batch);
    if (edits === null || pending === null || (!isOwn && this.wouldLose(edits))) return false;
    try {
      this.store.takeTheirs(levelId, { ...theirs, edits });
      return true;
    } catch (error) {
      if (error instanceof EditError) return false;
      throw error;
    }
  }

  /** Whether something that was edited without the server cannot be made upon what others have done: then the user decides. */
  private wouldLose(edits: readonly Edit[]): boolean {
    const { saving, sent, pending } = this.store.now();
    if (saving !== 'offline' || sent === null || pending === null || pending.length === 0) return false;
    try {
      return rebase(pending, edits, edits.reduce(applied, sent)).lost.length > 0;
    } catch (error) {
      if (error instanceof EditError) return true;
      throw error;
    }
  }

  /** The newest revision as a whole: our own, if only the answer to it was lost; otherwise somebody else's. */
  private async takeWhole(levelId: string): Promise<void> {
    const newest = await this.api.open(levelId);
    if (!newest.ok) return this.fail(levelId, failureText(newest));
    const { level: stored, revision, etag } = newest.value;
    const { attempts, sent, pending, level } = this.store.now();
    if (sent === null) return;
    if (attempts.length > 0) {
      const print = fingerprint(stored);
      const own = attempts.find(({ key }) => key === print);
      if (own !== undefined) return this.store.noteSaved(levelId, stored, { revision, etag }, own.edits);
    }
    if (this.store.etag() === null && revision === this.store.revision()) return this.store.noteTag(levelId, revision, etag);
    const edits = editsBetween(sent, stored);
    if (level === sent && pending === null) this.store.noteSaved(levelId, sent, { revision, etag }, null);
    const isKnown = this.store.pending() !== null && this.store.etag() !== null;
    if (!isKnown || !this.takeEdits(levelId, { revision, etag, batch: null, edits, overwritten: [] }))
      this.store.findConflict(newest.value);
  }
}
