import { once } from 'node:events';
import { readFileSync } from 'node:fs';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import { pino } from 'pino';
import type { Logger } from 'pino';
import { EditingThread } from './editing/editing-thread';
import { LevelEdits } from './editing/level-edits';
import { application } from './http/application';
import { gracefulShutdown } from './http/ending';
import { DocumentReader } from './reading/document-reader';
import { Secret } from './secret';
import { isLoopback, wrongSetting } from './settings';
import type { Settings } from './settings';
import { connect } from './storage/database';
import { LevelRepository } from './storage/level-repository';
import { asStorageTrouble } from './storage/trouble';

/** How long requests under way may take once the server is told to end, in milliseconds. */
const GRACE = 5000;

/** A running server. */
export interface Serving {
  /** Where it answers; the first address carries the secret if one is asked for. */
  address: string;
  entrance: string;
  log: Logger;
  /** Lets requests under way finish, then ends. */
  close(): Promise<void>;
}

/**
 * Connects to the database, brings its schema up to date, stores the demo in an empty one, and listens. `threads`: the folder in
 * which reader.worker.ts and edits.worker.ts stand as modules that Node can run.
 */
export async function serve(settings: Settings, threads: string): Promise<Serving> {
  const log = pino({ level: settings.logLevel });
  const secret = settings.secretFile === null ? null : new Secret(settings.secretFile);
  const reader = new DocumentReader(join(threads, 'reader.worker.mjs'));
  await reader.ready();
  let source: Awaited<ReturnType<typeof connect>>;
  try {
    source = await connect(settings.databaseUrl, (first) => fill(new LevelRepository(first), reader, settings.demoFile));
  } catch (error) {
    await reader.close();
    throw isOfDatabase(error) ? wrongSetting('DATABASE_URL', settings.databaseUrl, reasonOf(error)) : error;
  }
  const thread = new EditingThread(join(threads, 'edits.worker.mjs'));
  const store = new LevelRepository(source, thread.rebuild);
  const edits = new LevelEdits(thread, store);
  const close = async (): Promise<void> => {
    await Promise.all([reader.close(), thread.close()]);
    await source.destroy();
  };
  const { host, studioFolder, dataFolder } = settings;
  const hosts = [...settings.allowedHosts, host.includes(':') ? `[${host}]` : host];
  const server = createServer(
    // A large request may wait for its turn.
    { headersTimeout: 10_000, requestTimeout: 180_000, keepAliveTimeout: 65_000 },
    application({ store, edits, reader, log, studioFolder, hosts, secret, dataFolder }),
  );
  const end = gracefulShutdown(server, GRACE);
  server.listen(settings.port, host);
  try {
    await once(server, 'listening');
  } catch (error) {
    await close();
    throw cannotListen(error as NodeJS.ErrnoException, settings);
  }
  const { port } = server.address() as AddressInfo;
  const shown = ['0.0.0.0', '::'].includes(host) ? '127.0.0.1' : host.includes(':') ? `[${host}]` : host;
  const address = `http://${shown}:${port}`;
  // A cookie knows no ports: on loopback a session has a name of its own, which no other program there is called by.
  const opened = secret !== null && isLoopback(shown) ? `http://${secret.hostName}:${port}` : address;
  return {
    address,
    entrance: secret === null ? address : `${opened}/?key=${secret.current()}`,
    log,
    close: async () => {
      await end();
      await close();
    },
  };
}

/** Stores the demo in an empty database. */
async function fill(store: LevelRepository, reader: DocumentReader, demoFile: string | null): Promise<void> {
  if (demoFile === null || !(await store.isEmpty())) return;
  const read = await reader.read('document', [new Uint8Array(readFileSync(demoFile))]);
  if (!read.ok) throw new Error(`The demo level has faults: ${JSON.stringify(read).slice(0, 500)}`);
  await store.create(read);
}

/** Whether an error comes from the database, or from the way to it. */
function isOfDatabase(error: unknown): boolean {
  return (
    error instanceof Error && (asStorageTrouble(error) !== null || /^[\dA-Z]{5}$/.test((error as { code?: string }).code ?? ''))
  );
}

/** Why a database cannot be used, in a line. */
function reasonOf(error: unknown): string {
  const { message, code, errors } = error as { message?: string; code?: string; errors?: Error[] };
  const why = message === undefined || message === '' ? (errors?.[0]?.message ?? code ?? 'unknown') : message;
  return `this database cannot be used (${why.replaceAll('\n', ' ')}). It takes the address of a PostgreSQL database that runs, or nothing for one of our own`;
}

function cannotListen(error: NodeJS.ErrnoException, { host, port }: Settings): Error {
  const { code } = error;
  if (code === 'EADDRINUSE') return wrongSetting('PORT', String(port), 'something else listens there; it takes a free port');
  if (code === 'EACCES')
    return wrongSetting('PORT', String(port), 'this user may not listen there; it takes a port from 1024 on');
  return wrongSetting(
    'HOST',
    host,
    `it is no address of this machine (${code ?? error.message}). It takes one, such as 127.0.0.1 or 0.0.0.0`,
  );
}
