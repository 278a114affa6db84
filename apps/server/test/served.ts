import { createHash, randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { parseLevelText } from '@nettlewick/core';
import type { Level } from '@nettlewick/core';
import pg from 'pg';
import { pino } from 'pino';
import request from 'supertest';
import type { DataSource } from 'typeorm';
import { bundle } from '../../../scripts/bundle';
import { EditingThread } from '../src/editing/editing-thread';
import { LevelEdits } from '../src/editing/level-edits';
import { application } from '../src/http/application';
import type { Parts } from '../src/http/application';
import { DocumentReader } from '../src/reading/document-reader';
import { connect } from '../src/storage/database';
import { LevelRepository } from '../src/storage/level-repository';

/** The server of a file of tests, on a database of its own within the server that the test command starts. */
const given = process.env['TEST_DATABASE_URL'];
if (given === undefined) throw new Error('TEST_DATABASE_URL has to name a PostgreSQL server; npm test starts one.');
export const name = `spec_${process.pid}_${randomUUID().slice(0, 8)}`;
export const url = given.replace(/\/[^/]*$/, `/${name}`);
export const root = join(__dirname, '../../..');
const parsed = parseLevelText(readFileSync(join(root, 'demo/nettlewick.level.json'), 'utf8'));
if (!parsed.ok) throw new Error('The demo has faults');
export const demo = parsed.level;

export async function asAdmin(sql: string): Promise<void> {
  const client = new pg.Client({ connectionString: given });
  await client.connect();
  await client.query(sql);
  await client.end();
}

let reader: DocumentReader;
export let source: DataSource;
export let store: LevelRepository;
let thread: EditingThread;
let edits: LevelEdits;
export let api: ReturnType<typeof request>;

beforeAll(async () => {
  await asAdmin(`CREATE DATABASE ${name}`);
  source = await connect(url);
  const threads = await bundle('apps/server', ['src/reading/reader.worker.ts', 'src/editing/edits.worker.ts']);
  thread = new EditingThread(join(threads, 'edits.worker.mjs'));
  store = new LevelRepository(source, thread.rebuild);
  edits = new LevelEdits(thread, store);
  reader = new DocumentReader(join(threads, 'reader.worker.mjs'));
  api = request(serverOf({}));
});

afterAll(async () => {
  await Promise.all([reader.close(), thread.close()]);
  if (source.isInitialized) await source.destroy();
  await asAdmin(`DROP DATABASE ${name} WITH (FORCE)`);
});

/** The application with other parts than usual. */
export function serverOf(parts: Partial<Parts>): ReturnType<typeof application> {
  return application({
    store,
    edits,
    reader,
    log: pino({ level: 'silent' }),
    studioFolder: join(root, 'apps/web/public'),
    ...parts,
  });
}

export async function created(level: Level = demo): Promise<string> {
  const reply = await api.post('/api/levels').send({ level });
  expect(reply.status).toBe(201);
  return (reply.body as { id: string }).id;
}

export const renamed = (to: string): Level => ({ ...demo, name: to });

/** The ETag of a revision of a level. */
export const tagOf = (number: number, level: Level = demo): string =>
  `"${number}-${createHash('sha512-256').update(JSON.stringify(level)).digest('hex').slice(0, 24)}"`;
