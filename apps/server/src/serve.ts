import { once } from 'node:events';
import { readFileSync } from 'node:fs';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { parseLevelText } from '@nettlewick/core';
import { pino } from 'pino';
import type { Logger } from 'pino';
import { application } from './http/application';
import { connect } from './storage/database';
import { LevelStore } from './storage/level-store';

export interface Settings {
  databaseUrl: string;
  /** 0 takes any free port. */
  port: number;
  /** The folder of the built studio. */
  studioFolder: string;
  /** A level document that an empty database begins with. */
  demoFile?: string;
  logLevel?: string;
}

export interface Serving {
  /** Where the studio answers. */
  address: string;
  log: Logger;
  /** Ends it: open requests are answered, then the database is let go. */
  close(): Promise<void>;
}

/** Brings the database up to date, loads the demo into an empty one, and serves on loopback only. */
export async function serve(settings: Settings): Promise<Serving> {
  const log = pino({ level: settings.logLevel ?? 'info' });
  const source = await connect(settings.databaseUrl);
  const store = new LevelStore(source);
  const forgotten = await store.forgetDeleted(new Date());
  if (forgotten > 0) log.info({ forgotten }, 'levels deleted long ago were removed for good');
  if (settings.demoFile !== undefined && (await store.isEmpty())) {
    const parsed = parseLevelText(readFileSync(settings.demoFile, 'utf8'));
    if (!parsed.ok)
      throw new Error(`The demo level has faults: ${parsed.faults.map((fault) => `${fault.path} ${fault.message}`).join('; ')}`);
    await store.create(parsed.level);
  }
  const server = createServer(application(store, log, settings.studioFolder));
  server.listen(settings.port, '127.0.0.1');
  await once(server, 'listening');
  const { port } = server.address() as AddressInfo;
  return {
    address: `http://127.0.0.1:${port}`,
    log,
    close: async () => {
      server.close();
      server.closeIdleConnections();
      const impatience = setTimeout(() => server.closeAllConnections(), 1500);
      await once(server, 'close');
      clearTimeout(impatience);
      await source.destroy();
    },
  };
}
