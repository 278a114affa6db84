import { execFile } from 'node:child_process';
import { createHash } from 'node:crypto';
import { cpSync, existsSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { brotliCompressSync, constants } from 'node:zlib';
import { root, studioFolder, studioStamp } from './paths';

const sources = [
  'apps/web',
  'packages/core/src',
  'packages/contract/src',
  'demo',
  'scripts/build.ts',
  'package-lock.json',
  'tsconfig.base.json',
];
const skipped = new Set(['node_modules', 'dist', '.angular', 'worked-examples']);
const workedExamples = join(root, 'apps/web/public/worked-examples');

/** Builds the studio if what it is made from has changed since. Throws with the builder's words if it fails. */
export async function buildStudio(signal?: AbortSignal): Promise<void> {
  const wanted = fingerprint();
  if (existsSync(join(studioFolder, 'index.html')) && existsSync(studioStamp) && readFileSync(studioStamp, 'utf8') === wanted)
    return;
  console.error('Building the studio…');
  // The worked examples come with the studio, and are kept with the demo.
  rmSync(workedExamples, { recursive: true, force: true });
  cpSync(join(root, 'demo/examples'), workedExamples, { recursive: true });
  cpSync(join(root, 'demo/examples.json'), join(workedExamples, 'examples.json'));
  try {
    await promisify(execFile)(process.execPath, [join(root, 'node_modules/@angular/cli/bin/ng.js'), 'build', '--stats-json'], {
      cwd: join(root, 'apps/web'),
      env: { ...process.env, NG_CLI_ANALYTICS: 'false' },
      maxBuffer: 1 << 26,
      signal,
    });
  } catch (error) {
    const { stdout = '', stderr = '' } = error as { stdout?: string; stderr?: string };
    throw new Error(`The studio could not be built:\n${stdout}${stderr}`, { cause: error });
  }
  noteAhead();
  compress();
  writeFileSync(studioStamp, wanted);
}

/** Compresses scripts and styles once, in place of at every request. */
function compress(): void {
  for (const name of readdirSync(studioFolder)) {
    if (!/\.(?:js|css)$/.test(name)) continue;
    const path = join(studioFolder, name);
    const params = { [constants.BROTLI_PARAM_QUALITY]: 9 };
    writeFileSync(`${path}.br`, brotliCompressSync(readFileSync(path), { params }));
  }
}

/** What esbuild tells of its outputs, as far as it is asked. */
interface Stats {
  outputs: Record<string, { entryPoint?: string; imports: { path: string; kind: string }[] }>;
}

/** Writes down which scripts whoever opens a level needs beside those of the page, so that the server can name them in it. */
function noteAhead(): void {
  const stats = join(studioFolder, '..', 'stats.json');
  const { outputs } = JSON.parse(readFileSync(stats, 'utf8')) as Stats;
  const html = readFileSync(join(studioFolder, 'index.html'), 'utf8');
  const needed = new Set<string>();
  const need = (path: string): void => {
    if (needed.has(path) || html.includes(path)) return;
    needed.add(path);
    for (const { path: other, kind } of outputs[path]?.imports ?? []) if (kind === 'import-statement') need(other);
  };
  const studio = Object.entries(outputs).find(([, { entryPoint }]) => entryPoint?.endsWith('page/studio-page.ts') === true);
  if (studio !== undefined) need(studio[0]);
  writeFileSync(join(studioFolder, '..', 'ahead.json'), JSON.stringify([...needed]));
  rmSync(stats);
}

/** A hash over the contents of everything the studio is made from. */
function fingerprint(): string {
  const hash = createHash('sha256');
  const add = (path: string): void => {
    hash.update(path.slice(root.length)).update('\0').update(readFileSync(path)).update('\0');
  };
  const walk = (folder: string): void => {
    for (const entry of readdirSync(folder, { withFileTypes: true }).sort((a, b) => (a.name < b.name ? -1 : 1))) {
      if (skipped.has(entry.name) || entry.name.endsWith('.spec.ts')) continue;
      const path = join(folder, entry.name);
      if (entry.isDirectory()) walk(path);
      else add(path);
    }
  };
  for (const source of sources) {
    const path = join(root, source);
    if (source.includes('.')) add(path);
    else walk(path);
  }
  return hash.digest('hex');
}
