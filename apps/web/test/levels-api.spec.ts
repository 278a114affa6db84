import 'fake-indexeddb/auto';
import { PROBLEM_TYPE, problemOf } from '@nettlewick/contract';
import { emptyLevel } from '@nettlewick/core';
import { failureText } from '../src/app/workers/api-client';
import { LevelsApi } from '../src/app/saving/levels-api';
import { SaveWorker } from '../src/app/workers/keeping';

const id = '00000000-0000-4000-8000-000000000000';
const level = emptyLevel('Yard');
const ask = jest.fn();
const api = new LevelsApi();
const saveOver = (revision: number) => {
  const keeping = new SaveWorker();
  keeping.open(level);
  return keeping.save(id, `"${revision}-d1"`, keeping.prepare());
};

beforeEach(() => {
  ask.mockReset();
  globalThis.fetch = ask;
});

const reply = (status: number, body: unknown, type = 'application/json') => ({
  ok: status < 400,
  status,
  headers: { get: () => type },
  text: async () => (typeof body === 'string' ? body : JSON.stringify(body)),
});

it('saves over the revision that was changed', async () => {
  ask.mockResolvedValue(reply(200, { id, revision: 8, etag: '"8-d2"', savedAt: '2026-11-23T00:00:00.000Z' }));
  expect(await saveOver(7)).toMatchObject({ ok: true, value: { revision: 8 } });
  const [path, request] = ask.mock.calls[0] as [string, { method: string; headers: object; body: string }];
  expect([path, request.method, request.headers]).toEqual([
    `/api/levels/${id}`,
    'PUT',
    { 'ngsw-bypass': 'true', 'content-type': 'application/json', 'if-match': '"7-d1"' },
  ]);
  expect(JSON.parse(request.body)).toEqual(level);
});

it('reads lists page by page, to the end', async () => {
  const line = (n: number) => ({
    id,
    name: `L ${n}`,
    revision: n,
    etag: `"${n}-d${n}"`,
    savedAt: '2026-11-23T00:00:00.000Z',
    deletedAt: null,
  });
  ask
    .mockResolvedValueOnce(reply(200, { levels: [line(1), line(2)], next: 'a~b' }))
    .mockResolvedValueOnce(reply(200, { levels: [line(3)], next: null }));
  const answer = await api.list();
  expect(answer.ok && answer.value.map((one) => one.name)).toEqual(['L 1', 'L 2', 'L 3']);
  const asked = ask.mock.calls.map(([path]) => new URL(String(path), 'http://nettlewick').searchParams.get('after'));
  expect(asked).toEqual([null, 'a~b']);
});

it('gives the problem that the server answers, in a sentence', async () => {
  ask.mockResolvedValue(
    reply(412, problemOf('stale-revision', { detail: 'The newest is 9.', currentRevision: 9 }), PROBLEM_TYPE),
  );
  const answer = await saveOver(7);
  expect(answer).toMatchObject({ ok: false, offline: false, problem: { status: 412, currentRevision: 9 } });
  if (!answer.ok) expect(failureText(answer)).toBe('The level has been saved by someone else since. The newest is 9.');
});

it.each([
  ['the server is away', () => ask.mockRejectedValue(new TypeError('fetch failed'))],
  [
    'its database is away',
    () => ask.mockResolvedValue(reply(503, problemOf('no-database', { detail: 'Try again in a moment.' }), PROBLEM_TYPE)),
  ],
  ['something in between answers in its place', () => ask.mockResolvedValue(reply(502, '<html>Bad gateway</html>', 'text/html'))],
  ['the answer is torn', () => ask.mockResolvedValue(reply(200, '{"levels": ['))],
  ['the answer is of another version', () => ask.mockResolvedValue(reply(200, { levels: [{ id: 7 }] }))],
])('counts as offline when %s, so that edits are kept', async (_what, given) => {
  given();
  const answer = await api.list();
  expect(answer).toMatchObject({ ok: false, offline: true });
  if (!answer.ok) expect(failureText(answer)).not.toBe('');
});
