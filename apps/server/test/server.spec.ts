import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { PROBLEM_TYPE, storedLevel } from '@nettlewick/contract';
import { openApi } from '@nettlewick/contract/openapi';
import { emptyLevel, parseLevelText } from '@nettlewick/core';
import type { Level } from '@nettlewick/core';
import pg from 'pg';
import { pino } from 'pino';
import request from 'supertest';
import type { DataSource } from 'typeorm';
import { application } from '../src/http/application';
import { connect } from '../src/storage/database';
import { LevelStore } from '../src/storage/level-store';

/** A database of its own within the server that the test command starts. */
const given = process.env['TEST_DATABASE_URL'];
if (given === undefined) throw new Error('TEST_DATABASE_URL has to name a PostgreSQL server; npm test starts one.');
const name = `server_spec_${process.pid}`;
const url = given.replace(/\/[^/]*$/, `/${name}`);
const root = join(__dirname, '../../..');
const parsed = parseLevelText(readFileSync(join(root, 'demo/nettlewick.level.json'), 'utf8'));
if (!parsed.ok) throw new Error('The demo has faults');
const demo = parsed.level;

async function asAdmin(sql: string): Promise<void> {
  const client = new pg.Client({ connectionString: given });
  await client.connect();
  await client.query(sql);
  await client.end();
}

let source: DataSource;
let store: LevelStore;
let api: ReturnType<typeof request>;

beforeAll(async () => {
  await asAdmin(`CREATE DATABASE ${name}`);
  source = await connect(url);
  store = new LevelStore(source);
  api = request(application(store, pino({ level: 'silent' }), join(root, 'apps/web/public')));
});

afterAll(async () => {
  if (source.isInitialized) await source.destroy();
  await asAdmin(`DROP DATABASE ${name} WITH (FORCE)`);
});

async function created(level: Level = demo): Promise<string> {
  const reply = await api.post('/api/levels').send({ level });
  expect(reply.status).toBe(201);
  return (reply.body as { id: string }).id;
}

const renamed = (to: string): Level => ({ ...demo, name: to });

it('runs its migrations once, and again changes nothing', async () => {
  const again = await connect(url);
  expect(await again.query('SELECT name FROM migrations')).toHaveLength(1);
  await again.destroy();
});

it('stores a level and gives back the very document', async () => {
  const id = await created();
  const reply = await api.get(`/api/levels/${id}`);
  expect(reply.headers['etag']).toBe('"1"');
  expect(storedLevel.parse(reply.body).level).toEqual(demo);
  expect(JSON.stringify((reply.body as { level: Level }).level)).toBe(JSON.stringify(demo));
  expect((await api.get(`/api/levels/${id}`).set('if-none-match', '"1"')).status).toBe(304);
});

it('begins a level from a name alone', async () => {
  const reply = await api.post('/api/levels').send({ name: 'Eel weir' });
  expect(reply.headers['location']).toBe(`/api/levels/${(reply.body as { id: string }).id}`);
  const { level } = storedLevel.parse((await api.get(String(reply.headers['location']))).body);
  expect(level).toEqual(emptyLevel('Eel weir'));
});

describe('Saving', () => {
  it('makes a new revision of the one that was changed', async () => {
    const id = await created();
    const reply = await api.put(`/api/levels/${id}`).set('if-match', '"1"').send(renamed('Weir'));
    expect([reply.status, reply.headers['etag']]).toEqual([200, '"2"']);
    const listed = (await api.get('/api/levels')).body as { levels: { id: string; name: string; revision: number }[] };
    expect(listed.levels.find((level) => level.id === id)).toMatchObject({ name: 'Weir', revision: 2 });
  });

  it('refuses a stale revision with the number of the newest, and changes nothing', async () => {
    const id = await created();
    await api.put(`/api/levels/${id}`).set('if-match', '"1"').send(renamed('First'));
    const reply = await api.put(`/api/levels/${id}`).set('if-match', '"1"').send(renamed('Second'));
    expect(reply.status).toBe(412);
    expect(reply.headers['content-type']).toContain(PROBLEM_TYPE);
    expect(reply.body).toMatchObject({
      type: 'urn:nettlewick:problem:stale-revision',
      status: 412,
      currentRevision: 2,
      instance: `/api/levels/${id}`,
    });
    expect(((await api.get(`/api/levels/${id}`)).body as { level: Level }).level.name).toBe('First');
  });

  it('asks for the revision when none is named', async () => {
    const id = await created();
    expect((await api.put(`/api/levels/${id}`).send(demo)).status).toBe(428);
    expect((await api.patch(`/api/levels/${id}`).send({ name: 'x' })).status).toBe(428);
  });

  it('takes one of two saves at the same moment', async () => {
    const id = await created();
    const replies = await Promise.all(
      [1, 2, 3, 4].map((n) =>
        api
          .put(`/api/levels/${id}`)
          .set('if-match', '"1"')
          .send(renamed(`Weir ${n}`)),
      ),
    );
    expect(replies.map((reply) => reply.status).sort()).toEqual([200, 412, 412, 412]);
  });

  it('renames as a revision of its own', async () => {
    const id = await created();
    expect((await api.patch(`/api/levels/${id}`).set('if-match', '"1"').send({ name: 'Weir' })).status).toBe(200);
    expect(((await api.get(`/api/levels/${id}`)).body as { level: Level }).level).toEqual(renamed('Weir'));
    expect((await api.patch(`/api/levels/${id}`).set('if-match', '"2"').send({ name: ' ' })).body).toMatchObject({
      status: 422,
      errors: [{ pointer: '/name' }],
    });
  });

  it('points at each faulty field of a document', async () => {
    const id = await created();
    const faulty = { ...demo, zones: [{ ...demo.zones[0], heading: 'north', colour: 'red' }] };
    const reply = await api.put(`/api/levels/${id}`).set('if-match', '"1"').send(faulty);
    expect(reply.status).toBe(422);
    expect((reply.body as { errors: { pointer: string }[] }).errors.map((error) => error.pointer)).toEqual([
      '/zones/0/heading',
      '/zones/0/colour',
    ]);
    const inside = await api.post('/api/levels').send({ level: faulty });
    expect((inside.body as { errors: { pointer: string }[] }).errors[0]!.pointer).toBe('/level/zones/0/heading');
  });
});

it('keeps every revision, newest first, and opens each', async () => {
  const id = await created();
  await api.put(`/api/levels/${id}`).set('if-match', '"1"').send(renamed('Weir'));
  const listed = (await api.get(`/api/levels/${id}/revisions`)).body as { revisions: { number: number; bytes: number }[] };
  expect(listed.revisions.map((one) => one.number)).toEqual([2, 1]);
  expect(listed.revisions[0]!.bytes).toBe(JSON.stringify(renamed('Weir')).length);
  expect(((await api.get(`/api/levels/${id}/revisions/1`)).body as { level: Level }).level.name).toBe(demo.name);
  expect((await api.get(`/api/levels/${id}/revisions/3`)).status).toBe(404);
  expect((await api.get(`/api/levels/${id}/revisions/one`)).status).toBe(404);
});

it('deletes so that it can be recovered, for thirty days', async () => {
  const id = await created(renamed('Lost'));
  expect((await api.delete(`/api/levels/${id}`)).status).toBe(204);
  expect((await api.get(`/api/levels/${id}`)).status).toBe(404);
  expect((await api.put(`/api/levels/${id}`).set('if-match', '*').send(demo)).status).toBe(404);
  const deleted = (await api.get('/api/levels?deleted=true')).body as { levels: { id: string; deletedAt: string }[] };
  expect(deleted.levels.find((level) => level.id === id)?.deletedAt).toBeTruthy();
  expect((await api.post(`/api/levels/${id}/restore`)).status).toBe(200);
  expect((await api.get(`/api/levels/${id}`)).status).toBe(200);
  await api.delete(`/api/levels/${id}`);
  expect(await store.forgetDeleted(new Date(Date.now() + 29 * 86_400_000))).toBe(0);
  expect(await store.forgetDeleted(new Date(Date.now() + 31 * 86_400_000))).toBeGreaterThan(0);
  expect((await api.post(`/api/levels/${id}/restore`)).status).toBe(404);
});

describe('Requests that cannot be answered', () => {
  it.each([
    ['not JSON', 400, 'not-json', () => api.post('/api/levels').set('content-type', 'application/json').send('{"name"')],
    [
      'another media type',
      415,
      'wrong-media-type',
      () => api.post('/api/levels').set('content-type', 'text/plain').send('hello'),
    ],
    ['neither a name nor a document', 422, 'invalid-document', () => api.post('/api/levels').send({ title: 'x' })],
    ['a field too many', 422, 'invalid-document', () => api.post('/api/levels').send({ level: demo, owner: 'x' })],
    ['null', 422, 'invalid-document', () => api.post('/api/levels').send('null').set('content-type', 'application/json')],
    ['too much', 413, 'too-large', () => api.post('/api/levels').send({ name: 'x'.repeat(17 * 1024 * 1024) })],
    ['a level that is not there', 404, 'not-found', () => api.get('/api/levels/00000000-0000-4000-8000-000000000000')],
    ['an id that is none', 404, 'not-found', () => api.get('/api/levels/demo')],
    ['an address that is none', 404, 'not-found', () => api.get('/api/nothing.here')],
    ['another method', 405, 'method-not-allowed', () => api.put('/api/levels').send({})],
    ['a filter that is none', 400, 'bad-request', () => api.get('/api/levels?deleted=maybe')],
  ])('%s', async (_what, status, kind, ask) => {
    const reply = await ask();
    expect(reply.status).toBe(status);
    expect(reply.headers['content-type']).toContain(PROBLEM_TYPE);
    expect(reply.body).toMatchObject({ status, type: `urn:nettlewick:problem:${kind}`, title: expect.any(String) });
  });

  it('takes a document just under the limit', async () => {
    const long = {
      ...demo,
      fixtures: Array.from({ length: 20_000 }, (_, i) => ({
        ...demo.fixtures[3],
        id: `board-${i}`,
        name: `Board ${i}`,
        text: 'x'.repeat(500),
      })),
    };
    expect(JSON.stringify({ level: long }).length).toBeGreaterThan(12 * 1024 * 1024);
    expect((await api.post('/api/levels').send({ level: long })).status).toBe(201);
  });
});

it('describes itself as OpenAPI 3.1, and the copy in docs is current', async () => {
  const reply = await api.get('/api/openapi.json');
  expect(reply.body).toMatchObject({ openapi: '3.1.0' });
  const paths = Object.keys((reply.body as { paths: object }).paths);
  expect(paths).toEqual(
    expect.arrayContaining(['/api/levels', '/api/levels/{id}', '/api/levels/{id}/revisions/{number}', '/healthz']),
  );
  expect(JSON.parse(readFileSync(join(root, 'docs/openapi.json'), 'utf8'))).toEqual(JSON.parse(JSON.stringify(openApi())));
});

it('sends a content security policy without inline scripts, and a new style nonce for every page', async () => {
  const policies = await Promise.all([api.get('/healthz'), api.get('/healthz')]).then((replies) =>
    replies.map((reply) => String(reply.headers['content-security-policy'])),
  );
  expect(policies[0]).toContain("script-src 'self';");
  expect(policies[0]).not.toContain('unsafe');
  expect(policies[0]).not.toBe(policies[1]);
});

it('says whether the database answers', async () => {
  expect((await api.get('/healthz')).body).toEqual({ status: 'ok' });
  const gone = await connect(url);
  const deaf = request(application(new LevelStore(gone), pino({ level: 'silent' }), '/nowhere'));
  await gone.destroy();
  const reply = await deaf.get('/healthz');
  expect([reply.status, reply.body]).toEqual([503, { status: 'database does not answer' }]);
});
