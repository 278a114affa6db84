import 'fake-indexeddb/auto';
import { TestBed } from '@angular/core/testing';
import { problemOf } from '@nettlewick/contract';
import { change, emptyLevel, fingerprint, remove } from '@nettlewick/core';
import type { Edit, Level } from '@nettlewick/core';
import { Autosave } from '../src/app/saving/autosave';
import { Drafts } from '../src/app/saving/drafts';
import { SaveWorkerClient } from '../src/app/saving/keeper';
import type { Draft } from '../src/app/workers/draft-database';
import { LevelsApi } from '../src/app/saving/levels-api';
import type { LevelStore } from '../src/app/state/level-store';
import { openStore } from './opened';

jest.mock('../src/app/workers/start', () => ({ workerFor: () => ({}) }));

const level: Level = { ...emptyLevel('Yard'), flags: [{ id: 'open', name: 'Open', on: false, per: 'level' }] };
const turned = change('flags', level.flags[0]!, { on: true });

describe('Drafts', () => {
  const draft = (more: Partial<Draft> = {}): Draft => ({
    levelId: 'a',
    session: 's',
    keptAt: 1,
    revision: 1,
    level,
    undo: [turned],
    redo: [],
    unsent: true,
    pending: [turned],
    attempts: [],
    ...more,
  });

  it('keeps the last of several in a row, with its edits', async () => {
    const drafts = new Drafts();
    void drafts.keep(draft({ revision: 1 }));
    void drafts.keep(draft({ revision: 2 }));
    expect(await drafts.keep(draft({ revision: 3 }))).toBe(true);
    expect(await new Drafts().find('a', 's')).toEqual(draft({ revision: 3 }));
    expect(await drafts.find('b', 's')).toBeNull();
  });

  it('does not use one that cannot be read', async () => {
    const drafts = new Drafts();
    await drafts.keep(draft({ level: { ...level, version: 9 } as unknown as Level }));
    expect(await drafts.find('a', 's')).toBeNull();
    await drafts.keep(draft({ undo: [{ kind: 'nothing' }] as never }));
    expect((await drafts.find('a', 's'))?.undo).toEqual([]);
  });
});

describe('Drafts of several tabs', () => {
  const nobody = (sessions: readonly string[]) => Promise.resolve(new Set<string>(sessions.filter(() => false)));
  const of = (session: string, more: Partial<Draft> = {}): Draft => ({
    ...{ levelId: 'two', session, keptAt: 1, revision: 1, level, undo: [turned], redo: [], unsent: true, attempts: [] },
    ...more,
  });

  it('on one level do not overwrite each other', async () => {
    const [one, other] = [new Drafts(), new Drafts()];
    await one.keep(of('one', { revision: 5 }));
    await other.keep(of('other', { revision: 6 }));
    expect((await one.find('two', 'one'))?.revision).toBe(5);
    expect((await one.find('two', 'other'))?.revision).toBe(6);
    expect(await one.leftBehind('two', nobody)).toEqual([]);
  });

  it('that are closed are found, the newest first; what the server has is cleared away', async () => {
    const drafts = new Drafts();
    await drafts.keep(of('old', { keptAt: 3 }));
    await drafts.keep(of('new', { keptAt: 9 }));
    await drafts.keep(of('sent', { unsent: false }));
    await drafts.keep(of('elsewhere', { levelId: 'three', unsent: false }));
    const closed = ['old', 'new', 'sent', 'elsewhere'];
    const left = await drafts.leftBehind('two', (sessions) =>
      Promise.resolve(new Set(sessions.filter((one) => closed.includes(one)))),
    );
    expect(left.map((draft) => draft.session)).toEqual(['new', 'old']);
    expect(await drafts.find('two', 'sent')).toBeNull();
    expect(await drafts.find('three', 'elsewhere')).toBeNull();
  });
});

describe('Autosave', () => {
  const save = jest.fn();
  const saveEdits = jest.fn();
  const open = jest.fn();
  const editsSince = jest.fn();
  let store: LevelStore;
  /** Sends what it was given to prepare, without a worker. */
  const keeper = {
    ready: new Map<string, Level>(),
    prepare: (_given: Level): Promise<string> => Promise.reject(new Error('It is set before each story')),
    save(id: string, etag: string, print: string): unknown {
      return save(id, etag, this.ready.get(print));
    },
    saveEdits,
  };

  beforeEach(() => {
    jest.useFakeTimers();
    for (const mock of [save, saveEdits, open, editsSince]) mock.mockReset();
    keeper.prepare = (given) => {
      keeper.ready.set(fingerprint(given), given);
      return Promise.resolve(fingerprint(given));
    };
    TestBed.configureTestingModule({
      providers: [
        { provide: LevelsApi, useValue: { open, editsSince } },
        { provide: SaveWorkerClient, useValue: keeper },
        Autosave,
      ],
    });
    store = openStore(level);
    TestBed.inject(Autosave);
  });
  afterEach(() => {
    TestBed.resetTestingModule();
    jest.useRealTimers();
  });

  const state = () => store.now();
  const answered = (revision: number) => ({ ok: true, value: { id: 'a', revision, etag: `"${revision}-d"`, savedAt: '' } });
  const stale = { ok: false, offline: false, problem: problemOf('stale-revision') };
  const lost = { ok: false, offline: true, detail: 'lost' };
  const named = (before: string, after: string): Edit => ({ kind: 'level', before: { name: before }, after: { name: after } });
  /** What the server says was saved since a revision. */
  const since = (from: number, ...revisions: object[]) => ({
    ok: true,
    value: {
      from: `"${from}-d"`,
      complete: true,
      revisions: revisions.map((one, at) => ({ overwritten: [], ...tagged(from + 1 + at), ...one })),
    },
  });
  const tagged = (revision: number) => ({ revision, etag: `"${revision}-d"` });

  it('sends several edits at once, as they are, and nothing while there is nothing to send', async () => {
    await jest.advanceTimersByTimeAsync(2000);
    expect(saveEdits).not.toHaveBeenCalled();
    saveEdits.mockResolvedValue(answered(2));
    store.edit(turned);
    await jest.advanceTimersByTimeAsync(100);
    store.edit(named('Yard', 'Mill'));
    await jest.advanceTimersByTimeAsync(1000);
    expect(saveEdits.mock.calls).toEqual([['a', '"1-d"', expect.any(String), [turned, named('Yard', 'Mill')], []]]);
    expect(state()).toMatchObject({ saving: 'idle', revision: 2, pending: [] });
    expect(state().sent).toBe(state().level);
  });

  it('sends within half a second, also while the editing goes on', async () => {
    saveEdits.mockResolvedValue(answered(2));
    for (let i = 0; i < 10; i++) {
      store.edit(named('Yard', `Mill ${i}`));
      await jest.advanceTimersByTimeAsync(50);
    }
    expect(saveEdits.mock.calls.length).toBeGreaterThan(1);
  });

  it('sends what was edited while a save was under way once that has ended', async () => {
    let finish: (answer: unknown) => void = () => undefined;
    saveEdits.mockImplementationOnce(() => new Promise((resolve) => (finish = resolve))).mockResolvedValueOnce(answered(3));
    store.edit(turned);
    await jest.advanceTimersByTimeAsync(500);
    store.edit(named('Yard', 'Mill'));
    await jest.advanceTimersByTimeAsync(500);
    expect(saveEdits).toHaveBeenCalledTimes(1);
    finish(answered(2));
    await jest.advanceTimersByTimeAsync(500);
    expect(saveEdits.mock.calls[1]).toEqual(['a', '"2-d"', expect.any(String), [named('Yard', 'Mill')], []]);
    expect(state().sent).toBe(state().level);
  });

  it('sends a whole document where lists were replaced, or much was edited at once', async () => {
    save.mockResolvedValueOnce(answered(2)).mockResolvedValueOnce(answered(3));
    store.edit({ kind: 'level', before: { flags: level.flags }, after: { flags: [] } });
    await jest.advanceTimersByTimeAsync(500);
    expect((save.mock.calls[0]![2] as Level).flags).toEqual([]);
    const { rooms } = level;
    store.edit({
      kind: 'all',
      label: 'many',
      edits: Array.from({ length: 600 }, (_, i) => change('rooms', rooms[0]!, { ground: i })),
    });
    await jest.advanceTimersByTimeAsync(500);
    expect([save.mock.calls.length, saveEdits.mock.calls.length, state().saving]).toEqual([2, 0, 'idle']);
  });

  it('keeps what is edited while a whole document is being prepared as an edit of its own', async () => {
    let prepared: (print: string) => void = () => undefined;
    keeper.prepare = (given: Level) => {
      keeper.ready.set('print', given);
      return new Promise((resolve) => (prepared = resolve));
    };
    save.mockResolvedValueOnce(answered(2));
    saveEdits.mockResolvedValueOnce(answered(3));
    const [flag] = level.flags;
    store.edit({ kind: 'level', before: { flags: level.flags }, after: { flags: [flag!] } });
    store.edit(named('Yard', 'Mill'), 'typing');
    await jest.advanceTimersByTimeAsync(300);
    store.edit(named('Mill', 'Mill yard'), 'typing');
    prepared('print');
    await jest.advanceTimersByTimeAsync(1000);
    expect((save.mock.calls[0]![2] as Level).name).toBe('Mill');
    expect(saveEdits.mock.calls[0]![3]).toEqual([named('Mill', 'Mill yard')]);
    expect(state()).toMatchObject({ saving: 'idle', revision: 3, level: { name: 'Mill yard' } });
  });

  it('sends at once what is unsaved when the level is left, before another is opened', async () => {
    saveEdits.mockResolvedValue(answered(2));
    store.edit(turned);
    TestBed.resetTestingModule();
    store.startOpening('b');
    expect(saveEdits.mock.calls.map(([id, , , edits]) => [id, edits])).toEqual([['a', [turned]]]);
    await jest.advanceTimersByTimeAsync(100);
    expect(state()).toMatchObject({ levelId: 'b', saving: 'idle', attempts: [] });
  });

  it('tries again by itself while the server does not answer, with the same batch', async () => {
    saveEdits.mockResolvedValueOnce(lost).mockResolvedValueOnce(answered(2));
    store.edit(turned);
    await jest.advanceTimersByTimeAsync(500);
    expect(state().saving).toBe('offline');
    await jest.advanceTimersByTimeAsync(2000);
    expect(state()).toMatchObject({ saving: 'idle', revision: 2, attempts: [] });
    expect(saveEdits.mock.calls[1]![2]).toBe(saveEdits.mock.calls[0]![2]);
  });

  it('knows its own save again when only the answer was lost, and sends what was edited since', async () => {
    saveEdits.mockResolvedValueOnce(lost).mockResolvedValueOnce(stale).mockResolvedValueOnce(answered(3));
    store.edit(turned);
    await jest.advanceTimersByTimeAsync(500);
    const { key } = state().attempts[0]!;
    store.edit(named('Yard', 'Mill'));
    editsSince.mockResolvedValueOnce(since(1, { batch: key, edits: [turned] }));
    await jest.advanceTimersByTimeAsync(3000);
    expect(saveEdits.mock.calls[2]).toEqual(['a', '"2-d"', expect.any(String), [named('Yard', 'Mill')], []]);
    expect(state()).toMatchObject({ saving: 'idle', revision: 3, level: { name: 'Mill' } });
  });

  it('maps its edits over what another window has saved, and sends them on top', async () => {
    saveEdits.mockResolvedValueOnce(stale).mockResolvedValueOnce(answered(3));
    editsSince.mockResolvedValueOnce(since(1, { batch: 'theirs', edits: [named('Yard', 'Weir')] }));
    store.edit(turned);
    await jest.advanceTimersByTimeAsync(1000);
    expect(saveEdits.mock.calls[1]!.slice(0, 2)).toEqual(['a', '"2-d"']);
    expect(state()).toMatchObject({ saving: 'idle', revision: 3, level: { name: 'Weir', flags: [{ on: true }] } });
  });

  it('also over a whole document', async () => {
    saveEdits.mockResolvedValueOnce(stale).mockResolvedValueOnce(answered(3));
    editsSince.mockResolvedValueOnce(since(1, { batch: null, edits: null }));
    open.mockResolvedValueOnce({ ok: true, value: { id: 'a', ...tagged(2), savedAt: '', level: { ...level, name: 'Weir' } } });
    store.edit(turned);
    await jest.advanceTimersByTimeAsync(1000);
    expect(state()).toMatchObject({ saving: 'idle', revision: 3, level: { name: 'Weir', flags: [{ on: true }] } });
  });

  it('asks the user where what was edited without the server cannot be made on what others have done', async () => {
    const theirs = { ok: true, value: { id: 'a', ...tagged(2), savedAt: '', level: { ...level, flags: [] } } };
    saveEdits.mockResolvedValueOnce(lost).mockResolvedValue(stale);
    editsSince.mockResolvedValueOnce(since(1, { batch: 'theirs', edits: [remove(level, 'flags', 'open')] }));
    open.mockResolvedValueOnce(theirs);
    store.edit(turned);
    await jest.advanceTimersByTimeAsync(4000);
    expect(state()).toMatchObject({ saving: 'conflict', theirs: { revision: 2 }, level: { flags: [{ on: true }] } });
  });

  it('takes nothing of a level that a restored backup has made another, without asking', async () => {
    const theirs = { ok: true, value: { id: 'a', revision: 2, etag: '"2-x"', savedAt: '', level: { ...level, flags: [] } } };
    saveEdits.mockResolvedValueOnce(lost).mockResolvedValue(stale);
    editsSince.mockResolvedValueOnce({ ok: true, value: { from: '"1-other"', complete: true, revisions: [] } });
    open.mockResolvedValueOnce(theirs);
    store.edit(turned);
    await jest.advanceTimersByTimeAsync(4000);
    expect(state()).toMatchObject({ saving: 'conflict', theirs: { etag: '"2-x"' } });
  });

  it('stops when the server refuses the edits, until it is edited again', async () => {
    saveEdits
      .mockResolvedValueOnce({ ok: false, offline: false, problem: problemOf('invalid-document', { detail: 'at /name' }) })
      .mockResolvedValueOnce(answered(2));
    store.edit(turned);
    await jest.advanceTimersByTimeAsync(5000);
    expect(saveEdits).toHaveBeenCalledTimes(1);
    expect(state()).toMatchObject({ saving: 'refused', failure: expect.stringContaining('at /name') });
    store.undoLast();
    store.redoLast();
    await jest.advanceTimersByTimeAsync(1000);
    expect(state().saving).toBe('idle');
  });
});
