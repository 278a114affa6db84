import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { withMap } from '../house-map';

it('The map of the house in docs/contributing.md is that of the code (npm run generate renews it)', () => {
  const text = readFileSync(join(__dirname, '../../docs/contributing.md'), 'utf8');
  // However wide the columns are.
  const plain = (page: string): string => page.replace(/ +/g, ' ').replace(/-+/g, '-').replace(/\n+/g, '\n');
  expect(text).toContain('| `kernel/`');
  expect(plain(text)).toBe(plain(withMap(text)));
});
