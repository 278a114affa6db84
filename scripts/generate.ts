import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { openApi } from '@nettlewick/contract/openapi';
import { levelJsonSchema, playLineJsonSchema } from '@nettlewick/core';
import { takesNothing } from './arguments';
import { withMap } from './house-map';
import { root } from './paths';

// Writes what is made from the code into docs/: the JSON Schemas of the level document and of logs, the OpenAPI document, the map of the house.
takesNothing('generate', 'Writes what docs/ has that is made from the code.');
mkdirSync(join(root, 'docs'), { recursive: true });
writeFileSync(join(root, 'docs/level.schema.json'), JSON.stringify(levelJsonSchema(), null, 2) + '\n');
writeFileSync(join(root, 'docs/play-line.schema.json'), JSON.stringify(playLineJsonSchema(), null, 2) + '\n');
writeFileSync(join(root, 'docs/openapi.json'), JSON.stringify(openApi(), null, 2) + '\n');
const contributing = join(root, 'docs/contributing.md');
writeFileSync(contributing, withMap(readFileSync(contributing, 'utf8')));
console.log(
  'docs/level.schema.json, docs/play-line.schema.json, docs/openapi.json and the map in docs/contributing.md are current.',
);
