import fc from 'fast-check';
import {
  EditableLevel,
  applied,
  change,
  createThing,
  emptyLevel,
  fit,
  invert,
  parseLevel,
  rebase,
  remove,
  touched,
  yielding,
} from '../src/index';
import type { Edit, Level, Thing } from '../src/index';
import { anyNumbers, editsOf } from './any-edits';
import { levelOf, zone } from './build';

/** Two windows on one level: what one has edited is mapped over what the other has. */

const empty = emptyLevel('Yard');
const base = ['door', 'door', 'plate', 'zone', 'zone'].reduce<Level>((level, stencil, i) => {
  const thing = createThing(level, stencil as 'door', `t${i}`, level.rooms[0]!.id, { x: i, y: 0, z: 0 });
  return applied(level, { kind: 'add', collection: stencil === 'zone' ? 'zones' : 'fixtures', index: i, thing });
}, empty);
const isValid = (level: Level): boolean => parseLevel(level).ok;
const made = (level: Level, edits: readonly Edit[]): Level => edits.reduce(applied, level);

it('gives both windows one valid level, with every thing that nobody deleted, and every value that nobody else gave', () => {
  fc.assert(
    fc.property(anyNumbers, anyNumbers, (one, two) => {
      const [first, second] = [editsOf(base, 'a', one, isValid), editsOf(base, 'b', two, isValid)];
      const theirs = made(base, first);
      const { edits, level, lost } = rebase(second, first, theirs);
      // The other window makes what is sent to it, and has the same level.
      expect(made(theirs, edits)).toEqual(level);
      expect(isValid(level)).toBe(true);
      const things = new Map([...level.fixtures, ...level.zones].map((thing) => [thing.id, thing]));
      const deleted = new Set([...first, ...second].flatMap((edit) => (edit.kind === 'remove' ? [edit.thing.id] : [])));
      const ours = made(base, second);
      for (const thing of [...theirs.fixtures, ...theirs.zones, ...ours.fixtures, ...ours.zones])
        expect(things.has(thing.id) || deleted.has(thing.id)).toBe(true);
      // What only we have given a value has it still, names and what would not be valid apart.
      const last = second.findLast((edit) => edit.kind === 'change' && 'at' in edit.after);
      if (last?.kind === 'change' && things.has(last.id) && !lost.some(({ id }) => id === last.id))
        expect((things.get(last.id) as { at?: unknown }).at).toEqual(last.after['at']);
    }),
    { numRuns: 500 },
  );
});

it('lets undo take back one’s own edits only, whatever the other window has done since', () => {
  fc.assert(
    fc.property(anyNumbers, anyNumbers, (one, two) => {
      const [first, second] = [editsOf(base, 'a', one, isValid), editsOf(base, 'b', two, isValid)];
      const theirs = made(base, first);
      const both = rebase(second, first, theirs);
      let level = both.level;
      for (const edit of yielding(second, first).toReversed()) {
        level = fit(level, invert(edit)).level;
        expect(isValid(level)).toBe(true);
      }
      // Fields that only they have given values are theirs still.
      const own = new Set(second.flatMap(touched));
      const left = new Map<string, Thing>([...level.fixtures, ...level.zones].map((thing) => [thing.id, thing]));
      for (const thing of [...theirs.fixtures, ...theirs.zones])
        if (!own.has(thing.id)) expect(left.get(thing.id)).toEqual(thing);
    }),
    { numRuns: 300 },
  );
});

describe('Both have edited one thing', () => {
  const yard = levelOf({ zones: [zone('Weir', 0, 0), zone('Bank', 5, 0)] });
  const [weir, bank] = yard.zones as [Level['zones'][0], Level['zones'][0]];

  it('in different fields: both stand', () => {
    const first = [change('zones', weir, { heading: 30 })];
    const { level, overwritten, lost } = rebase([change('zones', weir, { swept: true })], first, made(yard, first));
    expect(level.zones[0]).toMatchObject({ heading: 30, swept: true });
    expect([overwritten, lost]).toEqual([[], []]);
  });

  it('in the same field: the later value stands, and it is told which field that was', () => {
    const first = [change('zones', weir, { heading: 30 })];
    const { level, edits, overwritten } = rebase([change('zones', weir, { heading: 60 })], first, made(yard, first));
    expect(level.zones[0]!.heading).toBe(60);
    expect(overwritten).toEqual([{ id: 'weir', field: 'heading' }]);
    // What it takes the place of is theirs, so that history and undo tell the truth.
    expect(edits[0]).toMatchObject({ before: { heading: 30 }, after: { heading: 60 } });
  });

  it('with the same value: that is no conflict', () => {
    const first = [change('zones', weir, { heading: 30 })];
    expect(rebase([change('zones', weir, { heading: 30 })], first, made(yard, first)).overwritten).toEqual([]);
  });

  it('and one has deleted it: it stays deleted, and what is lost is told by its name', () => {
    const first = [remove(yard, 'zones', 'weir')];
    const { level, lost, edits } = rebase([change('zones', weir, { heading: 60 })], first, made(yard, first));
    expect(level.zones.map(({ id }) => id)).toEqual(['bank']);
    expect([edits, lost]).toEqual([[], [{ collection: 'zones', id: 'weir', name: 'weir', why: 'deleted' }]]);
  });

  it('and both have deleted it: nothing is left to do', () => {
    const first = [remove(yard, 'zones', 'weir')];
    expect(rebase([remove(yard, 'zones', 'weir')], first, made(yard, first)).edits).toEqual([]);
  });

  it('and given one name to two: ours gives way', () => {
    const first = [change('zones', weir, { name: 'Sluice' })];
    const { level, renamed } = rebase([change('zones', bank, { name: 'SLUICE' })], first, made(yard, first));
    expect(level.zones.map(({ name }) => name)).toEqual(['Sluice', 'SLUICE 2']);
    expect(renamed).toEqual([{ id: 'bank', from: 'SLUICE', to: 'SLUICE 2' }]);
  });

  it('and one has replaced whole lists: that is mapped thing by thing', () => {
    const replaced: Edit = { kind: 'level', before: { zones: yard.zones }, after: { zones: [{ ...weir, heading: 90 }] } };
    const first = [change('zones', weir, { swept: true })];
    const { level } = rebase([replaced], first, made(yard, first));
    expect(level.zones).toEqual([{ ...weir, heading: 90, swept: true }]);
  });

  it('undo leaves a field alone that the other window has set since', () => {
    const own = change('zones', weir, { heading: 30, swept: true });
    const after = made(yard, [own]);
    const theirs = [change('zones', after.zones[0]!, { heading: 60 })];
    const [left] = yielding([own], theirs);
    expect(fit(made(after, theirs), invert(left!)).level.zones[0]).toMatchObject({ heading: 60, swept: false });
    expect(yielding([change('zones', weir, { heading: 30 })], theirs)).toEqual([]);
  });
});

it('reads only what is edited, and finds what reading the whole level finds', () => {
  const broken: Edit[] = [
    { kind: 'change', collection: 'zones', id: 't3', before: {}, after: { heading: 'north' } },
    { kind: 'change', collection: 'zones', id: 't3', before: {}, after: { colour: 'red' } },
    { kind: 'change', collection: 'fixtures', id: 't0', before: {}, after: { attachedTo: 't1' } },
    { kind: 'change', collection: 'fixtures', id: 't1', before: {}, after: { attachedTo: 't0' } },
    { kind: 'level', before: {}, after: { rate: 0 } },
  ];
  fc.assert(
    fc.property(anyNumbers, fc.array(fc.nat(broken.length - 1), { maxLength: 2 }), (numbers, error) => {
      const editable = new EditableLevel(base);
      const edits = [...editsOf(base, 'a', numbers, () => true), ...error.map((at) => broken[at]!)];
      let whole: Level | null = null;
      try {
        whole = made(base, edits);
      } catch {
        // One of them does not fit.
      }
      const parsed = whole === null ? null : parseLevel(whole);
      const verdict = editable.edit(edits);
      expect(verdict.ok).toBe(parsed?.ok ?? false);
      if (verdict.ok) {
        expect(editable.level).toEqual(parsed?.ok === true ? parsed.level : null);
        expect(made(base, verdict.edits)).toEqual(editable.level);
      } else expect(editable.level).toBe(base);
    }),
    { numRuns: 500 },
  );
});

it('goes on after edits that were refused, and knows which names are free again', () => {
  const editable = new EditableLevel(base);
  const [first, second] = base.zones as [Level['zones'][0], Level['zones'][0]];
  expect(editable.edit([change('zones', first, { name: second.name })]).ok).toBe(false);
  expect(editable.edit([change('zones', second, { name: 'Elsewhere' }), change('zones', first, { name: second.name })]).ok).toBe(
    true,
  );
  expect(editable.edit([remove(editable.level, 'zones', first.id)]).ok).toBe(true);
  expect(editable.edit([change('zones', editable.level.zones[0]!, { name: second.name })]).ok).toBe(true);
});
