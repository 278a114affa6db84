import { spawnSync } from 'node:child_process';
import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { script } from './arguments';
import { keep, root } from './paths';

// Tests the tests of the core: changes the kernel and the document in thousands of small ways, one at a time, and sees whether a
// test notices. `npm run mutate -- --mutate packages/core/src/kernel/queue/*.ts` changes a part. All of it takes two hours.
const { mutate, concurrency } = script(
  'mutate',
  'Changes the core in thousands of small ways, one at a time, and sees whether a test notices.',
)
  .option('--mutate <files>', 'only these files: patterns with commas between')
  .option('--concurrency <number>', 'how many at once')
  .parse()
  .opts<{ mutate?: string; concurrency?: string }>();
const wanted = [
  ...(mutate === undefined ? [] : ['--mutate', mutate]),
  ...(concurrency === undefined ? [] : ['--concurrency', concurrency]),
];
const opinion = join(keep, 'second-opinion.json');
rmSync(opinion, { force: true });
const run = spawnSync(join(root, 'node_modules/.bin/stryker'), ['run', 'mutation.config.json', ...wanted], {
  cwd: root,
  stdio: 'inherit',
  // Few of each property: a mutant is tested many thousand times over.
  env: { ...process.env, SECOND_OPINION: opinion, PROPERTY_RUNS: '4' },
});
process.exitCode = run.status ?? 1;
