import { readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { keep } from './paths';

/** The studio that runs here, if one does: its process, and its address once it has one. */
interface Running {
  pid: number;
  address: string | null;
}

const noted = join(keep, 'running.json');

/** Notes that this process runs the studio. The note is never half there, whenever it is read and whoever dies. */
export function noteRunning(address: string | null): void {
  const making = `${noted}.${process.pid}`;
  writeFileSync(making, JSON.stringify({ pid: process.pid, address }), { mode: 0o600 });
  renameSync(making, noted);
}

export function noteEnded(): void {
  rmSync(noted, { force: true });
}

/** Which studio runs here; null for none, or for a note that one has left behind when it was killed. */
export function whoRuns(): Running | null {
  try {
    const held = JSON.parse(readFileSync(noted, 'utf8')) as Running;
    return readFileSync(`/proc/${held.pid}/cmdline`, 'utf8').includes('bootstrap.mjs') ? held : null;
  } catch {
    return null;
  }
}
