import type { StoredLevel } from '@nettlewick/contract';
import {
  EditableLevel,
  applied,
  change,
  createThing,
  differingFieldsOfLevel,
  editsBetween,
  emptyLevel,
  invert,
  levelFields,
  parseLevel,
  remove,
} from '@nettlewick/core';
import type { Edit, Level, LevelField } from '@nettlewick/core';
import fc from 'fast-check';
import { editsOf } from '../../../packages/core/test/any-edits';
import { newsText } from '../src/app/saving/news-bar';
import { replacing } from '../src/app/saving/replacing';
import {
  changed,
  conflictFound,
  conflictResolved,
  draftOf,
  newsRead,
  newsRestored,
  nothingOpen,
  opened,
  opening,
  redone,
  saveFailed,
  saveStarted,
  saveStateOf,
  saved,
  selected,
  settled,
  theirsTaken,
  undone,
} from '../src/app/state/level-state';
import type { LevelState, Theirs } from '../src/app/state/level-state';
import { read } from './opened';

const level: Level = { ...emptyLevel('Yard'), flags: [{ id: 'open', name: 'Open', on: false, per: 'level' }] };
const set = (from: boolean, to: boolean): Edit =>
  change('flags', { id: 'open', name: 'Open', on: from, per: 'level' }, { on: to });
const rename = (name: string): Edit => change('flags', level.flags[0]!, { name });

const isValid = (level: Level): boolean => parseLevel(level).ok;

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
  const saving = then(edited, saveStarted('a', { key: 'x', edits: 1 }));
  const more = then(saving, changed(set(true, false)));
  const answered = then(more, saved('a', edited.level!, { revision: 4, etag: '"4-d"' }, 1));
  expect([saveStateOf(answered), answered.revision]).toEqual(['saving', 4]);
  expect(saveStateOf(then(answered, saved('a', answered.level!, { revision: 5, etag: '"5-e"' }, 1)))).toBe('saved');
});

it('stays offline while it tries again, and keeps the edits', () => {
  const edited = after(
    changed(set(false, true)),
    saveFailed('a', 'offline', 'no answer'),
    saveStarted('a', { key: 'x', edits: 1 }),
  );
  expect(saveStateOf(edited)).toBe('offline');
  expect(draftOf(edited)).toMatchObject({
    levelId: 'a',
    revision: 3,
    unsent: true,
    pending: [set(false, true)],
    attempts: [{ key: 'x', edits: 1 }],
  });
});

it('takes no answer for a level that is not open any more', () => {
  const state = after();
  expect(then(state, saved('b', level, { revision: 9, etag: '"9-x"' }, 0))).toBe(state);
});

it('loses the selection of what is gone, and keeps the rest', () => {
  const chosen = after(
    selected(['open', 'room-1']),
    changed({ kind: 'remove', collection: 'flags', index: 0, thing: level.flags[0]! }),
  );
  expect(chosen.selection).toEqual(['room-1']);
});

describe('Several windows on one level', () => {
  /** A window, with what the server has told it so far and it has not looked at. */
  interface Window {
    state: LevelState;
    own: string;
    batches: number;
  }
  interface Action {
    who: number;
    what: 'edit' | 'undo' | 'redo' | 'send' | 'lose' | 'hear';
    numbers: [number, number, number];
  }
  const anyAction: fc.Arbitrary<Action> = fc.record({
    who: fc.nat(2),
    what: fc.constantFrom('edit', 'edit', 'edit', 'undo', 'redo', 'send', 'send', 'lose', 'hear', 'hear'),
    numbers: fc.tuple(fc.nat(63), fc.nat(63), fc.nat(63)),
  });
  const yard = ['door', 'zone', 'zone'].reduce<Level>((now, stencil, i) => {
    const thing = createThing(now, stencil as 'door', `t${i}`, now.rooms[0]!.id, { x: i, y: 0, z: 0 });
    return applied(now, { kind: 'add', collection: stencil === 'zone' ? 'zones' : 'fixtures', index: i, thing });
  }, emptyLevel('Yard'));

  it('have the same level once everything was sent, however edits, lost answers and news fall together', () => {
    fc.assert(
      fc.property(fc.array(anyAction, { maxLength: 60 }), (actions) => {
        const windows: Window[] = ['a', 'b', 'c'].map((own) => ({
          own,
          batches: 0,
          state: then(nothingOpen, opening('a'), opened(read(yard))),
        }));
        // What the server has: a revision for each batch, which it checks as it does.
        const server = new EditableLevel(yard);
        const log: Theirs[] = [];
        const hear = (window: Window): void => {
          for (const one of log.slice(window.state.revision - 1)) window.state = theirsTaken('a', one)(window.state);
        };
        const send = (window: Window, isAnswered: boolean): void => {
          const { pending, revision, overwritten } = window.state;
          if (pending === null || pending.length === 0) return;
          const key = `${window.own}-${(window.batches += 1)}`;
          window.state = saveStarted('a', { key, edits: pending.length })(window.state);
          if (revision !== log.length + 1) return hear(window);
          const made = server.edit(JSON.parse(JSON.stringify(pending)) as Edit[]);
          expect(made.ok ? [] : made.faults).toEqual([]);
          if (!made.ok) return;
          const next = { revision: revision + 1, etag: `"${revision + 1}"` };
          log.push({ ...next, batch: key, edits: made.edits, overwritten });
          if (isAnswered) window.state = saved('a', window.state.level!, next, pending.length)(window.state);
        };
        for (const { who, what, numbers } of actions) {
          const window = windows[who]!;
          const act: Record<Action['what'], () => void> = {
            edit: () => {
              for (const edit of editsOf(
                window.state.level!,
                `${window.own}${window.state.undo.length}-${log.length}`,
                [numbers],
                isValid,
              ))
                window.state = changed(edit)(window.state);
            },
            undo: () => (window.state = undone(window.state)),
            redo: () => (window.state = redone(window.state)),
            send: () => send(window, true),
            lose: () => send(window, false),
            hear: () => hear(window),
          };
          act[what]();
          expect(isValid(window.state.level!)).toBe(true);
        }
        for (let round = 0; round < 4; round++)
          for (const window of windows) {
            hear(window);
            send(window, true);
          }
        windows.forEach(hear);
        for (const { state } of windows) {
          expect(state.pending).toEqual([]);
          expect(saveStateOf(state)).toBe('saved');
          expect(state.level).toEqual(server.level);
        }
      }),
      { numRuns: 300 },
    );
  });

  const zone = yard.zones[0]!;
  const two = (edits: Edit[], more: Partial<Theirs> = {}): Change =>
    theirsTaken('a', { revision: 4, etag: '"4-t"', batch: 'theirs', overwritten: [], edits, ...more });
  const here = (...changes: Change[]): LevelState => then(nothingOpen, opening('a'), opened(read(yard, 3)), ...changes);

  it('see each other’s edits, and undo takes back one’s own only', () => {
    const both = here(changed(change('zones', zone, { heading: 30 })), two([change('zones', yard.zones[1]!, { heading: 60 })]));
    expect(both.level!.zones.map(({ heading }) => heading)).toEqual([30, 60]);
    expect([both.revision, both.news, saveStateOf(both)]).toEqual([4, null, 'saving']);
    const back = then(both, undone);
    expect(back.level!.zones.map(({ heading }) => heading)).toEqual([0, 60]);
    expect(then(back, redone).level!.zones.map(({ heading }) => heading)).toEqual([30, 60]);
  });

  it('that give one field two values keep the later, and say so to the other, which can restore its own', () => {
    const theirs = two([change('zones', { ...zone, heading: 30 }, { heading: 90 })], {
      revision: 5,
      overwritten: [{ id: zone.id, field: 'heading' }],
    });
    const mine = here(changed(change('zones', zone, { heading: 30 })));
    const stored = then(mine, saved('a', mine.level!, { revision: 4, etag: '"4"' }, 1));
    const told = then(stored, theirs);
    expect(told.level!.zones[0]!.heading).toBe(90);
    expect(newsText(told.news!, told.level!)).toEqual([
      `Another window changed the heading of “${zone.name}” at the same time as you.`,
    ]);
    const restored = then(told, newsRestored);
    expect([restored.level!.zones[0]!.heading, restored.news, saveStateOf(restored)]).toEqual([30, null, 'saving']);
    expect(then(restored, undone).level!.zones[0]!.heading).toBe(90);
    expect(then(told, newsRead).news).toBeNull();
    // Who has not given it a value is told nothing.
    expect(then(here(), theirs).news).toBeNull();
  });

  it('the later one tells the server what it has overwritten', () => {
    const later = here(changed(change('zones', zone, { heading: 90 })), two([change('zones', zone, { heading: 30 })]));
    expect([later.level!.zones[0]!.heading, later.overwritten]).toEqual([90, [{ id: zone.id, field: 'heading' }]]);
    const stored = then(later, saved('a', later.level!, { revision: 5, etag: '"5"' }, 1));
    expect([stored.overwritten, stored.pending]).toEqual([[], []]);
  });

  it('say what was deleted under one’s hands, and which names gave way', () => {
    const gone = here(
      changed(change('zones', zone, { heading: 90 })),
      changed(change('zones', yard.zones[1]!, { name: 'Sluice' })),
      two([remove(yard, 'zones', zone.id), change('fixtures', yard.fixtures[0]!, { name: 'sluice' })]),
    );
    expect(newsText(gone.news!, gone.level!)).toEqual([
      `Another window deleted “${zone.name}”, which you were editing.`,
      'The other window has used the same name: “Sluice” is now called “Sluice 2”.',
    ]);
    // Nothing of it is left to be undone, and undo goes on to what there is.
    expect(then(gone, undone, undone).level!.zones.map(({ name }) => name)).toEqual([yard.zones[1]!.name]);
  });

  it('say that all is saved when it turns out that the server has it, whatever was thought before', () => {
    const edit = change('zones', zone, { heading: 30 });
    for (const before of [saveFailed('a', 'offline', 'lost'), saveStarted('a', { key: 'other', edits: 1 })]) {
      const lost = here(changed(edit), saveStarted('a', { key: 'mine', edits: 1 }), before);
      expect(saveStateOf(then(lost, two([edit], { batch: 'mine' })))).toBe('saved');
      // Or it was lost to another's deletion.
      expect(saveStateOf(then(lost, two([remove(yard, 'zones', zone.id)])))).toBe('saved');
    }
    expect(saveStateOf(then(here(saveFailed('a', 'offline', 'lost')), settled))).toBe('saved');
    expect(saveStateOf(then(here(changed(edit), saveFailed('a', 'offline', 'lost')), settled))).toBe('offline');
  });

  it('does not merge a gesture into what is on its way', () => {
    const sent = here(changed(change('zones', zone, { heading: 1 }), 'turn'), saveStarted('a', { key: 'x', edits: 1 }));
    const more = then(sent, changed(change('zones', { ...zone, heading: 1 }, { heading: 2 }), 'turn'));
    expect([more.pending!.length, more.undo.length]).toEqual([2, 1]);
    expect(then(more, saved('a', sent.level!, { revision: 4, etag: '"4"' }, 1)).pending).toEqual([more.pending![1]]);
    const unsent = here(
      changed(change('zones', zone, { heading: 1 }), 'turn'),
      changed(change('zones', { ...zone, heading: 1 }, { heading: 2 }), 'turn'),
    );
    expect(unsent.pending).toHaveLength(1);
  });
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
    accepted: [{ kind: 'anybody', about: ['call'], reason: 'Anybody calls.', note: '' }],
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
    // The same holds after a round trip through JSON, which drops undefined values.
    const sent = JSON.parse(JSON.stringify(editsBetween(other, full))) as Edit[];
    expect(Object.keys(sent.reduce<Level>(applied, other))).toEqual(expect.arrayContaining(Object.keys(full)));
    expect(sent.reduce<Level>(applied, other)).toEqual(full);
  });
});
