import { Injectable, inject } from '@angular/core';
import type { StoredLevel } from '@nettlewick/contract';
import { applied, fingerprint, invert, same } from '@nettlewick/core';
import { watchState } from '@ngrx/signals';
import { failureText } from '../workers/api-client';
import { CatchingUp } from './catching-up';
import { Drafts } from './drafts';
import { SaveWorkerClient } from './keeper';
import { LevelsApi } from './levels-api';
import { Session } from './session';
import type { Draft } from '../workers/draft-database';
import { draftOf } from '../state/level-state';
import type { LevelState, Opened } from '../state/level-state';
import { LevelStore } from '../state/level-store';

/** How long it takes until it is looked again, and then again, for what other tabs have left, in milliseconds. */
const LOOKS = [1500, 1500, 4000];

/** Opens levels, and keeps a draft of every state of the open one in this browser. */
@Injectable({ providedIn: 'root' })
export class LevelLoader {
  private readonly store = inject(LevelStore);
  private readonly api = inject(LevelsApi);
  private readonly catching = inject(CatchingUp);
  private readonly drafts = inject(Drafts);
  private readonly keeper = inject(SaveWorkerClient);
  private readonly session = inject(Session);
  private kept: Draft | null = null;
  private turn = 0;

  constructor() {
    watchState(this.store, (state) => void this.keep(state));
  }

  /** Opens a level in place of the one that is open. */
  async open(levelId: string): Promise<void> {
    const turn = (this.turn += 1);
    this.store.startOpening(levelId);
    const read = await this.read(levelId);
    // Another was opened meanwhile, or the same again.
    if (turn !== this.turn) return;
    if (typeof read === 'string') this.store.failOpening(read);
    else this.store.show(read);
    // What was edited without the server, and others have gone on: see whether both go together.
    if (typeof read !== 'string' && read.offline && read.theirs === null) await this.catching.lookUp(levelId);
    if (typeof read !== 'string') void this.lookAgain(levelId, turn);
  }

  /**
   * Offers what was not seen to be left at once: a browser takes its time to notice that a tab is closed, and to open its database.
   * A tab that is being reloaded seems closed for a moment, so one look does not count.
   */
  private async lookAgain(levelId: string, turn: number): Promise<void> {
    let before = new Set<string>();
    for (const delay of LOOKS) {
      await new Promise((resolve) => setTimeout(resolve, delay));
      if (turn !== this.turn) return;
      const over = new Set<string>();
      const left = await this.drafts.leftBehind(levelId, async (sessions) => {
        for (const session of await this.session.gone(sessions)) over.add(session);
        return new Set([...over].filter((session) => before.has(session)));
      });
      before = over;
      const level = this.store.level();
      const found = (await this.unsentOf(left, this.store.revision())).filter(
        (draft) => level !== null && !same(draft.level, level),
      );
      if (turn === this.turn && found.length > 0) this.store.find(found);
    }
  }

  /** What was found of another tab's is not wanted any more. */
  async settle(session: string): Promise<void> {
    const levelId = this.store.levelId();
    this.store.settleFound(session);
    if (levelId !== null) await this.drafts.forget(levelId, session);
  }

  /** Every newest state is handed over at once: of those that wait to be written only the last is. */
  private async keep(state: LevelState): Promise<void> {
    const draft = draftOf(state);
    const { kept } = this;
    if (draft === null || (!draft.unsent && draft.undo.length + draft.redo.length === 0) || isSame(draft, kept)) return;
    this.kept = draft;
    const keeps = await this.keeper.keep({ ...draft, keptAt: Date.now() });
    this.store.noteDraft(draft.level, keeps);
  }

  /**
   * The level from the server, with what this tab has of it that the server has not; else with what a tab that is closed by
   * now has left, if that fits. What else was left is offered.
   */
  private async read(levelId: string): Promise<Opened | string> {
    // A database that opens late may hold what this tab had: it is not written over.
    const session = (await this.drafts.isOpen()) ? await this.session.id : await this.session.renew();
    const [answer, own, left] = await Promise.all([
      this.api.open(levelId),
      this.drafts.find(levelId, session),
      this.drafts.leftBehind(levelId, (sessions) => this.session.gone(sessions)),
    ]);
    const theirs = answer.ok ? answer.value : null;
    const unsent = theirs === null ? left : await this.unsentOf(left, theirs.revision);
    const taken = own ?? unsent.find((draft) => theirs === null || fitsOn(draft, theirs)) ?? null;
    const found = unsent.filter((draft) => draft !== taken && (theirs === null || !same(draft.level, theirs.level)));
    if (taken !== null && taken !== own) {
      await this.drafts.keep({ ...taken, session });
      await this.drafts.forget(levelId, taken.session);
    }
    if (theirs === null) {
      if (answer.ok || !answer.offline || taken === null) return answer.ok ? '' : failureText(answer);
      return { ...kept(taken), theirs: null, offline: true, session, found };
    }
    const fresh: Opened = {
      level: theirs.level,
      sent: theirs.level,
      revision: theirs.revision,
      etag: theirs.etag,
      pending: [],
      attempts: [],
      undo: [],
      redo: [],
      theirs: null,
      offline: false,
      session,
      found,
    };
    if (taken === null) return fresh;
    const { level, undo, redo } = taken;
    if (same(level, theirs.level)) return { ...fresh, undo, redo };
    if (!taken.unsent) return fresh;
    if (fitsOn(taken, theirs))
      return { ...fresh, level, undo, redo, pending: taken.etag === theirs.etag ? (taken.pending ?? null) : null };
    // Edits that are known can be mapped over what others have done, as after any other time without the server.
    const conflict = (taken.pending ?? null) === null || taken.revision >= theirs.revision;
    return { ...kept(taken), theirs: conflict ? theirs : null, offline: true, session, found };
  }

  /**
   * Of drafts that others have left, those that the server has not: a tab that is closed as soon as it was saved leaves one that does not
   * know of it yet.
   */
  private async unsentOf(left: readonly Draft[], revision: number): Promise<Draft[]> {
    const unsent: Draft[] = [];
    for (const draft of left) {
      const tried = draft.attempts.filter(({ edits }) => edits === draft.pending?.length);
      const since = tried.length === 0 ? null : await this.api.editsSince(draft.levelId, draft.revision);
      const batches = new Set(since?.ok === true ? since.value.revisions.map(({ batch }) => batch) : []);
      const isStored = draft.revision < revision && tried.some(({ key }) => batches.has(key));
      if (isStored) await this.drafts.forget(draft.levelId, draft.session);
      else unsent.push(draft);
    }
    return unsent;
  }
}

/** The level of a draft, and what the server had of it then. */
function kept({
  level,
  revision,
  etag = null,
  pending = null,
  attempts,
  undo,
  redo,
  unsent,
}: Draft): Omit<Opened, 'theirs' | 'offline' | 'session' | 'found'> {
  const edits = unsent ? pending : [];
  const sent = edits === null ? { ...level } : edits.map(invert).reverse().reduce(applied, level);
  return { level, sent, revision, etag, pending: edits, attempts, undo, redo };
}

/** Whether nobody else has saved since a draft was begun. The server may have taken a save although its answer was lost. */
function fitsOn(draft: Draft, theirs: StoredLevel): boolean {
  const isSame =
    draft.etag === undefined || draft.etag === null ? draft.revision === theirs.revision : draft.etag === theirs.etag;
  if (isSame || draft.attempts.length === 0) return isSame;
  const print = fingerprint(theirs.level);
  return draft.attempts.some(({ key }) => key === print);
}

/** Whether two drafts are of the same state. */
function isSame(one: Draft, other: Draft | null): boolean {
  return other !== null && (Object.keys(one) as (keyof Draft)[]).every((field) => one[field] === other[field]);
}
