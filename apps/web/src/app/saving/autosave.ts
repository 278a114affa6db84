import { DestroyRef, Injectable, inject } from '@angular/core';
import { EDITS } from '@nettlewick/contract';
import type { Saved } from '@nettlewick/contract';
import { collections, leavesOf } from '@nettlewick/core';
import type { Edit } from '@nettlewick/core';
import { watchState } from '@ngrx/signals';
import { nanoid } from 'nanoid';
import type { LevelState } from '../state/level-state';
import { LevelStore } from '../state/level-store';
import { failureText } from '../workers/api-client';
import type { ApiResult } from '../workers/api-client';
import { CatchingUp } from './catching-up';
import { SaveWorkerClient } from './keeper';

/** How long edits are gathered before they are sent, and how long to wait before trying again, in milliseconds. */
const SAVE_DELAY_MS = 200;
const RETRY_MIN_MS = 1500;

/** Edits up to so many characters are sent as such; what is longer goes as the whole document. */
const AS_EDITS = 200_000;

/**
 * Sends what has been edited, one save at a time, until the server has everything. While the server does not answer it
 * tries again by itself. Where somebody else has saved, the edits are mapped over theirs and sent on top; only where that cannot be, it
 * stops until the user has decided.
 */
@Injectable()
export class Autosave {
  private readonly store = inject(LevelStore);
  private readonly catching = inject(CatchingUp);
  private readonly keeper = inject(SaveWorkerClient);
  private timer: ReturnType<typeof setTimeout> | undefined;
  /** When the timer ends. */
  private due = Infinity;
  private sending = false;

  constructor() {
    // An edit is sent; and so is what stood against another's once that is settled, though it has not changed.
    let seen: Partial<LevelState> = {};
    watchState(this.store, ({ level, theirs }) => {
      if (level === seen.level && theirs === seen.theirs) return;
      seen = { level, theirs };
      this.soon(SAVE_DELAY_MS);
    });
    const now = (): void => this.soon(0);
    // A text that is being typed is nowhere yet: whoever leaves the page is asked.
    let typedIn: Element | null = null;
    const typing = (event: Event): void => void (typedIn = event.target instanceof Element ? event.target : null);
    const entered = (event: Event): void => {
      if (!(event instanceof KeyboardEvent) || event.key === 'Enter' || event.key === 'Escape') typedIn = null;
    };
    const beforeLeaving = (event: BeforeUnloadEvent): void => {
      const { level, sent, drafted } = this.store.now();
      const isTyping =
        typedIn?.isConnected === true && typedIn.closest('nw-value, nw-name-field, .title, nw-wiring-text.dirty') !== null;
      // What is neither with the server nor in this browser would be lost.
      if (isTyping || (level !== sent && level !== drafted)) event.preventDefault();
    };
    addEventListener('input', typing, true);
    addEventListener('focusout', entered, true);
    addEventListener('keydown', entered, true);
    addEventListener('online', now);
    addEventListener('beforeunload', beforeLeaving);
    inject(DestroyRef).onDestroy(() => {
      clearTimeout(this.timer);
      removeEventListener('input', typing, true);
      removeEventListener('focusout', entered, true);
      removeEventListener('keydown', entered, true);
      removeEventListener('online', now);
      removeEventListener('beforeunload', beforeLeaving);
      void this.send();
    });
  }

  /** Sends at once, as far as there is anything to send, also what was refused before. */
  now(): void {
    const { levelId, saving } = this.store.now();
    if (levelId !== null && saving === 'refused') this.store.failSaving(levelId, 'offline', 'It is sent again.');
    this.soon(0);
  }

  /** Sends after a while, or sooner if that was asked for before. */
  private soon(delay: number): void {
    const due = Date.now() + delay;
    if (due >= this.due) return;
    clearTimeout(this.timer);
    this.due = due;
    this.timer = setTimeout(() => {
      this.due = Infinity;
      void this.send();
    }, delay);
  }

  private async send(): Promise<void> {
    if (this.sending || !hasWork(this.store.now())) return;
    this.sending = true;
    const { levelId, revision } = this.store.now();
    try {
      await this.catching.inTurn(() => this.sendOne());
    } catch {
      // What sends it has broken: that is begun anew.
      const detail = 'Saving was interrupted. Your edits are kept in this browser; saving will be retried.';
      if (levelId !== null) this.store.failSaving(levelId, 'offline', detail);
    } finally {
      this.sending = false;
    }
    // Where nothing has come of it, there is time.
    const isStuck = this.store.now().saving === 'offline' || this.store.now().revision === revision;
    if (hasWork(this.store.now())) this.soon(isStuck ? RETRY_MIN_MS : 0);
  }

  private async sendOne(): Promise<void> {
    const state = this.store.now();
    if (!hasWork(state)) return;
    const { levelId, level, etag, pending, attempts, overwritten } = state;
    // A draft of a program of before knows only the number of its revision.
    if (etag === null) return this.catching.run(levelId);
    let answer: ApiResult<Saved>;
    const asEdits = pending !== null && canBeSent(pending);
    if (asEdits) {
      const again = attempts.find(({ key, edits }) => edits === pending.length && key.startsWith(BATCH));
      const attempt = again ?? { key: `${BATCH}${nanoid()}`, edits: pending.length };
      this.store.startSaving(levelId, attempt);
      answer = await this.keeper.saveEdits(levelId, etag, attempt.key, pending, overwritten.slice(0, EDITS.most));
    } else {
      // What is prepared stays as it is from now on: what is edited meanwhile is an edit of its own.
      const edits = pending?.length ?? 0;
      this.store.startSaving(levelId, { key: PREPARING, edits });
      const print = await this.keeper.prepare(level);
      this.store.startSaving(levelId, { key: print, edits });
      answer = await this.keeper.save(levelId, etag, print);
    }
    if (answer.ok) this.store.noteSaved(levelId, level, answer.value, pending?.length ?? null);
    else if (answer.offline) this.store.failSaving(levelId, 'offline', answer.detail);
    else if (answer.problem.status === 412) await this.catching.run(levelId);
    else this.store.failSaving(levelId, 'refused', failureText(answer));
  }
}

/** How the name of a batch begins, which no fingerprint does; and by what a document is known that has no fingerprint yet. */
const BATCH = 'batch-';
const PREPARING = 'preparing';

/** Whether edits can be sent as such: they are few, and none replaces a whole list. */
function canBeSent(edits: readonly Edit[]): boolean {
  const single = edits.flatMap(leavesOf);
  const replaces = (edit: Edit): boolean => edit.kind === 'level' && collections.some((collection) => collection in edit.after);
  return single.length <= EDITS.most && !single.some(replaces) && JSON.stringify(edits).length <= AS_EDITS;
}

type Working = LevelState & { levelId: string; level: NonNullable<LevelState['level']> };

function hasWork(state: LevelState): state is Working {
  return (
    state.levelId !== null &&
    state.level !== null &&
    state.level !== state.sent &&
    state.saving !== 'conflict' &&
    state.saving !== 'refused'
  );
}
