import { applied, collections, fit, invert, lookup, merge, nameOf, rebase, sets, yielding } from '@nettlewick/core';
import type { Edit, Level, Lost, Overwritten, Renamed } from '@nettlewick/core';
import type { RevisionEdits, Saved, StoredLevel } from '@nettlewick/contract';
import type { Draft } from '../workers/draft-database';

/** How the level stands with the server. */
type Saving = 'idle' | 'saving' | 'offline' | 'conflict' | 'refused';

/** Something that was sent, by what it is known again: the name of a batch, or the fingerprint of a whole document. */
export interface Attempt {
  key: string;
  /** How many of the pending edits it has. */
  edits: number;
}

/** What this window is to be told of what others did. */
export interface News {
  renamed: Renamed[];
  lost: Lost[];
  /** The fields to which another window has given a value at the same time as this one, and the edit that restores this one's. */
  overwritten: Overwritten[];
  restore: Edit | null;
}

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
  /** The edits that make of what the server has what is on the screen; null where they are not known, and all of it is to be sent. */
  pending: Edit[] | null;
  /** The fields to which those give other values than others did at the same time. */
  overwritten: Overwritten[];
  /** What was sent since the server last answered: one of them may have arrived all the same. */
  attempts: Attempt[];
  /** Whether others have edited the level since the first of the edits that can be undone. */
  shared: boolean;
  news: News | null;
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
  pending: [],
  overwritten: [],
  attempts: [],
  shared: false,
  news: null,
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
  'sent' | 'revision' | 'etag' | 'pending' | 'attempts' | 'undo' | 'redo' | 'theirs' | 'session' | 'found'
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
    shared: read.undo.length + read.redo.length > 0,
    saving: read.theirs !== null ? 'conflict' : offline ? 'offline' : 'idle',
  });
}

/** Edits of one gesture become one step of undo. */
export function changed(edit: Edit, gesture?: string): Change {
  return (state) => {
    if (state.level === null) return state;
    const goesOn = gesture !== undefined && gesture === state.gesture;
    const undo = goesOn ? withMerged(state.undo, edit) : [...state.undo, edit];
    const pending = awaiting(state, edit, goesOn);
    return edited(state, applied(state.level, edit), { undo, pending, redo: [], gesture: gesture ?? null });
  };
}

/** Edits with one more, which is merged with the last of them if it can be. */
function withMerged(edits: readonly Edit[], edit: Edit): Edit[] {
  const last = edits.at(-1);
  const merged = last === undefined ? null : merge(last, edit);
  return merged === null ? [...edits, edit] : [...edits.slice(0, -1), merged];
}

/** The pending edits with one more. What is on its way to the server stays as it is. */
function awaiting({ pending, attempts }: LevelState, edit: Edit, merges = false): Edit[] | null {
  if (pending === null) return null;
  const isFree = attempts.every(({ edits }) => edits < pending.length);
  return merges && isFree ? withMerged(pending, edit) : [...pending, edit];
}

export function undone(state: LevelState): LevelState {
  const last = state.undo.at(-1);
  if (state.level === null || last === undefined) return state;
  const made = fitting(state, invert(last));
  const undo = state.undo.slice(0, -1);
  // Of what others have replaced or deleted nothing is left to be undone.
  if (made.edit === null) return undone({ ...state, undo });
  const pending = awaiting(state, made.edit);
  return edited(state, made.level, { undo, pending, redo: [...state.redo, invert(made.edit)], gesture: null });
}

export function redone(state: LevelState): LevelState {
  const next = state.redo.at(-1);
  if (state.level === null || next === undefined) return state;
  const made = fitting(state, next);
  const redo = state.redo.slice(0, -1);
  if (made.edit === null) return redone({ ...state, redo });
  const pending = awaiting(state, made.edit);
  return edited(state, made.level, { undo: [...state.undo, made.edit], pending, redo, gesture: null });
}

/** An edit of the history as it fits the level as others have left it, and the level with it made. */
function fitting({ level, shared }: LevelState, edit: Edit): { edit: Edit | null; level: Level } {
  return shared ? fit(level!, edit) : { edit, level: applied(level!, edit) };
}

export function selected(ids: string[]): Change {
  return (state) => ({ ...state, selection: ids, gesture: null });
}

export function saveStarted(levelId: string, attempt: Attempt): Change {
  return (state) =>
    levelId === state.levelId
      ? {
          ...state,
          saving: state.saving === 'offline' ? 'offline' : 'saving',
          attempts: [...state.attempts.filter(({ key }) => key !== attempt.key), attempt],
        }
      : state;
}

/** The server has a level that was sent: with so many of the pending edits, or all of it (null). */
export function saved(
  levelId: string,
  level: Level,
  { revision, etag }: Pick<Saved, 'revision' | 'etag'>,
  edits: number | null,
): Change {
  return (state) => {
    if (levelId !== state.levelId) return state;
    const pending = edits === null ? (level === state.level ? [] : null) : (state.pending?.slice(edits) ?? null);
    // Where nothing is pending, the server has what is on the screen.
    const sent = pending?.length === 0 ? state.level : level;
    return { ...state, saving: 'idle', sent, revision, etag, pending, overwritten: [], attempts: [] };
  };
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
          pending: level === state.theirs.level ? [] : edit === null ? null : [edit],
          overwritten: [],
          undo: edit === null ? [] : [edit],
          redo: [],
          attempts: [],
          theirs: null,
          saving: 'idle',
          selection: [],
        };
}

/** What another window has saved: edits on top of the newest revision that this one knows. */
export type Theirs = Pick<RevisionEdits, 'revision' | 'etag' | 'batch' | 'overwritten'> & { edits: Edit[] };

/**
 * Others have saved edits, or they are ours and only the answer was lost. The edits that are pending are mapped over them, and so are
 * those that can be undone. Throws an EditError if the edits do not fit what the server is known to have.
 */
export function theirsTaken(levelId: string, theirs: Theirs): Change {
  return (state) => {
    const { level, sent, pending } = state;
    if (state.levelId !== levelId || level === null || sent === null || pending === null) return state;
    const { revision, etag, batch, edits } = theirs;
    const stored = edits.reduce(applied, sent);
    const own = state.attempts.find(({ key }) => key === batch);
    if (own !== undefined) {
      const left = pending.slice(own.edits);
      const saved = { sent: left.length === 0 ? level : stored, revision, etag, pending: left, overwritten: [], attempts: [] };
      return settled({ ...state, ...saved });
    }
    const mapped = rebase(pending, edits, stored);
    const taken = edited(state, mapped.level, {
      sent: stored,
      revision,
      etag,
      pending: mapped.edits,
      overwritten: [...state.overwritten, ...mapped.overwritten],
      attempts: [],
      undo: yielding(state.undo, edits),
      redo: yielding(state.redo, edits),
      shared: true,
      gesture: null,
      news: newsOf(state, mapped, theirs),
    });
    return settled(taken);
  };
}

/** The server has answered: where nothing is pending, nothing is being saved, and nothing waits for the server. */
export function settled(state: LevelState): LevelState {
  const isOver = state.level === state.sent && (state.saving === 'saving' || state.saving === 'offline');
  return isOver ? { ...state, saving: 'idle' } : state;
}

/** What this window has to be told, added to what it has not dismissed yet. */
function newsOf(state: LevelState, mapped: { renamed: Renamed[]; lost: Lost[]; level: Level }, theirs: Theirs): News | null {
  // Only who has given a field its value is told that another value has taken its place.
  const overwritten = theirs.overwritten.filter((one) => sets(state.undo, one));
  if (mapped.renamed.length + mapped.lost.length + overwritten.length === 0) return state.news;
  const edits = overwritten.flatMap((one) => restoring(state.level!, mapped.level, one) ?? []);
  const before = state.news;
  const all = [...(before?.restore === undefined || before.restore === null ? [] : [before.restore]), ...edits];
  return {
    renamed: [...(before?.renamed ?? []), ...mapped.renamed],
    // What is gone is called as this window knew it.
    lost: [...(before?.lost ?? []), ...mapped.lost.map((one) => ({ ...one, name: nameOf(state.level!, one.id) }))],
    overwritten: [...(before?.overwritten ?? []), ...overwritten],
    restore: all.length === 0 ? null : { kind: 'all', label: 'restore', edits: all },
  };
}

/** The edit that gives a field the value again that it had; null if its thing is gone. */
function restoring(before: Level, now: Level, { id, field }: Overwritten): Edit | null {
  const valueIn = (from: object): Record<string, unknown> =>
    field in from ? { [field]: (from as Record<string, unknown>)[field] } : {};
  if (id === '') return { kind: 'level', before: valueIn(now), after: valueIn(before) };
  const [was, is] = [lookup(before).get(id), lookup(now).get(id)];
  if (was === undefined || is === undefined) return null;
  return { kind: 'change', collection: is.collection, id, before: valueIn(is.thing), after: valueIn(was.thing) };
}

/** What became of edits that were made again on another level. */
export function told({ renamed, lost }: Pick<News, 'renamed' | 'lost'>): Change {
  return (state) =>
    renamed.length + lost.length === 0 ? state : { ...state, news: { renamed, lost, overwritten: [], restore: null } };
}

/** The news were read. */
export function newsRead(state: LevelState): LevelState {
  return { ...state, news: null };
}

/** This window gives the fields its own values again that another has given others. */
export function newsRestored(state: LevelState): LevelState {
  const restore = state.news?.restore;
  if (restore === null || restore === undefined || state.level === null) return state;
  const { edit } = fit(state.level, restore);
  return { ...(edit === null ? state : changed(edit)(state)), news: null };
}

/** Drafts of other tabs, closed by now, were found. */
export function draftsFound(drafts: readonly Draft[]): Change {
  return (state) => {
    const known = new Set(state.found.map(({ session }) => session));
    return { ...state, found: [...state.found, ...drafts.filter(({ session }) => !known.has(session))] };
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

export function draftStored(level: Level, keeps: boolean): Change {
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
  pending,
  attempts,
  session,
  undo,
  redo,
}: Omit<LevelState, 'selection'>): Draft | null {
  if (levelId === null || level === null) return null;
  return { levelId, level, revision, etag, pending, attempts, session, undo, redo, unsent: level !== sent, keptAt: 0 };
}
