import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { openApi } from '@nettlewick/contract/openapi';
import { levelJsonSchema, playLineJsonSchema } from '@nettlewick/core';
import { format, resolveConfig } from 'prettier';
import { takesNothing } from './arguments';
import { withMap } from './house-map';
import { root } from './paths';

// Writes what is made from the code into docs/: the JSON Schemas of the level document and of logs, the OpenAPI document, the map of the house.
takesNothing('generate', 'Writes what docs/ has that is made from the code.');
const docs = join(root, 'docs');
const json = (value: unknown): string => JSON.stringify(value, null, 2);
const made: [file: string, text: string][] = [
  ['level.schema.json', json(levelJsonSchema())],
  ['play-line.schema.json', json(playLineJsonSchema())],
  ['openapi.json', json(openApi())],
  ['contributing.md', withMap(readFileSync(join(docs, 'contributing.md'), 'utf8'))],
];
mkdirSync(docs, { recursive: true });
for (const [file, text] of made) {
  const filepath = join(docs, file);
  writeFileSync(filepath, await format(text, { ...(await resolveConfig(filepath)), filepath }));
}
console.log(`Current now, in docs/: ${made.map(([file]) => file).join(', ')}.`);
