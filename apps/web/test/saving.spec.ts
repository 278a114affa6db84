import 'fake-indexeddb/auto';
import { TestBed } from '@angular/core/testing';
import { problemOf } from '@nettlewick/contract';
import { change, emptyLevel, fingerprint } from '@nettlewick/core';
import type { Level } from '@nettlewick/core';
import { Autosave } from '../src/app/saving/autosave';
import { Drafts } from '../src/app/saving/drafts';
import { Keeper } from '../src/app/saving/keeper';
import type { Draft } from '../src/app/workers/shelf';
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
  const open = jest.fn();
  let store: LevelStore;
  /** Sends what it was given to prepare, without a worker. */
  const keeper = {
    ready: new Map<string, Level>(),
    prepare(given: Level): Promise<string> {
      this.ready.set(fingerprint(given), given);
      return Promise.resolve(fingerprint(given));
    },
    save(id: string, revision: number, print: string): unknown {
      return save(id, revision, this.ready.get(print));
    },
  };

  beforeEach(() => {
    jest.useFakeTimers();
    save.mockReset();
    open.mockReset();
    TestBed.configureTestingModule({
      providers: [{ provide: LevelsApi, useValue: { open } }, { provide: Keeper, useValue: keeper }, Autosave],
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

  it('sends several edits as one save, and nothing while there is nothing to send', async () => {
    await jest.advanceTimersByTimeAsync(2000);
    expect(save).not.toHaveBeenCalled();
    save.mockResolvedValue(answered(2));
    store.edit(turned);
    await jest.advanceTimersByTimeAsync(100);
    store.edit({ kind: 'level', before: { name: 'Yard' }, after: { name: 'Mill' } });
    await jest.advanceTimersByTimeAsync(1000);
    expect(save.mock.calls.map(([id, etag, sent]) => [id, etag, (sent as Level).name])).toEqual([['a', '"1-d"', 'Mill']]);
    expect(state()).toMatchObject({ saving: 'idle', revision: 2 });
  });

  it('sends what was edited while a save was under way once that has ended', async () => {
    let finish: (answer: unknown) => void = () => undefined;
    save.mockImplementationOnce(() => new Promise((resolve) => (finish = resolve))).mockResolvedValueOnce(answered(3));
    store.edit(turned);
    await jest.advanceTimersByTimeAsync(500);
    store.edit({ kind: 'level', before: { name: 'Yard' }, after: { name: 'Mill' } });
    await jest.advanceTimersByTimeAsync(500);
    expect(save).toHaveBeenCalledTimes(1);
    finish(answered(2));
    await jest.advanceTimersByTimeAsync(500);
    expect(save.mock.calls[1]!.slice(0, 2)).toEqual(['a', '"2-d"']);
    expect(state().sent).toBe(state().level);
  });

  it('tries again by itself while the server does not answer', async () => {
    save.mockResolvedValueOnce({ ok: false, offline: true, detail: 'no answer' }).mockResolvedValueOnce(answered(2));
    store.edit(turned);
    await jest.advanceTimersByTimeAsync(500);
    expect(state().saving).toBe('offline');
    await jest.advanceTimersByTimeAsync(2000);
    expect(state()).toMatchObject({ saving: 'idle', revision: 2, attempts: [] });
  });

  it('knows its own save again when only the answer was lost, and meets somebody else’s as a conflict', async () => {
    const stale = { ok: false, offline: false, problem: problemOf('stale-revision') };
    save
      .mockResolvedValueOnce({ ok: false, offline: true, detail: 'lost' })
      .mockResolvedValueOnce(stale)
      .mockResolvedValueOnce(answered(3));
    store.edit(turned);
    await jest.advanceTimersByTimeAsync(500);
    const stored = state().level!;
    expect(state().attempts).toEqual([fingerprint(stored)]);
    store.edit({ kind: 'level', before: { name: 'Yard' }, after: { name: 'Mill' } });
    open.mockResolvedValueOnce({ ok: true, value: { id: 'a', revision: 2, savedAt: '', level: stored } });
    await jest.advanceTimersByTimeAsync(3000);
    expect(state()).toMatchObject({ saving: 'idle', revision: 3 });

    save.mockResolvedValueOnce(stale);
    open.mockResolvedValueOnce({ ok: true, value: { id: 'a', revision: 9, savedAt: '', level: { ...stored, name: 'Theirs' } } });
    store.edit({ kind: 'level', before: { name: 'Mill' }, after: { name: 'Weir' } });
    await jest.advanceTimersByTimeAsync(5000);
    expect(state()).toMatchObject({ saving: 'conflict', theirs: { revision: 9 } });
    expect(save).toHaveBeenCalledTimes(4);
  });

  it('stops when the server refuses the document, until it is edited again', async () => {
    save
      .mockResolvedValueOnce({ ok: false, offline: false, problem: problemOf('invalid-document', { detail: 'at /name' }) })
      .mockResolvedValueOnce(answered(2));
    store.edit(turned);
    await jest.advanceTimersByTimeAsync(5000);
    expect(save).toHaveBeenCalledTimes(1);
    expect(state()).toMatchObject({ saving: 'refused', failure: expect.stringContaining('at /name') });
    store.undoLast();
    store.redoLast();
    await jest.advanceTimersByTimeAsync(1000);
    expect(state().saving).toBe('idle');
  });
});
