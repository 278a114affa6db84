import { spawn } from 'node:child_process';
import { existsSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { Argument } from 'commander';
import { script } from './arguments';
import { buildStudio } from './build';
import { NeedsUser, installDebian } from './debian';
import { keep, root } from './paths';
import { withScratchCluster } from './postgres';

// Everything that has to hold: formatting, lint and arrows, types, unit tests, and the interface in a browser. Uses a
// database and ports of its own, and leaves nothing running. `npm test -- unit` (or browser, or checks) runs a part.

interface Outcome {
  suite: string;
  passed: number;
  failed: number;
  skipped: number;
}

const [parts = []] = script('test', 'Checks and tests everything, or the parts that are named.')
  .addArgument(new Argument('[parts...]', 'some of the three').choices(['checks', 'unit', 'browser']))
  .parse().processedArgs as [string[]?];
const wants = (part: string): boolean => parts.length === 0 || parts.includes(part);
const outcomes: Outcome[] = [];

try {
  // What is fetched takes no part of the machine: the checks run meanwhile.
  const chromium = wants('browser') && !existsSync('/usr/bin/chromium') ? installChromium() : Promise.resolve();
  chromium.catch(() => undefined);
  if (wants('checks')) {
    await checks([
      ['lint', tool('eslint', '--max-warnings', '0', '.')],
      ['types', tool('tsc', '--noEmit', '-p', 'tsconfig.json')],
      // The builder checks the types of the studio, too.
      wants('browser')
        ? ['building the studio', built]
        : ['types of the studio', tool('ngc', '--noEmit', '-p', 'apps/web/tsconfig.app.json')],
      ['formatting', tool('prettier', '--check', '--log-level', 'warn', '.')],
      ['types of the tests of the studio', tool('tsc', '--noEmit', '-p', 'apps/web/tsconfig.spec.json')],
      ['arrows', tool('depcruise', '--config', 'dependency-cruiser.config.mjs', '--output-type', 'err', 'packages', 'apps')],
      ['what is unused', tool('knip', '--no-progress')],
    ]);
  }
  if (wants('unit') || wants('browser')) {
    await withScratchCluster(keep, async (url) => {
      process.env['TEST_DATABASE_URL'] = url;
      if (wants('unit')) await jest('unit tests', 'jest.config.mjs', '--maxWorkers=100%');
      if (!wants('browser')) return;
      await chromium;
      await buildStudio();
      await jest('browser tests', 'e2e/jest.config.mjs', '--maxWorkers=2');
    });
  }
} catch (error) {
  console.error(error instanceof NeedsUser ? error.message : error);
  outcomes.push({ suite: 'preparation', passed: 0, failed: 1, skipped: 0 });
}

const sum = (of: 'passed' | 'failed' | 'skipped'): number => outcomes.reduce((total, outcome) => total + outcome[of], 0);
console.log('');
for (const { suite, passed, failed, skipped } of outcomes)
  console.log(`  ${suite}: ${passed} passed, ${failed} failed${skipped > 0 ? `, ${skipped} skipped` : ''}`);
console.log(`${sum('passed')} passed, ${sum('failed')} failed${sum('skipped') > 0 ? `, ${sum('skipped')} skipped` : ''}`);
process.exitCode = sum('failed') > 0 || sum('passed') === 0 ? 1 : 0;

/** A check that passes or fails as a whole: its name, and what it runs. */
type Check = [suite: string, isGood: () => Promise<boolean>];

/** Runs checks, two at a time. */
async function checks(wanted: Check[]): Promise<void> {
  const found = new Map<string, boolean>();
  const left = [...wanted];
  const lane = async (): Promise<void> => {
    for (let next = left.shift(); next !== undefined; next = left.shift()) {
      const [suite, isGood] = next;
      found.set(suite, await isGood());
    }
  };
  await Promise.all([lane(), lane()]);
  for (const [suite] of wanted) {
    const isGood = found.get(suite) === true;
    outcomes.push({ suite, passed: isGood ? 1 : 0, failed: isGood ? 0 : 1, skipped: 0 });
  }
}

/** A program of the packages, which is content if it ends with 0. */
function tool(name: string, ...args: string[]): () => Promise<boolean> {
  return async () => (await run(join(root, 'node_modules/.bin', name), args)) === 0;
}

async function built(): Promise<boolean> {
  try {
    await buildStudio();
    return true;
  } catch (error) {
    console.error(error instanceof Error ? error.message : error);
    return false;
  }
}

function installChromium(): Promise<void> {
  return installDebian('chromium', 'Chromium is not on this machine; it drives the interface in the tests.');
}

/** Jest counts its tests itself; a suite that cannot even begin counts as one that failed. */
async function jest(suite: string, config: string, ...args: string[]): Promise<void> {
  const report = join(keep, `report-${process.pid}.json`);
  await run(process.execPath, [
    join(root, 'node_modules/jest/bin/jest.js'),
    '--config',
    config,
    '--json',
    '--outputFile',
    report,
    ...args,
  ]);
  if (!existsSync(report)) {
    outcomes.push({ suite, passed: 0, failed: 1, skipped: 0 });
    return;
  }
  const counts = JSON.parse(readFileSync(report, 'utf8')) as {
    numPassedTests: number;
    numFailedTests: number;
    numPendingTests: number;
    numTodoTests: number;
    numRuntimeErrorTestSuites: number;
  };
  rmSync(report);
  outcomes.push({
    suite,
    passed: counts.numPassedTests,
    failed: counts.numFailedTests + counts.numRuntimeErrorTestSuites,
    skipped: counts.numPendingTests + counts.numTodoTests,
  });
}

function run(program: string, args: string[]): Promise<number> {
  return new Promise((resolve) => {
    // What a program prints goes to standard error, so that the last line of standard output is ours.
    const child = spawn(program, args, {
      cwd: root,
      stdio: ['ignore', args.includes('--json') ? 'ignore' : 2, 2],
      env: { ...process.env, FORCE_COLOR: '0' },
    });
    child.once('exit', (code) => resolve(code ?? 1));
    child.once('error', (error) => {
      console.error(`${program} could not be run: ${error.message}`);
      resolve(1);
    });
  });
}
