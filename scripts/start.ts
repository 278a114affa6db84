import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { join } from 'node:path';
import { buildStudio } from './build';
import { NeedsUser } from './debian';
import { demoFile, keep, studioFolder } from './paths';
import { startCluster } from './postgres';
import type { Cluster } from './postgres';
import { startServer } from './server-process';
import type { ServerProcess } from './server-process';

// Starts everything: the database, the server, the studio. Prints the address last.

/** The address stays the same from one start to the next, for a browser keeps unsent edits by address. */
const PORT = Number(process.env['PORT'] ?? '4780');
const lockFile = join(keep, 'running.json');

let cluster: Promise<Cluster> | null = null;
let server: Promise<ServerProcess> | null = null;
const ending = new AbortController();

const running = whoRuns();
if (running !== null) {
  console.error(
    `Nettlewick is running already, as process ${running.pid}${running.address === null ? ' (still starting)' : ` at ${running.address}`}.`,
  );
  process.exit(1);
}
mkdirSync(keep, { recursive: true });
writeFileSync(lockFile, JSON.stringify({ pid: process.pid, address: null }));
process.on('SIGINT', () => void end(0));
process.on('SIGTERM', () => void end(0));
process.on('SIGHUP', () => void end(0));

try {
  const given = process.env['DATABASE_URL'];
  if (given === undefined || given === '') {
    cluster = startCluster(join(keep, 'database'));
    void (await cluster).ended.then(() => stopped('The database server'));
  }
  await buildStudio(ending.signal);
  server = startServer({
    DATABASE_URL: (await cluster)?.url ?? given!,
    PORT: String((await isFree(PORT)) ? PORT : 0),
    STUDIO_FOLDER: studioFolder,
    DEMO_FILE: demoFile,
    LOG_LEVEL: process.env['LOG_LEVEL'] ?? 'warn',
  });
  const { address, ended } = await server;
  void ended.then(() => stopped('The server'));
  writeFileSync(lockFile, JSON.stringify({ pid: process.pid, address }));
  if (!address.endsWith(`:${PORT}`))
    console.log(`Port ${PORT} is taken by something else, so this is another address than usual.`);
  console.log(`Nettlewick is running. Ctrl-C ends it.\n${address}`);
} catch (error) {
  if (!ending.signal.aborted) {
    console.error(error instanceof NeedsUser ? error.message : error instanceof Error ? (error.stack ?? error.message) : error);
    await end(error instanceof NeedsUser ? 2 : 1);
  }
}

async function end(code: number): Promise<void> {
  if (ending.signal.aborted) return;
  ending.abort();
  try {
    await (await server?.catch(() => null))?.stop();
    await (await cluster?.catch(() => null))?.stop();
  } finally {
    rmSync(lockFile, { force: true });
    process.exit(code);
  }
}

function stopped(what: string): void {
  if (ending.signal.aborted) return;
  console.error(`${what} ended unexpectedly.`);
  void end(1);
}

/** Who holds the lock, if that process is alive and is one of ours. */
function whoRuns(): { pid: number; address: string | null } | null {
  if (!existsSync(lockFile)) return null;
  try {
    const held = JSON.parse(readFileSync(lockFile, 'utf8')) as { pid: number; address: string | null };
    const command = readFileSync(`/proc/${held.pid}/cmdline`, 'utf8');
    return command.includes('bootstrap.mjs') ? held : null;
  } catch {
    return null;
  }
}

async function isFree(port: number): Promise<boolean> {
  return new Promise((resolve) => {
    const probe = createServer();
    probe.once('error', () => resolve(false));
    probe.listen(port, '127.0.0.1', () => probe.close(() => resolve(true)));
  });
}
