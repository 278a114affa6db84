import type { StoredLevel } from '@nettlewick/contract';
import { apply, change, differingFieldsOfLevel, editsBetween, emptyLevel, invert, levelFields } from '@nettlewick/core';
import type { Edit, Level, LevelField } from '@nettlewick/core';
import { replacing } from '../src/app/saving/replacing';
import { LevelActions } from '../src/app/state/level.actions';
import { studioFeature, studioReducer } from '../src/app/state/studio.feature';
import type { StudioState } from '../src/app/state/studio.feature';
import { opened } from './opened';

const level: Level = { ...emptyLevel('Yard'), flags: [{ id: 'open', name: 'Open', on: false, per: 'level' }] };
const set = (from: boolean, to: boolean): Edit =>
  change('flags', { id: 'open', name: 'Open', on: from, per: 'level' }, { on: to });
const rename = (name: string): Edit => change('flags', level.flags[0]!, { name });

const after = (...actions: Parameters<typeof studioReducer>[1][]): StudioState =>
  actions.reduce<StudioState>(
    (state, action) => studioReducer(state, action),
    studioReducer(studioReducer(undefined, LevelActions.open({ levelId: 'a' })), opened(level, 3)),
  );
const says = (state: StudioState) => studioFeature.selectSaveState({ studio: state });

it('undoes and redoes without end, and forgets what was undone when a new edit is made', () => {
  const edited = after(...Array.from({ length: 500 }, (_, i) => LevelActions.edit({ edit: set(i % 2 === 1, i % 2 === 0) })));
  expect(edited.undo).toHaveLength(500);
  const back = Array.from({ length: 500 }).reduce<StudioState>((state) => studioReducer(state, LevelActions.undo()), edited);
  expect(back.level).toEqual(level);
  const forth = Array.from({ length: 500 }).reduce<StudioState>((state) => studioReducer(state, LevelActions.redo()), back);
  expect(forth.level).toEqual(edited.level);
  expect(studioReducer(back, LevelActions.edit({ edit: rename('Shut') })).redo).toEqual([]);
});

it('makes one step of undo of one gesture, and two of two', () => {
  const drag = after(
    LevelActions.edit({ edit: rename('a'), gesture: 'one' }),
    LevelActions.edit({ edit: rename('b'), gesture: 'one' }),
    LevelActions.edit({ edit: rename('c'), gesture: 'two' }),
  );
  expect(drag.undo).toHaveLength(2);
  expect(studioReducer(drag, LevelActions.undo()).level!.flags[0]!.name).toBe('Open');
  const apart = after(
    LevelActions.edit({ edit: rename('a'), gesture: 'one' }),
    LevelActions.undo(),
    LevelActions.edit({ edit: rename('b'), gesture: 'one' }),
  );
  expect(apart.undo).toHaveLength(1);
});

it('says saved only when the server has what is on the screen', () => {
  const edited = after(LevelActions.edit({ edit: set(false, true) }));
  expect([says(after()), says(edited)]).toEqual(['saved', 'saving']);
  const saving = studioReducer(edited, LevelActions.saveStarted({ attempt: 'x' }));
  const more = studioReducer(saving, LevelActions.edit({ edit: set(true, false) }));
  const answered = studioReducer(more, LevelActions.saved({ levelId: 'a', level: edited.level!, revision: 4 }));
  expect([says(answered), answered.revision]).toEqual(['saving', 4]);
  expect(says(studioReducer(answered, LevelActions.saved({ levelId: 'a', level: answered.level!, revision: 5 })))).toBe('saved');
});

it('stays offline while it tries again, and keeps the edits', () => {
  const edited = after(
    LevelActions.edit({ edit: set(false, true) }),
    LevelActions.saveFailed({ levelId: 'a', saving: 'offline', detail: 'no answer' }),
    LevelActions.saveStarted({ attempt: 'x' }),
  );
  expect(says(edited)).toBe('offline');
  expect(studioFeature.selectDraft({ studio: edited })).toMatchObject({
    levelId: 'a',
    revision: 3,
    unsent: true,
    attempts: ['x'],
  });
});

it('takes no answer for a level that is not open any more', () => {
  const state = after();
  expect(studioReducer(state, LevelActions.saved({ levelId: 'b', level, revision: 9 }))).toBe(state);
});

it('loses the selection of what is gone, and keeps the rest', () => {
  const chosen = after(
    LevelActions.select({ ids: ['open', 'room-1'] }),
    LevelActions.edit({ edit: { kind: 'remove', collection: 'flags', index: 0, thing: level.flags[0]! } }),
  );
  expect(chosen.selection).toEqual(['room-1']);
});

describe('a conflict', () => {
  const theirs: StoredLevel = { id: 'a', revision: 4, savedAt: '2026-11-23T00:00:00.000Z', level: { ...level, name: 'Theirs' } };
  const met = after(LevelActions.edit({ edit: set(false, true) }), LevelActions.conflictFound({ theirs }));

  it('goes on as ours, saved over theirs', () => {
    const ours = studioReducer(
      met,
      LevelActions.conflictResolved({ level: met.level!, edit: replacing(theirs.level, met.level!) }),
    );
    expect([ours.revision, says(ours), ours.level!.name]).toEqual([4, 'saving', 'Yard']);
  });

  it('goes on as theirs, and undo brings ours back', () => {
    const taken = studioReducer(
      met,
      LevelActions.conflictResolved({ level: theirs.level, edit: replacing(met.level!, theirs.level) }),
    );
    expect([says(taken), taken.level]).toEqual(['saved', theirs.level]);
    expect(studioReducer(taken, LevelActions.undo()).level).toEqual(met.level);
  });
});

describe('Everything of a level', () => {
  const full: Level = {
    ...level,
    counters: [{ id: 'sacks', name: 'Sacks', value: 0, per: 'level' }],
    texts: [{ id: 'note', name: 'Note', value: '', per: 'level' }],
    signals: [{ id: 'call', name: 'Call' }],
    watches: [{ id: 'watch', name: 'Watch', when: '', fromStart: false }],
  };
  const others: { [F in LevelField]: Level[F] } = {
    name: 'Weir',
    rate: 30,
    gravity: 3.7,
    stepHeight: 0.2,
    rules: { ...level.rules, draining: 'immediate' },
    units: { length: { name: 'u', metres: 0.02 }, time: null },
  };

  it('stays in hand while it is edited, whichever list it is in', () => {
    for (const collection of ['counters', 'texts', 'signals', 'watches', 'flags', 'rooms'] as const) {
      const [thing] = full[collection];
      const opened = { level: full, sent: full, revision: 1, attempts: [], undo: [], redo: [], theirs: null, offline: false };
      const state = after(
        LevelActions.opened({ ...opened, session: 's', found: [] }),
        LevelActions.select({ ids: [thing!.id] }),
        LevelActions.edit({ edit: change(collection, thing!, { name: 'Other' }) }),
      );
      expect(state.selection).toEqual([thing!.id]);
    }
  });

  it.each(levelFields)('is brought over when a revision is gone back to, and told as a difference: %s', (field) => {
    const other: Level = { ...full, [field]: others[field] };
    expect(differingFieldsOfLevel(full, other)).toEqual([field]);
    expect(apply(full, replacing(full, other))).toEqual(other);
    expect(apply(other, invert(replacing(full, other)))).toEqual(full);
    expect(editsBetween(full, other).reduce<Level>(apply, full)).toEqual(other);
  });
});
