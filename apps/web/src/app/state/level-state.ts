import { applied, collections, invert, merge } from '@nettlewick/core';
import type { Edit, Level } from '@nettlewick/core';
import type { Saved, StoredLevel } from '@nettlewick/contract';
import type { Draft } from '../workers/shelf';

/** How the level stands with the server. */
type Saving = 'idle' | 'saving' | 'offline' | 'conflict' | 'refused';

/** The open level, what was done to it and can be undone, what is in hand, and how it stands with the server. */
export interface LevelState {
  levelId: string | null;
  loading: 'none' | 'loading' | 'failed';
  failure: string;
  level: Level | null;
  /** The document as the server last had it from us: what differs from it is unsent. */
  sent: Level | null;
  revision: number;
  /** The ETag of that revision; null where a draft was kept that did not know it. */
  etag: string | null;
  /** Fingerprints of what was sent since the server last answered: one of them may have arrived all the same. */
  attempts: string[];
  undo: Edit[];
  redo: Edit[];
  /** The gesture (one drag, one held key) that the last edit belongs to; further edits of it are merged. */
  gesture: string | null;
  selection: string[];
  saving: Saving;
  /** Whether this browser can keep drafts; and the level as it has kept it last. */
  keeps: boolean;
  drafted: Level | null;
  /** The newest revision of the server, when it goes against ours. */
  theirs: StoredLevel | null;
  /** The session of this tab, to which its draft belongs. */
  session: string;
  /** What other tabs, closed by now, have left unsent. */
  found: Draft[];
}

export const nothingOpen: LevelState = {
  levelId: null,
  loading: 'none',
  failure: '',
  level: null,
  sent: null,
  revision: 0,
  etag: null,
  attempts: [],
  undo: [],
  redo: [],
  gesture: null,
  selection: [],
  saving: 'idle',
  keeps: true,
  drafted: null,
  theirs: null,
  session: '',
  found: [],
};

/** What a change of the state makes of it. */
type Change = (state: LevelState) => LevelState;

/** A level as it was read, with what this browser has of it. */
export type Opened = Pick<
  LevelState,
  'sent' | 'revision' | 'etag' | 'attempts' | 'undo' | 'redo' | 'theirs' | 'session' | 'found'
> & {
  level: Level;
  offline: boolean;
};

function edited(state: LevelState, level: Level, changes: Partial<LevelState>): LevelState {
  const saving = state.saving === 'refused' ? 'idle' : state.saving;
  return { ...state, saving, level, selection: stillThere(state, level), ...changes };
}

/** The selection without what the level does not hold any more. */
function stillThere({ selection }: LevelState, level: Level): string[] {
  if (selection.length === 0) return selection;
  const there = (id: string): boolean => collections.some((collection) => level[collection].some((thing) => thing.id === id));
  return selection.every(there) ? selection : selection.filter(there);
}

export function opening(levelId: string): Change {
  return () => ({ ...nothingOpen, levelId, loading: 'loading' });
}

export function failed(detail: string): Change {
  return (state) => ({ ...state, loading: 'failed', failure: detail });
}

export function opened({ offline, ...read }: Opened): Change {
  return ({ levelId }) => ({
    ...nothingOpen,
    ...read,
    levelId,
    saving: read.theirs !== null ? 'conflict' : offline ? 'offline' : 'idle',
  });
}

/** Edits of one gesture become one step of undo. */
export function changed(edit: Edit, gesture?: string): Change {
  return (state) => {
    if (state.level === null) return state;
    const last = state.undo.at(-1);
    const merged = gesture !== undefined && gesture === state.gesture && last !== undefined ? merge(last, edit) : null;
    const undo = merged === null ? [...state.undo, edit] : [...state.undo.slice(0, -1), merged];
    return edited(state, applied(state.level, edit), { undo, redo: [], gesture: gesture ?? null });
  };
}

export function undone(state: LevelState): LevelState {
  const last = state.undo.at(-1);
  if (state.level === null || last === undefined) return state;
  return edited(state, applied(state.level, invert(last)), {
    undo: state.undo.slice(0, -1),
    redo: [...state.redo, last],
    gesture: null,
  });
}

export function redone(state: LevelState): LevelState {
  const next = state.redo.at(-1);
  if (state.level === null || next === undefined) return state;
  return edited(state, applied(state.level, next), { undo: [...state.undo, next], redo: state.redo.slice(0, -1), gesture: null });
}

export function selected(ids: string[]): Change {
  return (state) => ({ ...state, selection: ids, gesture: null });
}

export function saveStarted(attempt: string): Change {
  return (state) => ({
    ...state,
    saving: state.saving === 'offline' ? 'offline' : 'saving',
    attempts: state.attempts.includes(attempt) ? state.attempts : [...state.attempts, attempt],
  });
}

export function saved(levelId: string, level: Level, { revision, etag }: Pick<Saved, 'revision' | 'etag'>): Change {
  return (state) => (levelId === state.levelId ? { ...state, saving: 'idle', sent: level, revision, etag, attempts: [] } : state);
}

export function saveFailed(levelId: string, saving: 'offline' | 'refused', detail: string): Change {
  return (state) => (levelId === state.levelId ? { ...state, saving, failure: detail } : state);
}

export function conflictFound(theirs: StoredLevel): Change {
  return (state) => (theirs.id === state.levelId ? { ...state, saving: 'conflict', theirs } : state);
}

/** The side that was not taken stays: theirs as a revision of the server, ours as an edit that can be undone. */
export function conflictResolved(level: Level, edit: Edit | null): Change {
  return (state) =>
    state.theirs === null
      ? state
      : {
          ...state,
          level,
          sent: state.theirs.level,
          revision: state.theirs.revision,
          etag: state.theirs.etag,
          undo: edit === null ? [] : [edit],
          redo: [],
          attempts: [],
          theirs: null,
          saving: 'idle',
          selection: [],
        };
}

/**
 * Another window has saved, and nothing of this one goes against it. What undo would take back is what the other window did: the
 * edits before that may not fit any more.
 */
export function theirsTaken(theirs: StoredLevel, edits: Edit[]): Change {
  return (state) => {
    if (state.levelId !== theirs.id || state.level === null) return state;
    const undo: Edit[] = edits.length === 0 ? state.undo : [{ kind: 'all', label: 'what another window saved', edits }];
    const level = edits.length === 0 ? state.level : theirs.level;
    return edited(state, level, {
      sent: level,
      revision: theirs.revision,
      etag: theirs.etag,
      undo,
      redo: edits.length === 0 ? state.redo : [],
      gesture: null,
    });
  };
}

/** What was found of another tab's has been taken over, kept elsewhere, or thrown away. */
export function foundSettled(session: string): Change {
  return (state) => ({ ...state, found: state.found.filter((draft) => draft.session !== session) });
}

/** The open level as known by an ETag that a draft did not know. */
export function tagFound(levelId: string, revision: number, etag: string): Change {
  return (state) => (levelId === state.levelId && revision === state.revision ? { ...state, etag } : state);
}

export function draftKept(level: Level, keeps: boolean): Change {
  return (state) => ({ ...state, keeps, drafted: keeps ? level : state.drafted });
}

/** What the title strip says about saving. */
export function saveStateOf({
  saving,
  level,
  sent,
}: Pick<LevelState, 'saving' | 'level' | 'sent'>): 'saved' | 'saving' | 'offline' | 'conflict' | 'refused' {
  if (saving === 'offline' || saving === 'conflict' || saving === 'refused') return saving;
  return level !== sent || saving === 'saving' ? 'saving' : 'saved';
}

/** What this browser keeps of the open level; null while there is none. */
export function draftOf({
  levelId,
  level,
  sent,
  revision,
  etag,
  attempts,
  session,
  undo,
  redo,
}: Omit<LevelState, 'selection'>): Draft | null {
  if (levelId === null || level === null) return null;
  return { levelId, level, revision, etag, attempts, session, undo, redo, unsent: level !== sent, keptAt: 0 };
}
