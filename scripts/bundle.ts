import { build } from 'esbuild';
import type { Plugin } from 'esbuild';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { basename, join } from 'node:path';
import { root } from './paths';

/** For how long a bundle stays that nobody has made again, in milliseconds: what runs from it may still start a thread. */
const STAYS = 7 * 24 * 3600 * 1000;

/** Packages of others are loaded when the module runs; ours become a part of it. */
const othersStay: Plugin = {
  name: 'others stay',
  setup: ({ onResolve }) =>
    onResolve({ filter: /^[^./]/ }, ({ path, kind }) =>
      kind === 'entry-point' || path.startsWith('@nettlewick/') ? undefined : { path, external: true },
    ),
};

/**
 * Makes one plain module of each TypeScript file of a workspace, with everything of ours that it needs, and gives the folder they
 * stand in: `main.ts` becomes `main.mjs`. It loads at once and runs as fast as the studio's code. Packages are found from there,
 * for a workspace may have its own.
 */
export async function bundle(workspace: string, files: string[]): Promise<string> {
  const { outputFiles } = await build({
    absWorkingDir: root,
    entryPoints: files.map((file) => ({ in: `${workspace}/${file}`, out: basename(file, '.ts') })),
    outdir: 'built',
    write: false,
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    outExtension: { '.js': '.mjs' },
    plugins: [othersStay],
    sourcemap: 'inline',
    sourcesContent: false,
  });
  const hash = createHash('sha256');
  for (const { contents } of outputFiles) hash.update(contents);
  const all = join(root, workspace, 'dist');
  const folder = join(all, hash.digest('hex').slice(0, 16));
  if (existsSync(folder)) return folder;
  const making = `${folder}.${process.pid}`;
  mkdirSync(making, { recursive: true });
  for (const { path, contents } of outputFiles) writeFileSync(join(making, basename(path)), contents);
  try {
    renameSync(making, folder);
  } catch (error) {
    // Somebody else has made the same meanwhile.
    rmSync(making, { recursive: true, force: true });
    if (!existsSync(folder)) throw error;
  }
  for (const other of readdirSync(all)) {
    const old = join(all, other);
    if (Date.now() - statSync(old).mtimeMs > STAYS) rmSync(old, { recursive: true, force: true });
  }
  return folder;
}
