import { TestBed } from '@angular/core/testing';
import type { Level } from '@nettlewick/core';
import type { Opened } from '../src/app/state/level-state';
import { LevelStore } from '../src/app/state/level-store';

/** A level that was just read, with nothing to undo and nothing unsaved. */
export function read(level: Level, revision = 1): Opened {
  const nothing = { pending: [], attempts: [], undo: [], redo: [], theirs: null, offline: false, session: 's', found: [] };
  return { level, sent: level, revision, etag: `"${revision}-d"`, ...nothing };
}

/** The store of the module under test, with a level open that the server knows as “a”. */
export function openStore(level: Level): LevelStore {
  const store = TestBed.inject(LevelStore);
  store.startOpening('a');
  store.show(read(level));
  return store;
}
