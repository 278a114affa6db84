import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { kindNames, literalsOf } from '../kind-names';
import type { Found } from '../kind-names';

/** A kind of fixture or step knows itself: nothing else in the sources names it. */

const { fixtures, steps } = kindNames();
const root = join(__dirname, '../..');
const kinds = /^packages\/core\/src\/kinds\/(fixtures|steps)\//;
/** Where kinds may be named, and why. */
const excepted: Record<string, RegExp> = {
  'a set piece is made of particular kinds, as a document is': /^packages\/core\/src\/pieces\//,
  'a document of an older version is brought to the kinds of today': /^packages\/core\/src\/document\/migrations\.ts$/,
  'a mistake that is warned of is made with particular kinds': /^packages\/core\/src\/checks\/warnings\//,
};
let found: Found[];

beforeAll(() => {
  found = literalsOf(
    ['tsconfig.json', 'apps/web/tsconfig.app.json'],
    /^(packages\/(core|contract)|apps\/(server|cli|web))\/src\//,
  );
}, 120_000);

it('finds the names where they stand: in the registry, and in the own files of kinds', () => {
  expect(fixtures.length).toBeGreaterThan(10);
  expect(steps.length).toBeGreaterThan(30);
  const registry = found.filter(({ file }) => file === 'packages/core/src/kinds/fixtures/index.ts');
  expect(registry.map(({ name }) => name)).toEqual(expect.arrayContaining(['door', 'elevator', 'mover', 'plate']));
});

it('finds no kind named in the core and the applications outside of its own file and the registry', () => {
  const elsewhere = found.filter(({ file }) => !kinds.test(file) && !Object.values(excepted).some((folder) => folder.test(file)));
  expect(elsewhere.map(({ file, line, name }) => `${file}:${line} ${name}`)).toEqual([]);
});

it('finds no fixture named in the file of another kind', () => {
  const own = (file: string, name: string): boolean => file.endsWith(`/${name}.ts`) || file.endsWith('/index.ts');
  const strangers = found.filter(({ file, name }) => kinds.test(file) && fixtures.includes(name) && !own(file, name));
  expect(strangers).toEqual([]);
});

it('finds no fixture named in a template of the studio', () => {
  const pages = readdirSync(join(root, 'apps/web/src'), { recursive: true, encoding: 'utf8' }).filter((path) =>
    path.endsWith('.html'),
  );
  const quoted = new RegExp(`'(${fixtures.join('|')})'`);
  expect(pages.filter((page) => quoted.test(readFileSync(join(root, 'apps/web/src', page), 'utf8')))).toEqual([]);
});
