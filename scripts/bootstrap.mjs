// Brings the npm packages up to date, then hands over to one of the project's scripts, which are TypeScript. This file
// is plain JavaScript because it has to run before anything is installed.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
process.chdir(root);
const stamp = join(root, 'node_modules', '.nettlewick-installed');
const [major = 0, minor = 0] = process.versions.node.split('.').map(Number);
if (major < 20 || (major === 20 && minor < 19)) {
  console.error(`Nettlewick needs Node 20.19 or newer; this is ${process.versions.node}.`);
  process.exit(2);
}

const wanted = createHash('sha256')
  .update(readFileSync(join(root, 'package-lock.json')))
  .update(process.versions.modules)
  .digest('hex');
if (!existsSync(stamp) || readFileSync(stamp, 'utf8') !== wanted) {
  console.error('Installing the npm packages…');
  // A fetch that hangs is ended and tried again.
  let code = 1;
  for (let tries = 0; tries < 3 && code !== 0; tries++) {
    const run = spawnSync('npm', ['ci', '--include=dev', '--no-audit', '--no-fund', '--loglevel=error'], {
      cwd: root,
      stdio: ['ignore', 2, 2],
      timeout: 240_000,
    });
    code = run.status ?? 1;
    // What fails at once fails again; only a fetch may do better.
    if (run.status === 1 && tries === 1) break;
  }
  if (code !== 0) {
    console.error('The npm packages could not be installed. Run: npm ci');
    process.exit(2);
  }
  writeFileSync(stamp, wanted);
}

const [task = 'start', ...rest] = process.argv.slice(2);
const scripts = {
  start: 'start.ts',
  test: 'test.ts',
  generate: 'generate.ts',
  screenshots: '../e2e/screenshots.ts',
};
const script = join(root, 'scripts', scripts[task] ?? `${task}.ts`);
process.argv = [process.argv[0], script, ...rest];
const { register } = await import('tsx/esm/api');
register();
await import(script);
