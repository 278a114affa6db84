import { apply, collections, invert, merge } from '@nettlewick/core';
import type { Edit, Level } from '@nettlewick/core';
import type { StoredLevel } from '@nettlewick/contract';
import type { Draft } from '../saving/shelf';
import { createFeature, createReducer, createSelector, on } from '@ngrx/store';
import { LevelActions } from './level.actions';

/** How the level stands with the server. */
type Saving = 'idle' | 'saving' | 'offline' | 'conflict' | 'refused';

export interface StudioState {
  levelId: string | null;
  loading: 'none' | 'loading' | 'failed';
  failure: string;
  level: Level | null;
  /** The document as the server last had it from us: what differs from it is unsent. */
  sent: Level | null;
  revision: number;
  /** Fingerprints of what was sent since the server last answered: one of them may have arrived all the same. */
  attempts: string[];
  undo: Edit[];
  redo: Edit[];
  /** The gesture (one drag, one held key) that the last edit belongs to; further edits of it are merged. */
  gesture: string | null;
  selection: string[];
  saving: Saving;
  /** Whether this browser can keep drafts. */
  keeps: boolean;
  /** The newest revision of the server, when it goes against ours. */
  theirs: StoredLevel | null;
  /** The session of this tab, to which its draft belongs. */
  session: string;
  /** What other tabs, closed by now, have left unsent. */
  found: Draft[];
}

const nothingOpen: StudioState = {
  levelId: null,
  loading: 'none',
  failure: '',
  level: null,
  sent: null,
  revision: 0,
  attempts: [],
  undo: [],
  redo: [],
  gesture: null,
  selection: [],
  saving: 'idle',
  keeps: true,
  theirs: null,
  session: '',
  found: [],
};

function edited(state: StudioState, level: Level, changes: Partial<StudioState>): StudioState {
  const saving = state.saving === 'refused' ? 'idle' : state.saving;
  return { ...state, saving, level, selection: stillThere(state, level), ...changes };
}

/** The selection without what the level does not hold any more. */
function stillThere({ selection }: StudioState, level: Level): string[] {
  if (selection.length === 0) return selection;
  const there = (id: string): boolean => collections.some((collection) => level[collection].some((thing) => thing.id === id));
  return selection.every(there) ? selection : selection.filter(there);
}

export const studioReducer = createReducer(
  nothingOpen,
  on(LevelActions.open, (_state, { levelId }): StudioState => ({ ...nothingOpen, levelId, loading: 'loading' })),
  on(LevelActions.failed, (state, { detail }): StudioState => ({ ...state, loading: 'failed', failure: detail })),
  on(
    LevelActions.opened,
    (state, { level, revision, sent, attempts, undo, redo, theirs, offline, session, found }): StudioState => ({
      ...nothingOpen,
      levelId: state.levelId,
      level,
      sent,
      revision,
      attempts,
      undo,
      redo,
      theirs,
      session,
      found,
      saving: theirs !== null ? 'conflict' : offline ? 'offline' : 'idle',
    }),
  ),
  on(LevelActions.edit, (state, { edit, gesture }): StudioState => {
    if (state.level === null) return state;
    const last = state.undo.at(-1);
    const merged = gesture !== undefined && gesture === state.gesture && last !== undefined ? merge(last, edit) : null;
    const undo = merged === null ? [...state.undo, edit] : [...state.undo.slice(0, -1), merged];
    return edited(state, apply(state.level, edit), { undo, redo: [], gesture: gesture ?? null });
  }),
  on(LevelActions.undo, (state): StudioState => {
    const last = state.undo.at(-1);
    if (state.level === null || last === undefined) return state;
    return edited(state, apply(state.level, invert(last)), {
      undo: state.undo.slice(0, -1),
      redo: [...state.redo, last],
      gesture: null,
    });
  }),
  on(LevelActions.redo, (state): StudioState => {
    const next = state.redo.at(-1);
    if (state.level === null || next === undefined) return state;
    return edited(state, apply(state.level, next), { undo: [...state.undo, next], redo: state.redo.slice(0, -1), gesture: null });
  }),
  on(LevelActions.select, (state, { ids }): StudioState => ({ ...state, selection: ids, gesture: null })),
  on(LevelActions.saveStarted, (state, { attempt }): StudioState => ({
    ...state,
    saving: state.saving === 'offline' ? 'offline' : 'saving',
    attempts: state.attempts.includes(attempt) ? state.attempts : [...state.attempts, attempt],
  })),
  on(LevelActions.saved, (state, { levelId, level, revision }): StudioState =>
    levelId === state.levelId ? { ...state, saving: 'idle', sent: level, revision, attempts: [] } : state,
  ),
  on(LevelActions.saveFailed, (state, { levelId, saving, detail }): StudioState =>
    levelId === state.levelId ? { ...state, saving, failure: detail } : state,
  ),
  on(LevelActions.conflictFound, (state, { theirs }): StudioState =>
    theirs.id === state.levelId ? { ...state, saving: 'conflict', theirs } : state,
  ),
  // The side that was not taken stays: theirs as a revision of the server, ours as an edit that can be undone.
  on(LevelActions.conflictResolved, (state, { level, edit }): StudioState => {
    if (state.theirs === null) return state;
    const undo = edit === null ? [] : [edit];
    return {
      ...state,
      level,
      sent: state.theirs.level,
      revision: state.theirs.revision,
      undo,
      redo: [],
      attempts: [],
      theirs: null,
      saving: 'idle',
      selection: [],
    };
  }),
  // What undo would take back is what the other window did: the edits before that may not fit any more.
  on(LevelActions.theirsTaken, (state, { theirs, edits }): StudioState => {
    if (state.levelId !== theirs.id || state.level === null) return state;
    const undo: Edit[] = edits.length === 0 ? state.undo : [{ kind: 'all', label: 'what another window saved', edits }];
    const level = edits.length === 0 ? state.level : theirs.level;
    return edited(state, level, {
      sent: level,
      revision: theirs.revision,
      undo,
      redo: edits.length === 0 ? state.redo : [],
      gesture: null,
    });
  }),
  on(LevelActions.foundSettled, (state, { session }): StudioState => ({
    ...state,
    found: state.found.filter((draft) => draft.session !== session),
  })),
  on(LevelActions.keptDraft, (state, { kept }): StudioState => (kept === state.keeps ? state : { ...state, keeps: kept })),
);

export const studioFeature = createFeature({
  name: 'studio',
  reducer: studioReducer,
  extraSelectors: ({
    selectLevel,
    selectSent,
    selectSaving,
    selectUndo,
    selectRedo,
    selectLevelId,
    selectRevision,
    selectAttempts,
    selectSession,
  }) => {
    const selectUnsent = createSelector(selectLevel, selectSent, (level, sent) => level !== sent);
    return {
      selectUnsent,
      /** What the title strip says about saving. */
      selectSaveState: createSelector(
        selectSaving,
        selectUnsent,
        (saving, unsent): 'saved' | 'saving' | 'offline' | 'conflict' | 'refused' =>
          saving === 'offline' || saving === 'conflict' || saving === 'refused'
            ? saving
            : unsent || saving === 'saving'
              ? 'saving'
              : 'saved',
      ),
      selectCanUndo: createSelector(selectUndo, (undo) => undo.length > 0),
      selectCanRedo: createSelector(selectRedo, (redo) => redo.length > 0),
      /** What this browser keeps of the open level. */
      selectDraft: createSelector(
        selectLevelId,
        selectLevel,
        createSelector(selectRevision, selectAttempts, selectSession, (revision, attempts, session) => ({
          revision,
          attempts,
          session,
        })),
        createSelector(selectUndo, selectRedo, (undo, redo) => ({ undo, redo })),
        selectUnsent,
        (levelId, level, sending, history, unsent) =>
          levelId === null || level === null ? null : { levelId, level, ...sending, ...history, unsent, keptAt: 0 },
      ),
    };
  },
});
