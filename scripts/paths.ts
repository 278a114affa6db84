import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

/** The folder of the checkout. */
export const root = dirname(dirname(fileURLToPath(import.meta.url)));

/** What the project keeps to itself on this machine: databases, stamps of what was built. Not in git. */
export const keep = join(root, '.nettlewick');

export const studioFolder = join(root, 'apps/web/dist/browser');
export const demoFile = join(root, 'demo/nettlewick.level.json');
