import 'fake-indexeddb/auto';
import { Ledger, apply, change, createThing, emptyLevel, fingerprint, invert, levelShape, remove } from '@nettlewick/core';
import type { Edit, Level } from '@nettlewick/core';
import fc from 'fast-check';
import { Checking } from '../src/app/workers/checking';
import { Keeping } from '../src/app/workers/keeping';
import { LevelCopy } from '../src/app/workers/level-copy';
import { Mirrored } from '../src/app/workers/mirrored';
import { StudyRoom } from '../src/app/workers/study';

/** A worker's side, to which everything comes as a copy, and which says what came. */
class Copy extends LevelCopy {
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
      const mirrored = new Mirrored(copy);
      let level = withZones(12);
      mirrored.bring(level);
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
        if (edit !== null) level = apply(level, edit);
        mirrored.bring(level);
        expect(copy.now).toEqual(level);
      });
      expect(copy.opened).toBe(1);
    }),
  );
});

it('a worker whose level an edit does not fit answers nothing until it is sent a whole one', () => {
  const keeping = new Keeping();
  keeping.open(yard);
  expect(() => keeping.edit([remove(withZones(1), 'zones', 'z0')])).toThrow('z0');
  expect(() => keeping.prepare()).toThrow('No level was opened');
  keeping.open(yard);
  expect(keeping.prepare()).toBe(fingerprint(yard));
});

it('another level altogether is sent as a whole', () => {
  const copy = new Copy();
  const mirrored = new Mirrored(copy);
  mirrored.bring(yard);
  mirrored.bring(withZones(900));
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
  const keeping = new Keeping();
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
  const room = new StudyRoom();
  room.open(level);
  const found = room.compare({ walk: 'one' }, { walk: 'other' });
  const [before, after] = [Ledger.of(found.before), Ledger.of(found.after)];
  expect(before.length).toBeGreaterThan(3900);
  expect([after.length - before.length, found.added, found.rows.length / 2]).toEqual([2, 2, after.length]);
  const kindsOf = (row: number) => [before.at(found.rows[row * 2]!)?.kind, after.at(found.rows[row * 2 + 1]!)?.kind];
  expect(kindsOf(after.length - 1)).toEqual([undefined, 'arrived']);
  expect(kindsOf(after.length - 4)).toEqual(['arrived', 'arrived']);
});
