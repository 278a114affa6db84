import { asStorageTrouble } from '../src/storage/trouble';
import { createHash, randomUUID } from 'node:crypto';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { connect as connectTo } from 'node:net';
import type { Socket } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { PROBLEM_TYPE, storedLevel } from '@nettlewick/contract';
import { openApi } from '@nettlewick/contract/openapi';
import { emptyLevel } from '@nettlewick/core';
import type { Level } from '@nettlewick/core';
import pg from 'pg';
import { pino } from 'pino';
import { EventEmitter } from 'node:events';
import { PassThrough, Readable } from 'node:stream';
import type { LevelList, RevisionList } from '@nettlewick/contract';
import type { Request, Response } from 'express';
import request from 'supertest';
import { BodyReader } from '../src/http/bodies';
import type { application } from '../src/http/application';
import { connect } from '../src/storage/database';
import { LevelRepository } from '../src/storage/level-repository';
import { SESSION_LASTS, Sessions } from '../src/http/sessions';
import { Watchers } from '../src/http/watchers';
import { Secret } from '../src/secret';
import { api, asAdmin, created, demo, name, renamed, root, serverOf, source, store, tagOf, url } from './served';

it('runs its migrations once, and again changes nothing', async () => {
  const again = await connect(url);
  expect(await again.query('SELECT name FROM migrations')).toHaveLength(4);
  await again.destroy();
});

it('stores a level and gives back the very document', async () => {
  const id = await created();
  const reply = await api.get(`/api/levels/${id}`);
  expect(reply.headers['etag']).toBe(tagOf(1));
  expect((reply.body as { etag: string }).etag).toBe(tagOf(1));
  expect(storedLevel.parse(reply.body).level).toEqual(demo);
  expect(JSON.stringify((reply.body as { level: Level }).level)).toBe(JSON.stringify(demo));
  expect((await api.get(`/api/levels/${id}`).set('if-none-match', tagOf(1))).status).toBe(304);
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
    const reply = await api.put(`/api/levels/${id}`).set('if-match', tagOf(1)).send(renamed('Weir'));
    expect([reply.status, reply.headers['etag']]).toEqual([200, tagOf(2, renamed('Weir'))]);
    const listed = (await api.get('/api/levels')).body as { levels: { id: string; name: string; revision: number }[] };
    expect(listed.levels.find((level) => level.id === id)).toMatchObject({ name: 'Weir', revision: 2 });
  });

  it('refuses a stale revision with the number of the newest, and changes nothing', async () => {
    const id = await created();
    await api.put(`/api/levels/${id}`).set('if-match', tagOf(1)).send(renamed('First'));
    const reply = await api.put(`/api/levels/${id}`).set('if-match', tagOf(1)).send(renamed('Second'));
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
          .set('if-match', tagOf(1))
          .send(renamed(`Weir ${n}`)),
      ),
    );
    expect(replies.map((reply) => reply.status).sort()).toEqual([200, 412, 412, 412]);
  });

  it('renames as a revision of its own', async () => {
    const id = await created();
    expect((await api.patch(`/api/levels/${id}`).set('if-match', tagOf(1)).send({ name: 'Weir' })).status).toBe(200);
    expect(((await api.get(`/api/levels/${id}`)).body as { level: Level }).level).toEqual(renamed('Weir'));
    expect(
      (
        await api
          .patch(`/api/levels/${id}`)
          .set('if-match', tagOf(2, renamed('Weir')))
          .send({ name: ' ' })
      ).body,
    ).toMatchObject({
      status: 422,
      errors: [{ pointer: '/name' }],
    });
  });

  it('points at each faulty field of a document', async () => {
    const id = await created();
    const faulty = { ...demo, zones: [{ ...demo.zones[0], heading: 'north', colour: 'red' }] };
    const reply = await api.put(`/api/levels/${id}`).set('if-match', tagOf(1)).send(faulty);
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
  await api.put(`/api/levels/${id}`).set('if-match', tagOf(1)).send(renamed('Weir'));
  const listed = (await api.get(`/api/levels/${id}/revisions`)).body as { revisions: { number: number; bytes: number }[] };
  expect(listed.revisions.map((one) => one.number)).toEqual([2, 1]);
  expect(listed.revisions[0]!.bytes).toBe(JSON.stringify(renamed('Weir')).length);
  expect(((await api.get(`/api/levels/${id}/revisions/1`)).body as { level: Level }).level.name).toBe(demo.name);
  expect((await api.get(`/api/levels/${id}/revisions/3`)).status).toBe(404);
  expect((await api.get(`/api/levels/${id}/revisions/one`)).status).toBe(404);
});

it('deletes so that it can be recovered; only a purge removes anything, and no clock that runs ahead', async () => {
  const id = await created(renamed('Lost'));
  expect((await api.delete(`/api/levels/${id}`)).status).toBe(204);
  expect((await api.get(`/api/levels/${id}`)).status).toBe(404);
  expect((await api.put(`/api/levels/${id}`).set('if-match', '*').send(demo)).status).toBe(404);
  const deleted = (await api.get('/api/levels?deleted=true')).body as { levels: { id: string; deletedAt: string }[] };
  expect(deleted.levels.find((level) => level.id === id)?.deletedAt).toBeTruthy();
  expect((await api.post(`/api/levels/${id}/restore`)).status).toBe(200);
  expect((await api.get(`/api/levels/${id}`)).status).toBe(200);
  await api.delete(`/api/levels/${id}`);
  const deletedAgo = async (days: number): Promise<boolean> => {
    await source.query('UPDATE levels SET deleted_at = now() - make_interval(days => $2) WHERE id = $1', [id, days]);
    return (await store.longDeleted(1)).some((one) => one.id === id);
  };
  expect(await deletedAgo(29)).toBe(false);
  expect(await deletedAgo(31)).toBe(true);
  // The database's own records are older than the clock says: nothing was stored for a year, as far as anybody can tell.
  await source.query("UPDATE levels SET saved_at = saved_at - interval '31 days'");
  expect(await deletedAgo(31)).toBe(false);
  await source.query("UPDATE levels SET saved_at = saved_at + interval '31 days'");
  const fresh = await created();
  await api.delete(`/api/levels/${fresh}`);
  // What was deleted lately stays, whoever names it.
  expect(await store.purge([id, fresh, await created()], 0)).toBe(1);
  expect((await api.post(`/api/levels/${fresh}/restore`)).status).toBe(200);
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

describe('Health', () => {
  it('is that of a server which is ready', async () => {
    expect((await api.get('/healthz')).body).toEqual({ status: 'ok', live: true, ready: true, freeBytes: null });
    const room = ((await request(serverOf({ dataFolder: root })).get('/healthz')).body as { freeBytes: number }).freeBytes;
    expect(room).toBeGreaterThan(0);
  });

  it('is told within two seconds by a server that lives and whose database says nothing at all', async () => {
    const silent = { answers: () => new Promise<void>(() => undefined), diskFull: false } as unknown as LevelRepository;
    const server = serverOf({ store: silent });
    const began = Date.now();
    const replies = await Promise.all([1, 2, 3].map(() => request(server).get('/healthz')));
    expect(Date.now() - began).toBeLessThan(2000);
    for (const { status, body } of replies)
      expect([status, body]).toEqual([503, { status: 'database does not answer', live: true, ready: false, freeBytes: null }]);
  });

  it('knows a full disk', async () => {
    const full = { answers: () => Promise.resolve(), diskFull: true } as unknown as LevelRepository;
    expect((await request(serverOf({ store: full })).get('/healthz')).body).toMatchObject({ status: 'disk full', ready: false });
  });
});

describe('Who may call', () => {
  it.each([
    ['evil.example'],
    ['evil.example:80'],
    ['127.0.0.1.evil.example'],
    ['localhost.evil.example:4780'],
    ['user@localhost'],
    [''],
  ])('not somebody who calls it %j', async (host) => {
    const reply = await api.get('/api/levels').set('host', host);
    expect([400, 421]).toContain(reply.status);
    expect((await api.get('/').set('host', host)).status).not.toBe(200);
  });

  it.each([['localhost:1'], ['127.0.0.1'], ['[::1]:4780'], ['LOCALHOST'], ['mill.example:80']])(
    'whoever calls it %s',
    async (host) => {
      const known = request(serverOf({ hosts: ['mill.example'] }));
      expect((await known.get('/api/levels').set('host', host)).status).toBe(200);
    },
  );

  const writes: [string, (id: string) => ReturnType<typeof api.get>][] = [
    ['create', () => api.post('/api/levels').send({ name: 'X' })],
    ['save', (id) => api.put(`/api/levels/${id}`).set('if-match', '*').send(demo)],
    ['rename', (id) => api.patch(`/api/levels/${id}`).set('if-match', '*').send({ name: 'X' })],
    ['delete', (id) => api.delete(`/api/levels/${id}`)],
    ['restore', (id) => api.post(`/api/levels/${id}/restore`)],
    ['keep', (id) => api.patch(`/api/levels/${id}/revisions/1`).send({ kept: true })],
  ];
  it.each(writes)('no page of another site may %s', async (_what, ask) => {
    const id = await created();
    const foreign: Record<string, string>[] = [
      { origin: 'http://evil.example' },
      { origin: 'null' },
      { origin: 'http://localhost:1' },
      { 'sec-fetch-site': 'cross-site' },
      { 'sec-fetch-site': 'same-site' },
    ];
    for (const headers of foreign) expect((await ask(id).set(headers)).status).toBe(403);
    expect((await api.get(`/api/levels/${id}`)).status).toBe(200);
    expect((await ask(id).set({ 'sec-fetch-site': 'same-origin' })).status).not.toBe(403);
  });

  describe('where a secret is asked for', () => {
    const value = 's'.repeat(43);
    const file = join(mkdtempSync(join(tmpdir(), 'nettlewick-secret-')), 'secret');
    writeFileSync(file, value);
    const secret = new Secret(file);
    let app: ReturnType<typeof application>;
    beforeAll(() => void (app = serverOf({ secret })));
    const guarded = (): ReturnType<typeof request> => request(app);
    /** Opens a session by the name that sessions are bound to; gives its cookie. */
    const session = async (): Promise<string> => {
      const reply = await guarded().get(`/?key=${secret.current()}`).set('host', secret.hostName);
      return (reply.headers['set-cookie'] as unknown as string[])[0]!.split(';')[0]!;
    };
    const statusWith = async (cookie: string, host = secret.hostName): Promise<number> =>
      (await guarded().get('/api/levels').set('host', host).set('cookie', cookie)).status;

    it('not without it, whatever is asked, and the answer says where it is', async () => {
      for (const path of ['/', '/api/levels', '/api/openapi.json', '/main.js', '/levels/x', `/?key=${'t'.repeat(43)}`]) {
        const reply = await guarded().get(path);
        expect([reply.status, reply.headers['www-authenticate']]).toEqual([401, 'Bearer realm="nettlewick"']);
        expect((reply.body as { detail: string }).detail).toContain(file);
      }
      expect((await guarded().post('/api/levels').send({ name: 'X' })).status).toBe(401);
      expect((await guarded().get('/api/levels').set('authorization', 'Bearer wrong')).status).toBe(401);
      expect((await guarded().get('/api/levels').set('cookie', 'nettlewick=wrong')).status).toBe(401);
    });

    it('with the address that carries it, once, then with a session that says nothing of it', async () => {
      const first = await guarded().get(`/levels/x?key=${value}&place=draw`).set('host', '127.0.0.1:4780');
      expect([first.status, first.headers['location']]).toEqual([
        303,
        `http://${secret.hostName}:4780/levels/x?key=${value}&place=draw`,
      ]);
      expect(first.headers['set-cookie']).toBeUndefined();
      const reply = await guarded().get(`/levels/x?key=${value}&place=draw`).set('host', `${secret.hostName}:4780`);
      expect([reply.status, reply.headers['location']]).toEqual([303, '/levels/x?place=draw']);
      const [cookie] = reply.headers['set-cookie'] as unknown as string[];
      expect(cookie).toMatch(/HttpOnly/);
      expect(cookie).toMatch(/SameSite=Strict/);
      expect(cookie).toMatch(/Max-Age=86400/);
      expect(cookie).not.toContain(value);
      expect(await statusWith(cookie!.split(';')[0]!)).toBe(200);
    });

    it('and the session is of one name alone, whatever the port', async () => {
      const cookie = await session();
      expect(secret.hostName).toMatch(/^[\da-f]{32}\.localhost$/);
      for (const host of ['127.0.0.1', 'localhost', 'other.localhost']) expect(await statusWith(cookie, host)).toBe(401);
      expect(await statusWith(cookie, `${secret.hostName}:9999`)).toBe(200);
    });

    it('also beside cookies of the same name that are somebody else’s', async () => {
      const own = await session();
      const [name] = own.split('=');
      for (const foreign of [`${name}=wrong`, `${name}=${'x'.repeat(43)}`, `${name}=`, `${name}=%E0%A4%A`])
        expect([await statusWith(`${foreign}; ${own}`), await statusWith(`${own}; ${foreign}`)]).toEqual([200, 200]);
    });

    it('until it is ended, is not used for a day, or the secret changes', async () => {
      const [ended, other] = [await session(), await session()];
      const logOut = await guarded().delete('/api/session').set('host', secret.hostName).set('cookie', ended);
      expect(logOut.status).toBe(204);
      expect([await statusWith(ended), await statusWith(other)]).toEqual([401, 200]);
      let now = 1_000_000;
      const sessions = new Sessions(secret, () => now);
      const token = sessions.open('mill.localhost');
      now += SESSION_LASTS - 1;
      expect(sessions.find(token, 'mill.localhost')).toEqual({ renew: true });
      now += SESSION_LASTS - 1;
      // It was used in between; a new start knows it as well.
      expect(new Sessions(secret, () => now).find(token, 'mill.localhost')).not.toBeNull();
      now += SESSION_LASTS + 1;
      expect(new Sessions(secret, () => now).find(token, 'mill.localhost')).toBeNull();
      const later = new Secret(file, () => now);
      writeFileSync(file, 'n'.repeat(43));
      now += 2000;
      expect([later.is(value), later.is('n'.repeat(43))]).toEqual([false, true]);
      const [kept] = [other.split('=')[1]!];
      expect(new Sessions(later).find(kept, secret.hostName)).toBeNull();
      writeFileSync(file, value);
    });

    it('is not asked for by a path that nobody can read: that is refused before', async () => {
      const listening = app.listen(0, '127.0.0.1');
      await new Promise((resolve) => listening.once('listening', resolve));
      const { port } = listening.address() as { port: number };
      const statusOf = (target: string): Promise<string> =>
        new Promise((resolve) => {
          const socket = connectTo(port, '127.0.0.1', () =>
            socket.write(`GET ${target} HTTP/1.1\r\nHost: localhost\r\nConnection: close\r\n\r\n`),
          );
          let text = '';
          socket.on('data', (chunk) => (text += chunk.toString()));
          socket.on('close', () => resolve(text.slice(9, 12)));
        });
      const targets = ['//', '///', '//[', '//:99999/x', '//%', '//@', '/%', '/api/levels/%zz', '//evil.example/x?key=1'];
      expect(await Promise.all(targets.map(statusOf))).toEqual(targets.map(() => '400'));
      expect(await Promise.all(['/', '/api/levels', `http://localhost:${port}/api/levels`].map(statusOf))).toEqual([
        '401',
        '401',
        '401',
      ]);
      listening.close();
    });

    it('stands in no line of the log, whatever fails', async () => {
      for (const level of ['info', 'debug'] as const) {
        const lines: string[] = [];
        const log = pino({ level }, { write: (line: string) => void lines.push(line) });
        const fails = (): Promise<never> => Promise.reject(new Error('It failed'));
        const broken = { list: fails, newest: fails } as unknown as LevelRepository;
        const logged = request(serverOf({ secret, log, store: broken }));
        const opened = await logged.get(`/?place=draw&key=${value}`).set('host', secret.hostName);
        const cookie = String((opened.headers['set-cookie'] as unknown as string[])[0]).split(';')[0]!;
        expect((await logged.get('/api/levels').set('host', secret.hostName).set('cookie', cookie)).status).toBe(500);
        expect((await logged.get(`/api/levels?key=${value}x&key=${value}`).set('authorization', `Bearer ${value}`)).status).toBe(
          500,
        );
        await logged.get(`/?key=${value}`).set('host', '127.0.0.1').set('referer', `http://127.0.0.1/?key=${value}`);
        expect(lines.length).toBeGreaterThan(1);
        expect(lines.some((line) => line.includes('It failed'))).toBe(true);
        const all = lines.join('');
        expect([all.includes(value), all.includes(cookie.split('=')[1]!)]).toEqual([false, false]);
      }
    });

    it('as a bearer token', async () => {
      expect((await guarded().get('/api/levels').set('authorization', `Bearer ${value}`)).status).toBe(200);
    });
  });
});

describe('Bodies', () => {
  const deep = (times: number): string => `{"level":${'['.repeat(times)}${']'.repeat(times)}}`;
  const post = (text: string | Buffer) =>
    api
      .post('/api/levels')
      .set('content-type', 'application/json')
      .send(text as string);

  it.each([
    ['nested beyond measure', deep(100_000), 422],
    ['cut short', '{"level":{"format":"nettlewick-level","version":2', 400],
    [
      'of an older version and a wrong shape',
      JSON.stringify({ level: { ...demo, version: 1, chains: [{ guard: [{ flag: { toString: 1 } }] }] } }),
      422,
    ],
    ['of a version to come', JSON.stringify({ level: { ...demo, version: 9 } }), 422],
  ])('%s are refused', async (_what, text, status) => {
    expect((await post(text)).status).toBe(status);
  });

  it('say at which line and column they are no JSON', async () => {
    expect(((await post('{\n  "name": "a",,\n}')).body as { detail: string }).detail).toContain('line 2, column 15');
  });

  it('that are compressed are refused, so that nothing inflates', async () => {
    const reply = await api.post('/api/levels').set('content-type', 'application/json').set('content-encoding', 'gzip').send('x');
    expect(reply.status).toBe(415);
  });

  it('with a byte order mark are stored without it, known or not', async () => {
    const id = await created();
    for (const name of ['One', 'Two', 'Three']) {
      const marked = `\uFEFF${JSON.stringify(renamed(name))}`;
      const put = api.put(`/api/levels/${id}`).set('if-match', '*').set('content-type', 'application/json');
      expect((await put.send(marked)).status).toBe(200);
      expect(((await api.get(`/api/levels/${id}`)).body as { level: Level }).level).toEqual(renamed(name));
    }
    expect((await post(`\uFEFF${JSON.stringify({ name: 'Marked' })}`)).status).toBe(201);
  });

  it('that are not UTF-8 are refused', async () => {
    const bytes = Buffer.from([0x7b, 0x22, 0xff, 0xfe, 0x22, 0x7d]);
    const sent = api.post('/api/levels').set('content-type', 'application/json');
    expect((await sent.serialize(() => bytes as unknown as string).send({})).status).toBe(400);
  });

  it('count while they are not finished: what is more than can be held is refused, and then there is room again', async () => {
    const bodies = new BodyReader(1000);
    const feed = (): { request: Request; response: EventEmitter; push(text: string): void } => {
      const stream = new PassThrough();
      const request = Object.assign(stream, { is: () => 'application/json', get: () => undefined, socket: {} });
      const response = Object.assign(new EventEmitter(), { set: () => response, locals: {} });
      return { request: request as unknown as Request, response, push: (text) => void stream.write(text) };
    };
    const first = feed();
    const unfinished = bodies.receive(first.request, first.response as unknown as Response);
    first.push('x'.repeat(900));
    await new Promise((resolve) => setImmediate(resolve));
    const second = feed();
    const refused = bodies.receive(second.request, second.response as unknown as Response);
    second.push('x'.repeat(200));
    await expect(refused).rejects.toMatchObject({ problem: { status: 503 } });
    first.response.emit('close');
    second.response.emit('close');
    (first.request as unknown as PassThrough).destroy();
    await expect(unfinished).rejects.toMatchObject({ problem: { status: 400 } });
    const third = feed();
    const taken = bodies.receive(third.request, third.response as unknown as Response);
    third.push('x'.repeat(900));
    (third.request as unknown as PassThrough).end();
    expect(Buffer.concat(await taken).length).toBe(900);
  });

  it('that come byte by byte are put together, in their order, and not handed on as a list of millions', async () => {
    const sent = Array.from({ length: 300_000 }, (_, i) => i % 251);
    const whole = Buffer.alloc(20_000, 7);
    const chunks = [...sent.slice(0, 150_000).map((byte) => Buffer.from([byte])), whole, Buffer.from(sent.slice(150_000))];
    const request = Object.assign(Readable.from(chunks, { objectMode: true }), {
      is: () => 'application/json',
      get: () => undefined,
      socket: {},
    });
    const response = Object.assign(new EventEmitter(), { set: () => response, locals: {} });
    const pieces = await new BodyReader().receive(request as unknown as Request, response as unknown as Response);
    expect(pieces.length).toBeLessThan(10);
    expect(Buffer.concat(pieces).equals(Buffer.concat(chunks))).toBe(true);
    for (const piece of pieces) expect(piece.buffer.byteLength).toBe(piece.byteLength);
  });

  it('are read aside: others are answered meanwhile', async () => {
    const fixture = demo.fixtures.find((one) => one.kind === 'sign')!;
    const fixtures = Array.from({ length: 20_000 }, (_, i) => ({
      ...fixture,
      id: `f-${i}`,
      name: `F ${i}`,
      text: 'x'.repeat(300),
    }));
    const text = JSON.stringify({ level: { ...demo, fixtures } });
    let busy = true;
    const large = api
      .post('/api/levels')
      .set('content-type', 'application/json')
      .send(text)
      .then((reply) => {
        busy = false;
        return reply;
      });
    let answered = 0;
    while (busy) {
      expect((await api.get('/api/levels?limit=1')).status).toBe(200);
      answered += 1;
    }
    expect((await large).status).toBe(201);
    expect(answered).toBeGreaterThan(3);
  });
});

describe('A stored document', () => {
  it('that is broken is refused where it is read, with its faults, and earlier revisions still open', async () => {
    const id = await created();
    await api.put(`/api/levels/${id}`).set('if-match', tagOf(1)).send(renamed('Weir'));
    await source.query(
      `UPDATE revisions SET document = '{"format":"nettlewick-level","version":2,"name":7}' WHERE level_id = $1 AND number = 2`,
      [id],
    );
    for (const reply of [
      await api.get(`/api/levels/${id}`),
      await api.patch(`/api/levels/${id}`).set('if-match', '*').send({ name: 'X' }),
    ]) {
      expect(reply.status).toBe(422);
      expect(reply.body).toMatchObject({ type: 'urn:nettlewick:problem:broken-document', errors: [{ pointer: '/name' }] });
    }
    expect((await api.get(`/api/levels/${id}/revisions/1`)).status).toBe(200);
  });

  it('of an older version is brought forward when it is read', async () => {
    const id = await created();
    const old = JSON.stringify({
      ...demo,
      version: 1,
      chains: demo.chains.map((one) => ({ ...one, guard: [{ flag: 'x', is: false }] })),
    });
    await source.query('UPDATE revisions SET document = $2::json WHERE level_id = $1', [id, old]);
    const { level } = storedLevel.parse((await api.get(`/api/levels/${id}`)).body);
    expect([level.version, level.chains[0]!.guard]).toEqual([4, '!flag("x")']);
  });
});

describe('Trouble of the database', () => {
  const failing = (code: string, message = 'it failed'): LevelRepository => {
    const fails = (): Promise<never> => Promise.reject(Object.assign(new Error(message), { code }));
    return { save: fails, create: fails, list: fails, open: fails, newest: fails } as unknown as LevelRepository;
  };
  const save = (code: string, message?: string) =>
    request(serverOf({ store: failing(code, message) }))
      .put('/api/levels/00000000-0000-4000-8000-000000000000')
      .set('if-match', '*')
      .send(demo);

  it.each([
    ['53100', 507, /Nothing was changed/],
    ['ECONNREFUSED', 503, /Nothing was changed/],
    ['57014', 503, /Nothing was changed/],
    ['55P03', 503, /Nothing was changed/],
    ['53300', 503, /Nothing was changed/],
    ['ECONNRESET', 503, /may have succeeded/],
    ['57P01', 503, /may have succeeded/],
    ['08006', 503, /may have succeeded/],
  ])('%s is answered with %d', async (code, status, said) => {
    const reply = await save(code);
    expect(reply.status).toBe(status);
    expect((reply.body as { detail: string }).detail).toMatch(said);
  });

  it.each([
    ['ECONNREFUSED', /Make room .* Nothing was changed/],
    ['57P02', /Make room .* may have succeeded/],
  ])('%s while its disk is full is told as a full disk, for that is why it stopped', async (code, said) => {
    const store = Object.assign(failing(code), { diskFull: true });
    const reply = await request(serverOf({ store })).put(`/api/levels/${randomUUID()}`).set('if-match', '*').send(demo);
    expect([reply.status, (reply.body as { detail: string }).detail]).toEqual([507, expect.stringMatching(said)]);
  });

  it('after a commit whose answer was lost is told as it is, though the error has no code', async () => {
    expect(((await save('', 'Connection terminated unexpectedly')).body as { detail: string }).detail).toMatch(
      /may have succeeded/,
    );
  });

  it('is logged once', async () => {
    const lines: string[] = [];
    const log = pino({ level: 'info' }, { write: (line: string) => void lines.push(line) });
    await request(serverOf({ store: failing('57P01'), log })).get('/api/levels');
    expect(lines).toHaveLength(1);
  });
});

describe('Many saves at once', () => {
  it('of a level that is locked wait for their turn without taking the connections of others', async () => {
    const [id, other] = [await created(), await created()];
    const holder = new pg.Client({ connectionString: url });
    await holder.connect();
    await holder.query('BEGIN');
    await holder.query('SELECT 1 FROM levels WHERE id = $1 FOR UPDATE', [id]);
    const waiting = Array.from({ length: 20 }, () =>
      api
        .put(`/api/levels/${id}`)
        .set('if-match', '*')
        .send(renamed('Locked'))
        .then((reply) => reply.status),
    );
    await new Promise((resolve) => setTimeout(resolve, 300));
    const began = Date.now();
    expect((await api.put(`/api/levels/${other}`).set('if-match', '*').send(renamed('Free'))).status).toBe(200);
    expect(Date.now() - began).toBeLessThan(3000);
    expect((await api.get('/healthz')).status).toBe(200);
    await holder.query('ROLLBACK');
    await holder.end();
    const statuses = await Promise.all(waiting);
    expect(statuses.filter((status) => status === 200).length).toBeGreaterThan(0);
    expect(statuses.every((status) => status === 200 || status === 503)).toBe(true);
  }, 20_000);

  it('of the very same document make no revision', async () => {
    const id = await created();
    const replies = await Promise.all([1, 2, 3].map(() => api.put(`/api/levels/${id}`).set('if-match', tagOf(1)).send(demo)));
    for (const reply of replies) expect([reply.status, (reply.body as { revision: number }).revision]).toEqual([200, 1]);
    expect(((await api.get(`/api/levels/${id}/revisions`)).body as { revisions: unknown[] }).revisions).toHaveLength(1);
    expect((await api.put(`/api/levels/${id}`).set('if-match', tagOf(7)).send(demo)).status).toBe(412);
  });
});

describe('A program of before on the same database', () => {
  it('stores what is not taken for what is stored already, whatever digests it writes', async () => {
    for (const digest of ['digest', 'NULL']) {
      const id = await created(renamed('A'));
      // It knows no digests of revisions, and the oldest none at all.
      const older = renamed('B');
      await source.query(
        `WITH moved AS (UPDATE levels SET name = 'B', revision = 2, digest = ${digest === 'NULL' ? 'levels.digest' : "'of B'"} WHERE id = $1)
         INSERT INTO revisions (level_id, number, document, bytes, saved_at) VALUES ($1, 2, $2, 1, now())`,
        [id, JSON.stringify(older)],
      );
      const opened = await api.get(`/api/levels/${id}`);
      expect(opened.headers['etag']).toBe(tagOf(2, older));
      const saved = await api.put(`/api/levels/${id}`).set('if-match', tagOf(2, older)).send(renamed('A'));
      expect([saved.status, (saved.body as { revision: number }).revision]).toEqual([200, 3]);
      expect(((await api.get(`/api/levels/${id}`)).body as { level: Level }).level.name).toBe('A');
    }
  });

  it('and a save over its revision goes on at once, though nobody has opened it yet', async () => {
    const id = await created(renamed('A'));
    const older = renamed('B');
    await source.query('UPDATE levels SET revision = 2 WHERE id = $1', [id]);
    await source.query('INSERT INTO revisions (level_id, number, document, bytes, saved_at) VALUES ($1, 2, $2, 1, now())', [
      id,
      JSON.stringify(older),
    ]);
    expect((await api.put(`/api/levels/${id}`).set('if-match', tagOf(2, older)).send(renamed('C'))).status).toBe(200);
  });
});

it('does not let a stale window over a revision of the same number that holds something else', async () => {
  const id = await created();
  await api.put(`/api/levels/${id}`).set('if-match', tagOf(1)).send(renamed('Mine'));
  // A backup is restored, and somebody else saves: there is a second revision again, and it is another.
  await source.query('DELETE FROM revisions WHERE level_id = $1 AND number = 2', [id]);
  await source.query('UPDATE levels SET revision = 1 WHERE id = $1', [id]);
  await api.put(`/api/levels/${id}`).set('if-match', tagOf(1)).send(renamed('Theirs'));
  for (const stale of [tagOf(2, renamed('Mine')), '"2"', 'W/' + tagOf(2, renamed('Theirs'))])
    expect((await api.put(`/api/levels/${id}`).set('if-match', stale).send(renamed('Again'))).status).toBe(412);
  expect(
    (
      await api
        .patch(`/api/levels/${id}`)
        .set('if-match', tagOf(2, renamed('Mine')))
        .send({ name: 'Again' })
    ).status,
  ).toBe(412);
  expect(((await api.get(`/api/levels/${id}`)).body as { level: Level }).level.name).toBe('Theirs');
});

it('starts often at once on an empty database, and fills it once', async () => {
  const empty = `${name}_empty`;
  await asAdmin(`CREATE DATABASE ${empty}`);
  const address = url.replace(/\/[^/]*$/, `/${empty}`);
  let filled = 0;
  const started = await Promise.all(
    Array.from({ length: 8 }, () =>
      connect(address, async (first) => {
        const own = new LevelRepository(first);
        if (!(await own.isEmpty())) return;
        filled += 1;
        const bytes = Buffer.from(JSON.stringify(demo));
        await own.create({ name: demo.name, bytes, digest: createHash('sha512-256').update(bytes).digest('hex') });
      }),
    ),
  );
  expect(filled).toBe(1);
  expect(await started[0]!.query('SELECT count(*)::integer AS n FROM levels')).toEqual([{ n: 1 }]);
  await Promise.all(started.map((one) => one.destroy()));
  await asAdmin(`DROP DATABASE ${empty} WITH (FORCE)`);
}, 60_000);

it('a deadlock is a database that has too much to do, not a fault of the program', async () => {
  const ids = [await created(), await created()];
  const [one, other] = [source.createQueryRunner(), source.createQueryRunner()];
  await Promise.all([one.connect(), other.connect()]);
  try {
    const touch = 'UPDATE levels SET saved_at = saved_at WHERE id = $1';
    await Promise.all([one.startTransaction(), other.startTransaction()]);
    await one.query(touch, [ids[0]]);
    await other.query(touch, [ids[1]]);
    const crossed = await Promise.allSettled([one.query(touch, [ids[1]]), other.query(touch, [ids[0]])]);
    const failed = crossed.flatMap((result) => (result.status === 'rejected' ? [result.reason as unknown] : []));
    expect(failed.map(asStorageTrouble)).toEqual(['busy']);
  } finally {
    for (const runner of [one, other]) {
      await runner.rollbackTransaction().catch(() => undefined);
      await runner.release();
    }
  }
});

describe('Revisions', () => {
  it('are thinned by their age; named and kept ones stay, and the newest hundred', async () => {
    const id = await created();
    await source.query(
      `INSERT INTO revisions (level_id, number, document, bytes, saved_at)
         SELECT $1, n, '{}', 2, now() - make_interval(mins => (1001 - n) * 30) FROM generate_series(2, 1000) AS n`,
      [id],
    );
    await source.query('UPDATE levels SET revision = 1000, saved_at = now() WHERE id = $1', [id]);
    expect((await api.patch(`/api/levels/${id}/revisions/7`).send({ name: 'Before the flood' })).body).toMatchObject({
      name: 'Before the flood',
    });
    expect((await api.patch(`/api/levels/${id}/revisions/9`).send({ kept: true })).status).toBe(200);
    // A name that is given and taken away again changes nothing of that it is kept.
    const ninth = (name: string | null) => api.patch(`/api/levels/${id}/revisions/9`).send({ name });
    expect((await ninth('Gone back to')).body).toMatchObject({ name: 'Gone back to', kept: true });
    expect((await ninth(null)).body).toMatchObject({ name: null, kept: true });
    expect((await api.patch(`/api/levels/${id}/revisions/9`).send({})).status).toBe(422);
    expect(await store.history.thin(id)).toBeGreaterThan(500);
    const left = (await store.history.list(id, { limit: 500, after: null })).revisions.map((one) => one.number);
    expect(left.filter((number) => number > 900)).toHaveLength(100);
    expect(left).toEqual(expect.arrayContaining([7, 9]));
    const halfHourly = left.filter((number) => number > 664 && number <= 900);
    expect(halfHourly.length).toBeLessThan(125);
    expect(halfHourly.length).toBeGreaterThan(110);
    expect(await store.history.thin(id)).toBe(0);
  });

  it('are thinned by saving, every so often, without anybody asking for it', async () => {
    const id = await created();
    await source.query(
      `INSERT INTO revisions (level_id, number, document, bytes, saved_at)
         SELECT $1, n, '{}', 2, now() - make_interval(mins => (401 - n) * 30) FROM generate_series(2, 399) AS n`,
      [id],
    );
    await source.query('UPDATE levels SET revision = 399, saved_at = now() WHERE id = $1', [id]);
    const count = async (): Promise<number> =>
      ((await source.query('SELECT count(*)::integer AS n FROM revisions WHERE level_id = $1', [id])) as { n: number }[])[0]!.n;
    expect(await count()).toBe(399);
    expect((await api.put(`/api/levels/${id}`).set('if-match', '*').send(renamed('Weir'))).status).toBe(200);
    expect(await count()).toBeLessThan(300);
  });

  it('are listed page by page, and so are levels', async () => {
    const id = await created();
    for (let n = 1; n <= 4; n++)
      await api
        .put(`/api/levels/${id}`)
        .set('if-match', '*')
        .send(renamed(`W ${n}`));
    const all: number[] = [];
    for (let next: string | null = ''; next !== null;) {
      const page = (await api.get(`/api/levels/${id}/revisions?limit=2${next === '' ? '' : `&after=${next}`}`))
        .body as RevisionList;
      all.push(...page.revisions.map((one) => one.number));
      next = page.next;
    }
    expect(all).toEqual([5, 4, 3, 2, 1]);
    const whole = (await api.get('/api/levels?limit=500')).body as LevelList;
    const ids: string[] = [];
    for (let next: string | null = ''; next !== null;) {
      const page = (await api.get(`/api/levels?limit=3${next === '' ? '' : `&after=${next}`}`)).body as LevelList;
      ids.push(...page.levels.map((one) => one.id));
      next = page.next;
    }
    expect(ids).toEqual(whole.levels.map((one) => one.id));
    for (const limit of ['0', '501', 'x', '-1']) expect((await api.get(`/api/levels?limit=${limit}`)).status).toBe(400);
    const places = ['', 'x', '-1', '0', '9'.repeat(20), `999999999999999~${id}`, `-1~${id}`, `1~${'-'.repeat(36)}`, `1e5~${id}`];
    for (const after of places) {
      expect((await api.get(`/api/levels?after=${after}`)).status).toBe(400);
      expect((await api.get(`/api/levels/${id}/revisions?after=${after}`)).status).toBe(400);
    }
    for (const after of [`0~${id}`, `99999999999999~${id}`])
      expect((await api.get(`/api/levels?after=${after}`)).status).toBe(200);
    expect((await api.get(`/api/levels/${id}/revisions?after=999999999`)).status).toBe(200);
  });
});

describe('Windows that watch a level', () => {
  /** Gives the address of a server that listens for as long as the work goes on. */
  async function whileListening(work: (address: string) => Promise<void>): Promise<void> {
    const listening = serverOf({}).listen(0, '127.0.0.1');
    await new Promise((resolve) => listening.once('listening', resolve));
    try {
      await work(`http://127.0.0.1:${(listening.address() as { port: number }).port}`);
    } finally {
      listening.closeAllConnections();
      listening.close();
    }
  }

  /** Reads events from a server that listens, until as many have come as are wanted. */
  /** What a window is told until so much was told, or until a save was. */
  async function events(
    address: string,
    id: string,
    wanted: number | 'a save',
    meanwhile: () => Promise<unknown>,
  ): Promise<string[]> {
    const stop = new AbortController();
    const reply = await fetch(`${address}/api/levels/${id}/events`, { signal: stop.signal });
    expect([reply.status, reply.headers.get('content-type')]).toEqual([200, 'text/event-stream; charset=utf-8']);
    const reader = reply.body!.pipeThrough(new TextDecoderStream()).getReader();
    let text = '';
    const told = (): string[] => text.split('\n\n').filter((one) => one.startsWith('event:'));
    const begun = meanwhile();
    const isEnough = (): boolean =>
      wanted === 'a save' ? told().some((one) => one.startsWith('event: saved')) : told().length >= wanted;
    while (!isEnough()) text += (await reader.read()).value ?? '';
    await begun;
    stop.abort();
    return told();
  }

  it('are told of each save and of each other at once, and of nothing else', async () => {
    await whileListening(async (address) => {
      const [id, other] = [await created(), await created()];
      const save = (which: string) =>
        fetch(`${address}/api/levels/${which}`, {
          method: 'PUT',
          headers: { 'content-type': 'application/json', 'if-match': tagOf(1) },
          body: JSON.stringify(renamed('Weir')),
        });
      const told = await events(address, id, 2, async () => {
        await save(other);
        await save(id);
      });
      expect(told).toEqual([
        'event: present\ndata: {"windows":1}',
        expect.stringMatching(/^event: saved\ndata: \{"revision":2,.*"edits":null\}/),
      ]);
      const missing = await fetch(`${address}/api/levels/00000000-0000-4000-8000-000000000000/events`);
      expect(missing.status).toBe(404);
    });
  });

  it('are told of a rename, which is a save, too', async () => {
    await whileListening(async (address) => {
      const id = await created();
      const told = await events(address, id, 2, () =>
        fetch(`${address}/api/levels/${id}`, {
          method: 'PATCH',
          headers: { 'content-type': 'application/json', 'if-match': '*' },
          body: JSON.stringify({ name: 'Weir' }),
        }),
      );
      expect(told[1]).toMatch(/^event: saved\ndata: \{"revision":2,.*"after":\{"name":"Weir"\}/);
    });
  });

  it('are told that the level was deleted, and that it is back', async () => {
    await whileListening(async (address) => {
      const id = await created();
      const told = await events(address, id, 3, async () => {
        await fetch(`${address}/api/levels/${id}`, { method: 'DELETE' });
        await fetch(`${address}/api/levels/${id}/restore`, { method: 'POST' });
      });
      expect(told.slice(1)).toEqual(['event: deleted\ndata: {}', 'event: restored\ndata: {"revision":1}']);
    });
  });

  it('that never read keep nobody out, and are let go of when they do not take what they are told', async () => {
    const listening = serverOf({}).listen(0, '127.0.0.1');
    await new Promise((resolve) => listening.once('listening', resolve));
    const deaf: Socket[] = [];
    try {
      const { port } = listening.address() as { port: number };
      const id = await created();
      for (let i = 0; i < 60; i++) {
        const socket = connectTo(port, '127.0.0.1');
        socket.on('error', () => undefined);
        socket.pause();
        await new Promise((resolve) => socket.once('connect', resolve));
        socket.write(`GET /api/levels/${id}/events HTTP/1.1\r\nHost: localhost\r\n\r\n`);
        deaf.push(socket);
      }
      const told = await events(`http://127.0.0.1:${port}`, id, 'a save', () =>
        api.get('/healthz').then(() =>
          fetch(`http://127.0.0.1:${port}/api/levels/${id}`, {
            method: 'PUT',
            headers: { 'content-type': 'application/json', 'if-match': '*' },
            body: JSON.stringify(renamed('Weir')),
          }),
        ),
      );
      expect(told.at(-1)).toMatch(/^event: saved\ndata: \{"revision":2,/);
    } finally {
      deaf.forEach((socket) => socket.destroy());
      listening.closeAllConnections();
      listening.close();
    }
  });

  it('are let go of when what they were told stays behind, and not before', () => {
    const watchers = new Watchers();
    const window = (behind: number): EventEmitter & { writableLength: number; gone: boolean } => {
      const response = Object.assign(new EventEmitter(), {
        writableLength: behind,
        gone: false,
        locals: {},
        status: () => response,
        set: () => response,
        flushHeaders: () => undefined,
        write: () => true,
        destroy: () => void (response.gone = true),
      });
      watchers.watch('level', { socket: {} } as unknown as Request, response as unknown as Response);
      return response;
    };
    const [reads, stuck] = [window(0), window(10)];
    watchers.letGoOfDead(0);
    stuck.writableLength = 9;
    watchers.letGoOfDead(14_000);
    expect([reads.gone, stuck.gone]).toEqual([false, false]);
    watchers.letGoOfDead(16_000);
    expect([reads.gone, stuck.gone]).toEqual([false, true]);
    expect(watchers.played('level', [])).toBe(1);
  });

  it('are told what a running game says of a play, line by line as it said it', async () => {
    await whileListening(async (address) => {
      const id = await created();
      const lines = [
        { at: 0, who: 'Miller', x: 1, y: 2 },
        { at: 0.5, kind: 'enter', who: 'Miller', what: 'Doorstep' },
      ];
      const play = (body: string, type = 'application/x-ndjson') =>
        fetch(`${address}/api/levels/${id}/play`, { method: 'POST', headers: { 'content-type': type }, body });
      const told = await events(address, id, 2, async () => {
        const reply = await play(`${lines.map((line) => JSON.stringify(line)).join('\r\n')}\n\n`);
        expect([reply.status, await reply.json()]).toEqual([202, { windows: 1 }]);
      });
      expect(told[1]).toBe(`event: played\ndata: ${JSON.stringify({ lines })}`);
      const wrong = await play('{"at":0,"who":"Miller","x":1,"y":2}\n{"at":-1,"who":"Miller","x":1}');
      expect(wrong.status).toBe(422);
      const { errors } = (await wrong.json()) as { errors: { pointer: string }[] };
      expect(errors.map(({ pointer }) => pointer)).toEqual(['/1/at', '/1/y']);
      const status = async (body: string, type?: string): Promise<number> => (await play(body, type)).status;
      expect(await status('{"at":0,')).toBe(400);
      expect(await status('at,who', 'text/csv')).toBe(415);
      expect(await status(' '.repeat(300_000))).toBe(413);
      expect(await status('1\n'.repeat(2000))).toBe(413);
    });
  });
});
