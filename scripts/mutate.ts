import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { root } from './paths';

// Tests the tests of the core: changes the kernel and the document in thousands of small ways, one at a time, and sees whether a
// test notices. `npm run mutate -- --mutate packages/core/src/kernel/queue/*.ts` changes a part. It takes an hour or more.
const run = spawnSync(join(root, 'node_modules/.bin/stryker'), ['run', 'mutation.config.json', ...process.argv.slice(2)], {
  cwd: root,
  stdio: 'inherit',
});
process.exitCode = run.status ?? 1;
