import fc from 'fast-check';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { collections, parseLevelText, repairLevel } from '../src/index';
import type { Level } from '../src/index';
import { withValue } from '../src/vocabulary/paths';

const text = readFileSync(join(__dirname, '../../../demo/nettlewick.level.json'), 'utf8');
const read = parseLevelText(text);
if (!read.ok) throw new Error('The demo cannot be read');
const demo: Level = read.level;
/** The demo with other values at some paths; undefined leaves one out. */
const broken = (values: Record<string, unknown>): string =>
  JSON.stringify(Object.entries(values).reduce((now, [path, value]) => withValue(now, path, value), JSON.parse(text) as unknown));
const saved = (error: string): { level: Level; done: string[] } => {
  expect(parseLevelText(error).ok).toBe(false);
  const { level, lost } = repairLevel(error)!;
  expect(parseLevelText(JSON.stringify(level))).toEqual({ ok: true, level });
  return { level, done: lost.map(({ path, done }) => `${path}: ${done}`) };
};

it('leaves nothing out of a level that is whole', () => {
  expect(repairLevel(text)).toEqual({ level: demo, lost: [] });
});

it('a value that is wrong gives way to the usual one, and an unknown field is left out', () => {
  const { level, done } = saved(broken({ '/zones/0/swept': 'often', '/fixtures/0/colour': 'red', '/rate': -1 }));
  expect(done.toSorted()).toEqual(['/fixtures/0/colour: value removed', '/rate: value removed', '/zones/0/swept: value removed']);
  expect(level.zones).toEqual(demo.zones);
  expect(level.fixtures).toEqual(demo.fixtures);
});

it('a field that is misspelt is taken as what was meant, with all that stands in it', () => {
  const { level, done } = saved(broken({ '/zoness': demo.zones, '/zones': undefined }));
  expect(done).toEqual(['/zoness: taken as “zones”']);
  expect(level).toEqual(demo);
});

it('what cannot do without a value goes alone: a step, a thing; the rest stays', () => {
  const { level, done } = saved(broken({ '/chains/0/steps/0/kind': undefined, '/zones/1/shape': undefined }));
  expect(done).toHaveLength(2);
  expect(level.chains[0]!.steps).toHaveLength(demo.chains[0]!.steps.length - 1);
  expect(level.zones.map(({ id }) => id)).toEqual(demo.zones.map(({ id }) => id).toSpliced(1, 1));
  expect(level.chains.slice(1)).toEqual(demo.chains.slice(1));
});

it('a name and an id that are taken give way to others', () => {
  const { level } = saved(broken({ '/zones/1/name': demo.zones[0]!.name.toUpperCase(), '/zones/2/id': demo.zones[0]!.id }));
  expect(level.zones).toHaveLength(demo.zones.length);
  expect(new Set(level.zones.map(({ name }) => name.toLowerCase())).size).toBe(level.zones.length);
  expect(new Set(level.zones.map(({ id }) => id)).size).toBe(level.zones.length);
});

it('of a file that breaks off as much is read as there is, wherever it does', () => {
  const whole = JSON.stringify(demo);
  const lists = whole.indexOf('"rooms":');
  fc.assert(
    fc.property(fc.integer({ min: lists + 20, max: whole.length - 1 }), (at) => {
      const { level, lost } = repairLevel(whole.slice(0, at))!;
      expect(lost[0]!.path).toBe('');
      for (const collection of collections) {
        const kept = level[collection].map(({ id }) => id);
        expect(demo[collection].map(({ id }) => id).slice(0, kept.length)).toEqual(kept);
      }
    }),
    { numRuns: 60, seed: 20_261_126 },
  );
});

it('whatever is put in place of any value, a level comes of it, or nothing does; and what it says it has lost is not much', () => {
  const places: string[] = [];
  const gather = (value: unknown, path: string): void => {
    if (value === null || typeof value !== 'object') return;
    for (const [key, inner] of Object.entries(value)) {
      places.push(`${path}/${key}`);
      gather(inner, `${path}/${key}`);
    }
  };
  gather(JSON.parse(text), '');
  const junk = fc.constantFrom<unknown>(null, -1, '', 'nonsense', [], {}, [null], { kind: 'door' }, true, 1e9);
  fc.assert(
    fc.property(fc.array(fc.tuple(fc.constantFrom(...places), junk), { minLength: 1, maxLength: 4 }), (changes) => {
      // The longest paths first: what stands there is still there then.
      const inOrder = changes.toSorted(([one], [other]) => other.length - one.length);
      const error = broken(Object.fromEntries(inOrder));
      const found = repairLevel(error);
      const touchesHead = changes.some(([path]) => ['/format', '/version'].includes(path));
      if (found === null) expect(touchesHead).toBe(true);
      else {
        expect(parseLevelText(JSON.stringify(found.level))).toEqual({ ok: true, level: found.level });
        expect(found.lost.length).toBeLessThanOrEqual(changes.length * 6);
      }
    }),
    { numRuns: 150, seed: 20_261_126 },
  );
});

it('gives up what is no level, and what a newer program has written', () => {
  for (const error of ['', 'tide', '[1, 2', '{"format":"other"}', broken({ '/version': 99 })])
    expect(repairLevel(error)).toBeNull();
});
