import { DestroyRef, Injectable, inject } from '@angular/core';
import { fingerprint } from '@nettlewick/core';
import { watchState } from '@ngrx/signals';
import type { LevelState } from '../state/level-state';
import { LevelStore } from '../state/level-store';
import { failureText } from '../workers/asking';
import { Keeper } from './keeper';
import { LevelsApi } from './levels-api';

/** How long edits are gathered before they are sent, and how long to wait before trying again, in milliseconds. */
const GATHER = 400;
const AGAIN = 1500;

/**
 * Sends what has been edited, one save at a time, until the server has everything. While the server does not answer it
 * tries again by itself; a newer revision of somebody else's stops it until the user has decided.
 */
@Injectable()
export class Autosave {
  private readonly store = inject(LevelStore);
  private readonly api = inject(LevelsApi);
  private readonly keeper = inject(Keeper);
  private timer: ReturnType<typeof setTimeout> | undefined;
  private sending = false;

  constructor() {
    // An edit is sent; and so is what stood against another's once that is settled, though it has not changed.
    let seen: Partial<LevelState> = {};
    watchState(this.store, ({ level, theirs }) => {
      if (level === seen.level && theirs === seen.theirs) return;
      seen = { level, theirs };
      this.soon(GATHER);
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
      const isTyping = typedIn?.isConnected === true && typedIn.closest('nw-value, nw-name-field, .title') !== null;
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

  private soon(delay: number): void {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.send(), delay);
  }

  private async send(): Promise<void> {
    const state = this.store.now();
    if (this.sending || !hasWork(state)) return;
    this.sending = true;
    try {
      const attempt = await this.keeper.prepare(state.level);
      this.store.startSaving(attempt);
      await this.sendOne(state, attempt);
    } catch {
      // What sends it has broken: that is begun anew.
      const detail = 'Saving was interrupted. Your edits are kept in this browser; saving will be retried.';
      this.store.failSaving(state.levelId, 'offline', detail);
    } finally {
      this.sending = false;
    }
    if (hasWork(this.store.now())) this.soon(this.store.now().saving === 'offline' ? AGAIN : 0);
  }

  private async sendOne({ levelId, level, etag }: Working, attempt: string): Promise<void> {
    // A draft of a program of before knows only the number of its revision.
    if (etag === null) return this.compare(levelId);
    const answer = await this.keeper.save(levelId, etag, attempt);
    if (answer.ok) {
      this.store.noteSaved(levelId, level, answer.value);
    } else if (answer.offline) {
      this.store.failSaving(levelId, 'offline', answer.detail);
    } else if (answer.problem.status === 412) {
      await this.compare(levelId);
    } else {
      this.store.failSaving(levelId, 'refused', failureText(answer));
    }
  }

  /** The server has a newer revision: our own, if only the answer to it was lost; otherwise somebody else's. */
  private async compare(levelId: string): Promise<void> {
    const newest = await this.api.open(levelId);
    if (!newest.ok) {
      this.store.failSaving(levelId, 'offline', failureText(newest));
    } else if (this.store.now().attempts.includes(fingerprint(newest.value.level))) {
      this.store.noteSaved(levelId, newest.value.level, newest.value);
    } else if (this.store.now().etag === null && newest.value.revision === this.store.now().revision) {
      this.store.noteTag(levelId, newest.value.revision, newest.value.etag);
    } else {
      this.store.findConflict(newest.value);
    }
  }
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
