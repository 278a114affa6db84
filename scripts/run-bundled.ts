import { spawnSync } from 'node:child_process';
import { basename, join } from 'node:path';
import { bundle } from './bundle';

/** Runs a program of ours as one module in a process of its own, with the arguments of this one, and ends as it ends. */
export async function runBundled(workspace: string, file: string): Promise<void> {
  const module = join(await bundle(workspace, [file]), `${basename(file, '.ts')}.mjs`);
  const { status } = spawnSync(process.execPath, ['--enable-source-maps', module, ...process.argv.slice(2)], {
    stdio: 'inherit',
  });
  process.exitCode = status ?? 1;
}
