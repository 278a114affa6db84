import 'fake-indexeddb/auto';
import { Ledger, applied, change, createThing, emptyLevel, fingerprint, invert, levelShape, remove } from '@nettlewick/core';
import type { Edit, Level } from '@nettlewick/core';
import fc from 'fast-check';
import { WorkerClient, WorkerGone } from '../src/app/workers/client';
import { Checking } from '../src/app/workers/checking';
import { SaveWorker } from '../src/app/workers/keeping';
import { LevelReplica } from '../src/app/workers/level-copy';
import { LevelReplicator } from '../src/app/workers/mirrored';
import { AnalysisWorker } from '../src/app/workers/study';

jest.mock('comlink', () => ({ wrap: (worker: { remote: unknown }) => worker.remote }));

/** A worker's side, to which everything comes as a copy, and which says what came. */
class Copy extends LevelReplica {
  opened = 0;
  edits = 0;
  override open(level: Level): void {
    this.opened += 1;
    super.open(JSON.parse(JSON.stringify(level)) as Level);
  }
  override edit(edits: readonly Edit[]): void {
    this.edits += edits.length;
    super.edit(JSON.parse(JSON.stringify(edits)) as Edit[]);
  }
  get now(): Level {
    return this.level;
  }
}

const yard = emptyLevel('Yard');
const withZones = (count: number): Level => ({
  ...yard,
  zones: Array.from({ length: count }, (_, i) =>
    createThing(yard, 'zone', `z${i}`, 'room-1', { x: i, y: 0, z: 0 }),
  ) as Level['zones'],
});

it('a worker is sent the level once, and then only what an edit changes, whatever is edited, undone and done at once', () => {
  const anyEdit = fc.array(
    fc.record({
      at: fc.nat(11),
      what: fc.constantFrom('move', 'delete', 'add', 'rename level', 'undo', 'put last'),
    }),
    { maxLength: 12 },
  );
  fc.assert(
    fc.property(anyEdit, (steps) => {
      const copy = new Copy();
      const mirrored = new LevelReplicator(copy);
      let level = withZones(12);
      void mirrored.bring(level);
      let last: Edit | null = null;
      steps.forEach(({ at, what }, n) => {
        const zone = level.zones[at % Math.max(1, level.zones.length)];
        const edit: Edit | null =
          what === 'add'
            ? {
                kind: 'add',
                collection: 'zones',
                index: at % (level.zones.length + 1),
                thing: { ...zone!, id: `n${n}`, name: `N${n}` },
              }
            : what === 'rename level'
              ? { kind: 'level', before: { name: level.name }, after: { name: `Yard ${n}` } }
              : what === 'undo'
                ? last && invert(last)
                : zone === undefined
                  ? null
                  : what === 'move'
                    ? change('zones', zone, { at: { x: n, y: at, z: 0 } })
                    : what === 'put last'
                      ? {
                          kind: 'move',
                          collection: 'zones',
                          id: zone.id,
                          from: level.zones.indexOf(zone),
                          to: level.zones.length - 1,
                        }
                      : remove(level, 'zones', zone.id);
        last = what === 'undo' ? null : edit;
        if (edit !== null) level = applied(level, edit);
        void mirrored.bring(level);
        expect(copy.now).toEqual(level);
      });
      expect(copy.opened).toBe(1);
    }),
  );
});

it('a worker whose level an edit does not fit answers nothing until it is sent a whole one', () => {
  const keeping = new SaveWorker();
  keeping.open(yard);
  expect(() => keeping.edit([remove(withZones(1), 'zones', 'z0')])).toThrow('z0');
  expect(() => keeping.prepare()).toThrow('No level was opened');
  keeping.open(yard);
  expect(keeping.prepare()).toBe(fingerprint(yard));
});

describe('A worker that is asked', () => {
  /** A thread in which a copy stands, asked for the names of its zones. */
  class Thread {
    isOver = false;
    readonly copy = new Copy();
    breaks: (event: { message: string; preventDefault(): void }) => void = () => undefined;
    readonly remote = {
      open: (level: Level) => Promise.resolve().then(() => this.copy.open(level)),
      edit: (edits: Edit[]) => Promise.resolve().then(() => this.copy.edit(edits)),
      zones: () => Promise.resolve().then(() => this.copy.now.zones.map(({ id }) => id)),
      refuse: () => Promise.reject(new Error('There is no such walk')),
      never: () => new Promise<string[]>(() => undefined),
    };
    addEventListener(_type: 'error', listener: typeof this.breaks): void {
      this.breaks = listener;
    }
    terminate(): void {
      this.isOver = true;
    }
  }
  const begin = () => {
    const threads: Thread[] = [];
    const client = new WorkerClient<Thread['remote']>(() => {
      threads.push(new Thread());
      return threads.at(-1) as unknown as Worker;
    });
    return { threads, client };
  };
  const zones = (remote: unknown): Promise<string[]> => (remote as Thread['remote']).zones();

  it('is started by the first question, answers about the level as it is then, and keeps it', async () => {
    const { threads, client } = begin();
    expect(threads).toHaveLength(0);
    expect(await client.ask(withZones(1), zones)).toEqual(['z0']);
    expect(await client.ask(withZones(2), zones)).toEqual(['z0', 'z1']);
    expect(await client.ask(null, zones)).toEqual(['z0', 'z1']);
    expect(threads).toHaveLength(1);
  });

  it('goes on after a question that throws: only that question is rejected', async () => {
    const { threads, client } = begin();
    const refuse = client.ask(withZones(1), (remote) => (remote as unknown as Thread['remote']).refuse());
    await expect(refuse).rejects.toThrow('There is no such walk');
    expect(await client.ask(null, zones)).toEqual(['z0']);
    expect([threads.length, threads[0]!.isOver]).toEqual([1, false]);
  });

  it('that breaks or is ended rejects what is under way as gone, and is started anew by the next question', async () => {
    const { threads, client } = begin();
    const never = (): Promise<string[]> => client.ask(yard, (remote) => (remote as unknown as Thread['remote']).never());
    const first = never();
    threads[0]!.breaks({ message: 'out of memory', preventDefault: () => undefined });
    await expect(first).rejects.toThrow(new WorkerGone('out of memory'));
    const second = never();
    client.end();
    await expect(second).rejects.toBeInstanceOf(WorkerGone);
    expect(await client.ask(withZones(1), zones)).toEqual(['z0']);
    expect(threads.map(({ isOver }) => isOver)).toEqual([true, true, false]);
  });

  it('whose copy cannot follow an edit is started anew, with the whole level', async () => {
    const { threads, client } = begin();
    await client.ask(withZones(3), zones);
    threads[0]!.copy.open(yard);
    await expect(client.ask({ ...withZones(3), zones: withZones(2).zones }, zones)).rejects.toBeInstanceOf(WorkerGone);
    expect(await client.ask(withZones(2), zones)).toEqual(['z0', 'z1']);
    expect(threads).toHaveLength(2);
  });
});

it('another level altogether is sent as a whole', () => {
  const copy = new Copy();
  const mirrored = new LevelReplicator(copy);
  void mirrored.bring(yard);
  void mirrored.bring(withZones(900));
  expect([copy.opened, copy.edits]).toEqual([2, 0]);
});

it('finds what is wrong in slices, and answers only for the newest level', async () => {
  const checking = new Checking();
  checking.open(withZones(3000));
  const first = checking.findings();
  const lost = { ...withZones(1), zones: [{ ...withZones(1).zones[0]!, room: 'gone' }] } as Level;
  checking.open(lost);
  const second = checking.findings();
  expect([null, expect.any(Array)]).toContainEqual(await first);
  expect((await second)!.map(({ thing }) => thing)).toEqual(['z0']);
});

it('keeps the newest draft, and sends the level as it was when it was prepared', async () => {
  const keeping = new SaveWorker();
  const lost = { ...withZones(1), zones: [{ ...withZones(1).zones[0]!, room: 'gone' }] } as Level;
  keeping.open(lost);
  const draft = { levelId: 'a', session: 's', revision: 1, undo: [], redo: [], unsent: true, attempts: [], keptAt: 0 };
  expect(await keeping.keep(draft)).toBe(true);
  const sent = jest.fn().mockRejectedValue(new Error('offline'));
  globalThis.fetch = sent;
  const print = keeping.prepare();
  keeping.edit([{ kind: 'level', before: { name: 'Yard' }, after: { name: 'Mill' } }]);
  await keeping.save('a', '"1-d"', print);
  expect((JSON.parse((sent.mock.calls[0] as [string, { body: string }])[1].body) as Level).name).toBe('Yard');
});

it('compares two long ledgers to their ends: the only difference may be the last', () => {
  const there = (i: number) => ({ id: `g${i}`, do: 'go-to', to: { x: i % 2, y: 0, z: 0 } });
  const long = (name: string, legs: number) => ({
    id: name,
    name,
    atMost: 3600,
    routes: ['miller', 'goose'].map((visitor) => ({ visitor, instructions: Array.from({ length: legs }, (_, i) => there(i)) })),
  });
  const level = levelShape.parse({
    ...yard,
    visitors: ['miller', 'goose'].map((id) => ({
      ...createThing(yard, 'player', id, 'room-1', { x: 0, y: 0, z: 0 }),
      speed: 50,
    })),
    walks: [long('one', 1990), long('other', 1991)],
  });
  const room = new AnalysisWorker();
  room.open(level);
  const found = room.compare({ walk: 'one' }, { walk: 'other' });
  const [before, after] = [Ledger.of(found.before), Ledger.of(found.after)];
  expect(before.length).toBeGreaterThan(3900);
  expect([after.length - before.length, found.added, found.rows.length / 2]).toEqual([2, 2, after.length]);
  const kindsOf = (row: number) => [before.at(found.rows[row * 2]!)?.kind, after.at(found.rows[row * 2 + 1]!)?.kind];
  expect(kindsOf(after.length - 1)).toEqual([undefined, 'arrived']);
  expect(kindsOf(after.length - 4)).toEqual(['arrived', 'arrived']);
});
