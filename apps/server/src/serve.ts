import { randomBytes } from 'node:crypto';
import { once } from 'node:events';
import { chmodSync, existsSync, readFileSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { pino } from 'pino';
import type { Logger } from 'pino';
import { application } from './http/application';
import { orderlyEnd } from './http/ending';
import { DocumentReader } from './reading/document-reader';
import type { Settings } from './settings';
import { connect } from './storage/database';
import { LevelStore } from './storage/level-store';

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
 * Connects to the database, brings its schema up to date, stores the demo in an empty one, and listens. `readerFile`: of
 * reader.worker.ts, as a module that Node can run.
 */
export async function serve(settings: Settings, readerFile: string): Promise<Serving> {
  const log = pino({ level: settings.logLevel });
  const secret = settings.secretFile === null ? null : { value: secretOf(settings.secretFile), file: settings.secretFile };
  const source = await connect(settings.databaseUrl);
  const store = new LevelStore(source);
  const reader = new DocumentReader(readerFile);
  await reader.ready();
  if (settings.demoFile !== null && (await store.isEmpty())) {
    const read = await reader.read('document', [new Uint8Array(readFileSync(settings.demoFile))]);
    if (!read.ok) throw new Error(`The demo level has faults: ${JSON.stringify(read).slice(0, 500)}`);
    await store.create(read);
  }
  const { host, studioFolder, dataFolder } = settings;
  const hosts = [...settings.allowedHosts, host.includes(':') ? `[${host}]` : host];
  const server = createServer(
    { headersTimeout: 10_000, requestTimeout: 60_000, keepAliveTimeout: 65_000 },
    application({ store, reader, log, studioFolder, hosts, secret, dataFolder }),
  );
  const end = orderlyEnd(server, GRACE);
  server.listen(settings.port, host);
  await once(server, 'listening');
  const { port } = server.address() as AddressInfo;
  const shown = ['0.0.0.0', '::'].includes(host) ? '127.0.0.1' : host.includes(':') ? `[${host}]` : host;
  const address = `http://${shown}:${port}`;
  return {
    address,
    entrance: secret === null ? address : `${address}/?key=${secret.value}`,
    log,
    close: async () => {
      await end();
      await reader.close();
      await source.destroy();
    },
  };
}

/** The secret of this installation, made when it is first asked for. Only its owner can read the file. */
function secretOf(file: string): string {
  if (existsSync(file)) {
    chmodSync(file, 0o600);
    const kept = readFileSync(file, 'utf8').trim();
    if (/^[\w-]{32,}$/.test(kept)) return kept;
    throw new Error(
      `${file} does not hold a secret: 32 or more letters, digits, hyphens and underscores. Delete it to have one made`,
    );
  }
  const made = randomBytes(32).toString('base64url');
  writeFileSync(file, made + '\n', { mode: 0o600, flag: 'wx' });
  return made;
}
