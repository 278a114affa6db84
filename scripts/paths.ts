import { join } from 'node:path';

/** The folder of the checkout: npm runs every script there, and so does scripts/bootstrap.mjs. */
export const root = process.cwd();

/** What the project keeps to itself on this machine: the database, stamps of what was built. Not in git. */
export const keep = process.env['NETTLEWICK_KEEP'] ?? join(root, '.nettlewick');

/** Where the studio is built to, and the stamp of what it was built from. */
export const studioFolder = join(root, 'apps/web/dist/browser');
export const studioStamp = join(root, 'apps/web/dist/built-from.sha256');

export const demoFile = join(root, 'demo/nettlewick.level.json');
