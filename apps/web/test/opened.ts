import type { Level } from '@nettlewick/core';
import { LevelActions } from '../src/app/state/level.actions';

/** A level that has just been opened, with nothing to undo and nothing unsaved. */
export const opened = (level: Level, revision = 1): ReturnType<typeof LevelActions.opened> =>
  LevelActions.opened({
    level,
    sent: level,
    revision,
    attempts: [],
    undo: [],
    redo: [],
    theirs: null,
    offline: false,
    session: 's',
    found: [],
  });
