import { mkdirSync } from 'node:fs';
import { createServer } from 'node:net';
import { join } from 'node:path';
import { WrongSettings, environmentOf } from '@nettlewick/server/settings';
import type { Environment } from '@nettlewick/server/settings';
import { takesNothing } from './arguments';
import { buildStudio } from './build';
import { NeedsUser } from './debian';
import { demoFile, keep, studioFolder } from './paths';
import { freePort, startCluster } from './postgres';
import type { Cluster } from './postgres';
import { noteEnded, noteRunning, whoRuns } from './running';
import { CannotServe, startServer } from './server-process';
import type { ServerProcess } from './server-process';
import { Supervised } from './supervise';

// Starts everything: the database, the server, the studio. Prints the address last.

takesNothing('start', 'Starts Nettlewick. What it is told by the environment stands in README.md.');

/** What the environment says; the address stays the same from one start to the next, for a browser keeps unsent edits by address. */
const given = readEnvironment();
const { PORT } = given;

/** What is to be stopped, in order: the server before the database. */
const parts: { stop(): Promise<void> }[] = [];
let server: Supervised<ServerProcess> | null = null;
const told = {
  say: (line: string): void => console.error(line),
  gaveUp: (why: string): void => {
    console.error(`${why} Stopping Nettlewick.`);
    void end(1);
  },
};
const ending = new AbortController();

const running = whoRuns();
if (running !== null) {
  console.error(
    `Nettlewick is running already, as process ${running.pid}${running.address === null ? ' (still starting)' : ` at ${running.address}`}.`,
  );
  process.exit(1);
}
mkdirSync(keep, { recursive: true });
noteRunning(null);
process.on('SIGINT', () => void end(0));
process.on('SIGTERM', () => void end(0));
process.on('SIGHUP', () => void end(0));

try {
  let url = given.DATABASE_URL;
  if (url === '') {
    const before: { cluster?: Cluster } = {};
    // Started again it is found where it was.
    const database = new Supervised('The database server', () => startCluster(join(keep, 'database'), before.cluster), told);
    parts.push(database);
    before.cluster = await database.begin();
    ({ url } = before.cluster);
  }
  await buildStudio(ending.signal);
  const fixed = PORT !== 0 && (await isFree(PORT)) ? PORT : await freePort();
  const entrances: string[] = [];
  server = new Supervised(
    'The server',
    async () => {
      const started = await startServer({
        DATABASE_URL: url,
        PORT: String(fixed),
        HOST: given.HOST,
        STUDIO_FOLDER: studioFolder,
        DEMO_FILE: demoFile,
        SECRET_FILE: given.SECRET_FILE === '' ? join(keep, 'secret') : given.SECRET_FILE,
        DATA_FOLDER: given.DATABASE_URL === '' ? join(keep, 'database') : '',
        LOG_LEVEL: (process.env['LOG_LEVEL'] ?? '').trim() === '' ? 'warn' : given.LOG_LEVEL,
      });
      entrances.push(started.entrance);
      noteRunning(started.address);
      return started;
    },
    told,
  );
  parts.unshift(server);
  const { address } = await server.begin();
  if (PORT !== 0 && !address.endsWith(`:${PORT}`)) console.log(`Port ${PORT} is in use; using another port.`);
  console.log(`Nettlewick is running. Ctrl-C ends it.\n${entrances[0]}`);
} catch (error) {
  if (!ending.signal.aborted) {
    const isSaid = error instanceof NeedsUser || error instanceof CannotServe;
    // What is wrong with a setting stands above, in a line of its own.
    if (!(error instanceof CannotServe && error.code === 2))
      console.error(isSaid || !(error instanceof Error) ? messageOf(error) : (error.stack ?? error.message));
    await end(error instanceof NeedsUser ? 2 : error instanceof CannotServe ? (error.code ?? 1) : 1);
  }
}

function readEnvironment(): Environment {
  try {
    return environmentOf(process.env);
  } catch (error) {
    if (!(error instanceof WrongSettings)) throw error;
    console.error(error.message);
    process.exit(2);
  }
}

function messageOf(error: unknown): string {
  return error instanceof Error ? error.message : String(error);
}

async function end(code: number): Promise<void> {
  if (ending.signal.aborted) return;
  ending.abort();
  try {
    for (const part of parts) await part.stop();
  } finally {
    noteEnded();
    process.exit(code);
  }
}

async function isFree(port: number): Promise<boolean> {
  return new Promise((resolve) => {
    const probe = createServer();
    probe.once('error', () => resolve(false));
    probe.listen(port, '127.0.0.1', () => probe.close(() => resolve(true)));
  });
}
