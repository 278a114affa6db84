import { computed } from '@angular/core';
import { getState, patchState, signalStore, withComputed, withMethods, withState } from '@ngrx/signals';
import type { Saved, StoredLevel } from '@nettlewick/contract';
import type { Edit, Level } from '@nettlewick/core';
import type { Draft } from '../workers/draft-database';
import * as change from './level-state';
import type { Attempt, LevelState, News, Opened, Theirs } from './level-state';

/**
 * The open level: the document with its history, the selection, and how it is saved. Each method makes one of the changes of
 * level-state; nothing else changes it.
 */
export const LevelStore = signalStore(
  { providedIn: 'root' },
  withState(change.nothingOpen),
  withComputed(({ saving, level, sent, undo, redo }) => ({
    saveState: computed(() => change.saveStateOf({ saving: saving(), level: level(), sent: sent() })),
    canUndo: computed(() => undo().length > 0),
    canRedo: computed(() => redo().length > 0),
  })),
  withMethods((store) => {
    const make = (by: (state: LevelState) => LevelState): void => patchState(store, by);
    return {
      /** All of it as it is now; a computation that asks depends on all of it. */
      now: (): LevelState => getState(store),
      startOpening: (levelId: string) => make(change.opening(levelId)),
      failOpening: (detail: string) => make(change.failed(detail)),
      show: (read: Opened) => make(change.opened(read)),
      /** Edits of one gesture become one step of undo. */
      edit: (edit: Edit, gesture?: string) => make(change.changed(edit, gesture)),
      undoLast: () => make(change.undone),
      redoLast: () => make(change.redone),
      select: (ids: string[]) => make(change.selected(ids)),
      startSaving: (levelId: string, attempt: Attempt) => make(change.saveStarted(levelId, attempt)),
      noteCaughtUp: () => make(change.settled),
      /** `edits`: how many of the pending ones the server has now; null if all of the level was sent. */
      noteSaved: (levelId: string, level: Level, answer: Pick<Saved, 'revision' | 'etag'>, edits: number | null) =>
        make(change.saved(levelId, level, answer, edits)),
      failSaving: (levelId: string, saving: 'offline' | 'refused', detail: string) =>
        make(change.saveFailed(levelId, saving, detail)),
      findConflict: (theirs: StoredLevel) => make(change.conflictFound(theirs)),
      resolveConflict: (level: Level, edit: Edit | null) => make(change.conflictResolved(level, edit)),
      /** Throws an EditError if the edits do not fit. */
      takeTheirs: (levelId: string, theirs: Theirs) => make(change.theirsTaken(levelId, theirs)),
      tell: (what: Pick<News, 'renamed' | 'lost'>) => make(change.told(what)),
      readNews: () => make(change.newsRead),
      restoreOverwritten: () => make(change.newsRestored),
      /** The edits that another window left were applied, kept apart or discarded. */
      find: (drafts: readonly Draft[]) => make(change.draftsFound(drafts)),
      settleFound: (session: string) => make(change.foundSettled(session)),
      noteTag: (levelId: string, revision: number, etag: string) => make(change.tagFound(levelId, revision, etag)),
      noteDraft: (level: Level, keeps: boolean) => make(change.draftStored(level, keeps)),
    };
  }),
);
export type LevelStore = InstanceType<typeof LevelStore>;
