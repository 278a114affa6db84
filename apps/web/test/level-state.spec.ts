import type { StoredLevel } from '@nettlewick/contract';
import { applied, change, differingFieldsOfLevel, editsBetween, emptyLevel, invert, levelFields } from '@nettlewick/core';
import type { Edit, Level, LevelField } from '@nettlewick/core';
import { replacing } from '../src/app/saving/replacing';
import {
  changed,
  conflictFound,
  conflictResolved,
  draftOf,
  nothingOpen,
  opened,
  opening,
  redone,
  saveFailed,
  saveStarted,
  saveStateOf,
  saved,
  selected,
  undone,
} from '../src/app/state/level-state';
import type { LevelState } from '../src/app/state/level-state';
import { read } from './opened';

const level: Level = { ...emptyLevel('Yard'), flags: [{ id: 'open', name: 'Open', on: false, per: 'level' }] };
const set = (from: boolean, to: boolean): Edit =>
  change('flags', { id: 'open', name: 'Open', on: from, per: 'level' }, { on: to });
const rename = (name: string): Edit => change('flags', level.flags[0]!, { name });

type Change = (state: LevelState) => LevelState;
const then = (from: LevelState, ...changes: Change[]): LevelState => changes.reduce((state, change) => change(state), from);
const after = (...changes: Change[]): LevelState => then(nothingOpen, opening('a'), opened(read(level, 3)), ...changes);

it('undoes and redoes without end, and forgets what was undone when a new edit is made', () => {
  const edited = after(...Array.from({ length: 500 }, (_, i) => changed(set(i % 2 === 1, i % 2 === 0))));
  expect(edited.undo).toHaveLength(500);
  const back = then(edited, ...Array<Change>(500).fill(undone));
  expect(back.level).toEqual(level);
  const forth = then(back, ...Array<Change>(500).fill(redone));
  expect(forth.level).toEqual(edited.level);
  expect(then(back, changed(rename('Shut'))).redo).toEqual([]);
});

it('makes one step of undo of one gesture, and two of two', () => {
  const drag = after(changed(rename('a'), 'one'), changed(rename('b'), 'one'), changed(rename('c'), 'two'));
  expect(drag.undo).toHaveLength(2);
  expect(then(drag, undone).level!.flags[0]!.name).toBe('Open');
  const apart = after(changed(rename('a'), 'one'), undone, changed(rename('b'), 'one'));
  expect(apart.undo).toHaveLength(1);
});

it('says saved only when the server has what is on the screen', () => {
  const edited = after(changed(set(false, true)));
  expect([saveStateOf(after()), saveStateOf(edited)]).toEqual(['saved', 'saving']);
  const saving = then(edited, saveStarted('x'));
  const more = then(saving, changed(set(true, false)));
  const answered = then(more, saved('a', edited.level!, { revision: 4, etag: '"4-d"' }));
  expect([saveStateOf(answered), answered.revision]).toEqual(['saving', 4]);
  expect(saveStateOf(then(answered, saved('a', answered.level!, { revision: 5, etag: '"5-e"' })))).toBe('saved');
});

it('stays offline while it tries again, and keeps the edits', () => {
  const edited = after(changed(set(false, true)), saveFailed('a', 'offline', 'no answer'), saveStarted('x'));
  expect(saveStateOf(edited)).toBe('offline');
  expect(draftOf(edited)).toMatchObject({
    levelId: 'a',
    revision: 3,
    unsent: true,
    attempts: ['x'],
  });
});

it('takes no answer for a level that is not open any more', () => {
  const state = after();
  expect(then(state, saved('b', level, { revision: 9, etag: '"9-x"' }))).toBe(state);
});

it('loses the selection of what is gone, and keeps the rest', () => {
  const chosen = after(
    selected(['open', 'room-1']),
    changed({ kind: 'remove', collection: 'flags', index: 0, thing: level.flags[0]! }),
  );
  expect(chosen.selection).toEqual(['room-1']);
});

describe('a conflict', () => {
  const theirs: StoredLevel = {
    id: 'a',
    revision: 4,
    etag: '"4-t"',
    savedAt: '2026-11-23T00:00:00.000Z',
    level: { ...level, name: 'Theirs' },
  };
  const met = after(changed(set(false, true)), conflictFound(theirs));

  it('goes on as ours, saved over theirs', () => {
    const ours = then(met, conflictResolved(met.level!, replacing(theirs.level, met.level!)));
    expect([ours.revision, saveStateOf(ours), ours.level!.name]).toEqual([4, 'saving', 'Yard']);
  });

  it('goes on as theirs, and undo brings ours back', () => {
    const taken = then(met, conflictResolved(theirs.level, replacing(met.level!, theirs.level)));
    expect([saveStateOf(taken), taken.level]).toEqual(['saved', theirs.level]);
    expect(then(taken, undone).level).toEqual(met.level);
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
      const state = after(opened(read(full)), selected([thing!.id]), changed(change(collection, thing!, { name: 'Other' })));
      expect(state.selection).toEqual([thing!.id]);
    }
  });

  it.each(levelFields)('is brought over when a revision is gone back to, and told as a difference: %s', (field) => {
    const other: Level = { ...full, [field]: others[field] };
    expect(differingFieldsOfLevel(full, other)).toEqual([field]);
    expect(applied(full, replacing(full, other))).toEqual(other);
    expect(applied(other, invert(replacing(full, other)))).toEqual(full);
    expect(editsBetween(full, other).reduce<Level>(applied, full)).toEqual(other);
  });
});
