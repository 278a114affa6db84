import { Component, inject } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { LEVEL_VERSION, levelShape } from '@nettlewick/core';
import type { Edit, Level } from '@nettlewick/core';
import { LastViewedMoment } from '../src/app/editing/last-look';
import { Playback } from '../src/app/rehearse/playback';
import { RehearsalStore } from '../src/app/rehearse/rehearsal-store';
import { Editor } from '../src/app/state/editor';
import { WorkerClient } from '../src/app/workers/client';
import { RehearsalWorker } from '../src/app/workers/rehearsal';
import { openStore } from './opened';

jest.mock('comlink', () => ({ wrap: (worker: FakeRoom) => worker.remote }));
jest.mock('../src/app/workers/start', () => ({
  workerFor: () => new WorkerClient(() => new FakeRoom() as unknown as Worker),
}));

/** Stands for a worker: holds the level as one does, but answers only when it is told to. */
class FakeRoom {
  static made: FakeRoom[] = [];
  readonly asked: { rate: number; walk: string }[] = [];
  isOver = false;
  private readonly room = new RehearsalWorker();
  private readonly waiting: (() => void)[] = [];
  private breaks: (event: { message: string; preventDefault(): void }) => void = () => undefined;
  readonly remote = {
    open: (opened: Level) => this.room.open(structuredClone(opened)),
    edit: (edits: Edit[]) => this.room.edit(structuredClone(edits)),
    rehearse: (walk: string) => {
      this.asked.push({ rate: this.room['level'].rate, walk });
      const answer = this.room.rehearse(walk);
      return new Promise((resolve) => this.waiting.push(() => resolve(answer)));
    },
  };

  constructor() {
    FakeRoom.made.push(this);
  }
  addEventListener(_type: 'error', listener: typeof this.breaks): void {
    this.breaks = listener;
  }
  terminate(): void {
    this.isOver = true;
  }
  async answer(): Promise<void> {
    this.waiting.shift()!();
    await settle();
  }
  async break(): Promise<void> {
    this.breaks({ message: 'out of memory', preventDefault: () => undefined });
    await settle();
  }
}

const at = (x: number) => ({ x, y: 0, z: 0 });
const level: Level = levelShape.parse({
  format: 'nettlewick-level',
  version: LEVEL_VERSION,
  name: 'Yard',
  rate: 10,
  rooms: [{ id: 'yard', name: 'Yard room', extents: { west: -9, south: -9, east: 9, north: 9 } }],
  fixtures: [
    { id: 'board', name: 'Board', kind: 'sign', room: 'yard', at: at(0), text: 'shut' },
    { id: 'plate', name: 'Plate', kind: 'plate', room: 'yard', at: at(3) },
  ],
  flags: [{ id: 'open', name: 'Open' }],
  visitors: [
    {
      id: 'miller',
      name: 'Miller',
      kind: 'player',
      room: 'yard',
      at: at(0),
      speed: 1,
      body: { kind: 'box', size: { x: 0.5, y: 0.5, z: 1.8 } },
    },
  ],
  chains: [
    {
      id: 'sluice',
      name: 'Sluice',
      causes: [{ id: 'c', on: 'press', of: 'plate' }],
      steps: [
        { id: 's1', kind: 'write-sign', sign: 'board', text: 'open' },
        { id: 's2', kind: 'set-flag', flag: 'open', to: true, delay: 0.5 },
      ],
    },
  ],
  walks: [
    { id: 'there', name: 'There', routes: [{ visitor: 'miller', instructions: [{ id: 'g1', do: 'go-to', to: at(6) }] }] },
    { id: 'nowhere', name: 'Nowhere' },
  ],
});

@Component({ template: '', providers: [Editor, LastViewedMoment, RehearsalStore, Playback] })
class Place {
  readonly editor = inject(Editor);
  readonly rehearser = inject(RehearsalStore);
  readonly playback = inject(Playback);
}

async function place(): Promise<Place> {
  openStore(level);
  const fixture = TestBed.createComponent(Place);
  await fixture.whenStable();
  return fixture.componentInstance;
}
const settle = async (): Promise<void> => {
  TestBed.tick();
  for (let turn = 0; turn < 12; turn++) await Promise.resolve();
};

beforeEach(() => {
  FakeRoom.made = [];
});

it('rehearses the first walk, and again whenever the level changes', async () => {
  const { editor, rehearser } = await place();
  const [worker] = FakeRoom.made;
  expect(worker!.asked.map(({ walk }) => walk)).toEqual(['there']);
  expect(rehearser.busy()).toBe(true);
  await worker!.answer();
  expect([...rehearser.result()!.ledger].at(-1)!.kind).toBe('end');
  editor.set('', '/rate', 20);
  await settle();
  await worker!.answer();
  expect(rehearser.result()!.rate).toBe(20);
  rehearser.choose('nowhere');
  await settle();
  await worker!.answer();
  expect(rehearser.result()!.walk).toBe('nowhere');
  expect(FakeRoom.made).toHaveLength(1);
});

it('leaves out all but the newest of what was asked while it was busy', async () => {
  const { editor, rehearser } = await place();
  const [worker] = FakeRoom.made;
  for (const rate of [20, 30, 40]) {
    editor.set('', '/rate', rate);
    await settle();
  }
  expect(worker!.asked).toHaveLength(1);
  await worker!.answer();
  expect(rehearser.result()).toBeNull();
  expect(worker!.asked.map(({ rate }) => rate)).toEqual([10, 40]);
  await worker!.answer();
  expect(rehearser.result()!.rate).toBe(40);
});

it('says so when the worker breaks, and begins with a new one', async () => {
  const { editor, rehearser } = await place();
  await FakeRoom.made[0]!.break();
  expect(rehearser.failure()).toContain('out of memory');
  editor.set('', '/rate', 20);
  await settle();
  await FakeRoom.made[1]!.answer();
  expect([rehearser.failure(), rehearser.result()!.rate]).toEqual([null, 20]);
});

it('gives up a rehearsal that takes too long when the level changes', async () => {
  const { editor } = await place();
  const now = jest.spyOn(performance, 'now').mockReturnValue(performance.now() + 5000);
  editor.set('', '/rate', 20);
  await settle();
  now.mockRestore();
  expect(FakeRoom.made.map((worker) => worker.isOver)).toEqual([true, false]);
  await FakeRoom.made[1]!.answer();
});

describe('The moment that is shown', () => {
  const ready = async (): Promise<Place> => {
    const made = await place();
    await FakeRoom.made[0]!.answer();
    return made;
  };

  it('has every visitor where it is at that tick, and signs, flags and plates as they are after that entry', async () => {
    const { playback } = await ready();
    playback.seek(15);
    expect(playback.moment()!.visitors.get('miller')!.x).toBeCloseTo(1.5, 6);
    const press = playback.entries().find((entry) => entry.kind === 'press')!;
    playback.show(press.number);
    expect([playback.tick(), playback.moment()!.pressed.has('plate'), playback.moment()!.texts.get('board')]).toEqual([
      press.tick,
      true,
      undefined,
    ]);
    playback.seek(press.tick);
    expect(playback.moment()!.texts.get('board')).toBe('open');
    expect(playback.flags()).toEqual([{ id: 'open', name: 'Open', on: false }]);
    playback.seek(playback.last());
    expect(playback.flags()[0]!.on).toBe(true);
    expect(playback.moment()!.pressed.has('plate')).toBe(false);
  });

  it('stays within the walk', async () => {
    const { playback } = await ready();
    playback.seek(-5);
    expect(playback.tick()).toBe(0);
    playback.seek(1e9);
    expect(playback.tick()).toBe(playback.last());
  });

  it('stays where it was when the level has been edited, and goes back to the start with another walk', async () => {
    const { editor, playback, rehearser } = await ready();
    playback.seek(20);
    editor.set('', '/name', 'Mill');
    await settle();
    await FakeRoom.made[0]!.answer();
    expect(playback.tick()).toBe(20);
    rehearser.choose('nowhere');
    await settle();
    await FakeRoom.made[0]!.answer();
    expect(playback.tick()).toBe(0);
  });
});
