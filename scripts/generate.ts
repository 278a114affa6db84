import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { openApi } from '@nettlewick/contract/openapi';
import { levelJsonSchema } from '@nettlewick/core';
import { root } from './paths';

// Writes what is made from the schemas into docs/: the JSON Schema of the level document and the OpenAPI document.
mkdirSync(join(root, 'docs'), { recursive: true });
writeFileSync(join(root, 'docs/level.schema.json'), JSON.stringify(levelJsonSchema(), null, 2) + '\n');
writeFileSync(join(root, 'docs/openapi.json'), JSON.stringify(openApi(), null, 2) + '\n');
console.log('docs/level.schema.json and docs/openapi.json are current.');
