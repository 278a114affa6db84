import { editsSince } from '@nettlewick/contract';
import { applied, change, invert } from '@nettlewick/core';
import type { Edit, Level, Thing } from '@nettlewick/core';
import { migrations } from '../src/storage/migrations';
import { api, created, demo, renamed, source, store, tagOf } from './served';

/** A level is saved by its edits: what is sent, stored, and given back. */

let batches = 0;
const newBatch = (): string => `batch-${(batches += 1)}-${process.pid}`;
const turned = (heading: number, level: Level = demo): Edit => change('zones', level.zones[0]!, { heading });

/** Sends edits on top of a revision; gives the reply. */
const send = (id: string, over: string, edits: unknown, batch = newBatch(), more: object = {}) =>
  api
    .patch(`/api/levels/${id}`)
    .set('if-match', over)
    .send({ batch, edits, ...more });

/** As `send`, of what is to be saved; gives the tag of the new revision. */
async function saved(id: string, over: string, ...edits: Edit[]): Promise<string> {
  const reply = await send(id, over, edits);
  expect([reply.status, reply.body]).toEqual([200, expect.objectContaining({ id })]);
  return (reply.body as { etag: string }).etag;
}

const levelOf = async (id: string, number?: number): Promise<Level> => {
  const reply = await api.get(`/api/levels/${id}${number === undefined ? '' : `/revisions/${number}`}`);
  expect(reply.status).toBe(200);
  return (reply.body as { level: Level }).level;
};

it('makes of edits a new revision, which opens as the level with them made', async () => {
  const id = await created();
  let [level, tag] = [demo, tagOf(1)];
  for (const heading of [15, 30, 45]) {
    const edit = turned(heading, level);
    level = applied(level, edit);
    tag = await saved(id, tag, edit);
  }
  expect(await levelOf(id)).toEqual(level);
  expect((await levelOf(id, 3)).zones[0]!.heading).toBe(30);
  expect(await levelOf(id, 1)).toEqual(demo);
  const opened = await api.get(`/api/levels/${id}`);
  expect(opened.headers['etag']).toBe(tag);
  expect((await api.get(`/api/levels/${id}`).set('if-none-match', tag)).status).toBe(304);
});

it('stores what was edited, not the level again', async () => {
  const id = await created();
  await saved(id, tagOf(1), turned(15));
  const [row] = (await source.query(
    'SELECT document IS NULL AS open, length(edits::text) AS length FROM revisions WHERE level_id = $1 AND number = 2',
    [id],
  )) as { open: boolean; length: number }[];
  expect(row!.open).toBe(true);
  expect(row!.length).toBeLessThan(300);
});

it('goes on from what another process has stored meanwhile, and after a whole document', async () => {
  const id = await created();
  const tag = await saved(id, tagOf(1), turned(15));
  const whole = await api.put(`/api/levels/${id}`).set('if-match', tag).send(renamed('Weir'));
  const next = await saved(id, (whole.body as { etag: string }).etag, turned(30, renamed('Weir')));
  expect(await levelOf(id)).toMatchObject({
    name: 'Weir',
    zones: expect.arrayContaining([expect.objectContaining({ heading: 30 })]),
  });
  // The very document that is stored makes no new revision of a name alone, and of edits neither.
  await saved(id, next, { kind: 'level', before: { name: 'Weir' }, after: { name: 'Sluice' } });
  expect((await levelOf(id)).name).toBe('Sluice');
});

it('refuses edits of a revision that is not the newest, and says which is', async () => {
  const id = await created();
  await saved(id, tagOf(1), turned(15));
  const late = await send(id, tagOf(1), [turned(30)]);
  expect(late.status).toBe(412);
  expect(late.body).toMatchObject({ currentRevision: 2 });
  // One of the right number and other content is another revision: a backup was restored.
  expect((await send(id, tagOf(2), [turned(30)])).status).toBe(412);
  expect((await api.patch(`/api/levels/${id}`).send({ batch: newBatch(), edits: [turned(1)] })).status).toBe(428);
  expect((await levelOf(id)).zones[0]!.heading).toBe(15);
});

it('takes a batch once, however often it is sent: the answer may have been lost', async () => {
  const id = await created();
  const batch = newBatch();
  const first = await send(id, tagOf(1), [turned(15)], batch);
  const again = await send(id, tagOf(1), [turned(15)], batch);
  expect([again.status, again.body]).toEqual([200, first.body]);
  await saved(id, (first.body as { etag: string }).etag, turned(30, applied(demo, turned(15))));
  // Also when others have gone on since.
  expect((await send(id, tagOf(1), [turned(15)], batch)).body).toEqual(first.body);
  expect((await levelOf(id)).zones[0]!.heading).toBe(30);
});

it('tells what was saved after a revision, in order, and where a whole document came in between', async () => {
  const id = await created();
  const tag = await saved(id, tagOf(1), turned(15));
  const more = { overwritten: [{ id: demo.zones[0]!.id, field: 'heading' }] };
  const second = await send(id, tag, [turned(30, applied(demo, turned(15)))], newBatch(), more);
  const since = async (after: number) => editsSince.parse((await api.get(`/api/levels/${id}/edits?after=${after}`)).body);
  const { revisions, complete } = await since(1);
  expect(complete).toBe(true);
  expect(revisions.map(({ revision }) => revision)).toEqual([2, 3]);
  expect(revisions[0]!.edits).toEqual([turned(15)]);
  expect(revisions[1]!.overwritten).toEqual(more.overwritten);
  expect((await since(3)).revisions).toEqual([]);
  await api
    .put(`/api/levels/${id}`)
    .set('if-match', (second.body as { etag: string }).etag)
    .send(renamed('Weir'));
  expect((await since(2)).revisions.map(({ edits }) => edits === null)).toEqual([false, true]);
  for (const wrong of ['', '?after=-1', '?after=x']) expect((await api.get(`/api/levels/${id}/edits${wrong}`)).status).toBe(400);
});

it('says in the list of revisions what each has changed', async () => {
  const id = await created();
  const edits = [turned(15), ...[1, 2, 3].map((n) => change('rooms', demo.rooms[0]!, { name: `Yard ${n}` }))];
  await saved(id, tagOf(1), ...edits);
  const { revisions } = (await api.get(`/api/levels/${id}/revisions`)).body as { revisions: { summary: string | null }[] };
  expect(revisions.map(({ summary }) => summary)).toEqual([expect.stringMatching(/^Turn .*; rename .*; and 1 more$/), null]);
});

it('stores a whole document every 50 revisions, so that none takes long to rebuild', async () => {
  const id = await created();
  let [level, tag] = [demo, tagOf(1)];
  for (let heading = 1; heading <= 60; heading++) {
    const edit = turned(heading, level);
    level = applied(level, edit);
    tag = await saved(id, tag, edit);
  }
  const rows = (await source.query('SELECT number FROM revisions WHERE level_id = $1 AND document IS NOT NULL ORDER BY number', [
    id,
  ])) as { number: number }[];
  expect(rows.map(({ number }) => number)).toEqual([1, 51]);
  expect(await levelOf(id)).toEqual(level);
  expect((await levelOf(id, 50)).zones[0]!.heading).toBe(49);
});

it('thins revisions without taking the ground from those that stay', async () => {
  const id = await created();
  let [level, tag] = [demo, tagOf(1)];
  for (let heading = 1; heading <= 130; heading++) {
    const edit = turned(heading, level);
    level = applied(level, edit);
    tag = await saved(id, tag, edit);
  }
  // All but the newest hundred were saved ten days ago, ten of them on each day.
  await source.query(
    "UPDATE revisions SET saved_at = now() - interval '40 days' + (number / 10) * interval '1 day' WHERE level_id = $1 AND number <= 31",
    [id],
  );
  expect(await store.history.thin(id)).toBeGreaterThan(20);
  const { revisions } = (await api.get(`/api/levels/${id}/revisions?limit=200`)).body as { revisions: { number: number }[] };
  expect(revisions.length).toBeLessThan(110);
  for (const { number } of revisions)
    expect((await levelOf(id, number)).zones[0]!.heading).toBe(number === 1 ? demo.zones[0]!.heading : number - 1);
  expect(await levelOf(id)).toEqual(level);
});

it('brings a level of an older format forward, and stores it whole before the first edit on top', async () => {
  const id = await created();
  const old = JSON.stringify({ ...demo, version: 3 });
  await source.query('UPDATE revisions SET document = $2::json, digest = NULL WHERE level_id = $1', [id, old]);
  const tag = (await api.get(`/api/levels/${id}`)).headers['etag']!;
  await saved(id, tag, turned(15));
  const [row] = (await source.query("SELECT document->>'version' AS version FROM revisions WHERE level_id = $1 AND number = 2", [
    id,
  ])) as { version: string }[];
  expect(row!.version).toBe('4');
  expect((await levelOf(id)).zones[0]!.heading).toBe(15);
});

it('goes back to whole documents when its migration is taken back, and every revision is what it was', async () => {
  const id = await created();
  const second = await saved(id, tagOf(1), turned(15));
  await saved(id, second, turned(30, applied(demo, turned(15))));
  const own = new migrations[3]!();
  const runner = source.createQueryRunner();
  await runner.startTransaction();
  try {
    await own.down(runner);
    const rows = (await runner.query('SELECT document::text AS document FROM revisions WHERE level_id = $1 ORDER BY number', [
      id,
    ])) as {
      document: string;
    }[];
    expect(rows.map(({ document }) => (JSON.parse(document) as Level).zones[0]!.heading)).toEqual([
      demo.zones[0]!.heading,
      15,
      30,
    ]);
  } finally {
    await runner.rollbackTransaction();
    await runner.release();
  }
});

describe('Edits that are not valid change nothing, and are told with their place', () => {
  const zone = demo.zones[0]!;
  const add = (thing: object): Edit => ({ kind: 'add', collection: 'zones', index: 0, thing: thing as Thing });
  it.each<[string, unknown[], string, RegExp]>([
    [
      'a value that its field does not take',
      [change('zones', zone, { heading: 'north' as never })],
      '/edits/0',
      /heading.*number/,
    ],
    ['an unknown field', [turned(1), change('zones', zone, { colour: 'red' } as never)], '/edits/1', /colour/],
    ['another id', [change('zones', zone, { id: 'other' })], '/edits/0', /another id/],
    ['a thing that is not there', [change('zones', { ...zone, id: 'none' }, { heading: 1 })], '/edits/0', /not among the zones/],
    [
      'a thing of another list',
      [change('fixtures', zone as never, { heading: 1 } as never)],
      '/edits/0',
      /not among the fixtures/,
    ],
    ['a thing twice', [add(zone)], '/edits/0', /already/],
    ['a name that is taken', [add({ ...zone, id: 'new', name: demo.rooms[0]!.name.toUpperCase() })], '/edits/0', /name/],
    [
      'an id of a part that is taken',
      [add({ ...zone, id: demo.chains[0]!.steps[0]!.id, name: 'Free' })],
      '/edits/0',
      /Duplicate id/,
    ],
    ['a list of the level', [{ kind: 'level', before: {}, after: { zones: [] } }], '/edits/0/after/zones', /no field/],
    ['another version', [{ kind: 'level', before: {}, after: { version: 3 } }], '/edits/0/after/version', /no field/],
    ['a rate that none can have', [{ kind: 'level', before: {}, after: { rate: -1 } }], '/edits/0/after/rate', /-1/],
    ['no edit at all', [], '/edits', /./],
    ['an unknown kind', [{ kind: 'burn' }], '/edits/0/kind', /./],
  ])('%s', async (_what, edits, pointer, message) => {
    const id = await created();
    const reply = await send(id, tagOf(1), edits);
    expect(reply.status).toBe(422);
    const { errors } = reply.body as { errors: { pointer: string; detail: string }[] };
    expect(errors[0]).toEqual({ pointer, detail: expect.stringMatching(message) as string });
    expect(await levelOf(id)).toEqual(demo);
    // And the level can be edited as before.
    await saved(id, tagOf(1), turned(15));
  });

  it('very many, or nested without end, or no JSON', async () => {
    const id = await created();
    const many: Edit = { kind: 'all', label: 'many', edits: Array.from({ length: 501 }, () => turned(1)) };
    expect((await send(id, tagOf(1), [many])).status).toBe(422);
    const post = (text: string) =>
      api.patch(`/api/levels/${id}`).set('if-match', tagOf(1)).set('content-type', 'application/json').send(text);
    const deep = '{"kind":"all","label":"","edits":['.repeat(4000);
    expect((await post(`{"batch":"12345678","edits":[${deep}${']}'.repeat(4000)}]}`)).status).toBe(422);
    expect((await post('{"batch":')).status).toBe(400);
    expect((await post(`{"batch":"${'x'.repeat(300_000)}"}`)).status).toBe(413);
    expect(
      (await post('{"batch":"12345678","edits":[{"kind":"level","before":{},"after":{"__proto__":{"a":1}}}]}')).status,
    ).not.toBe(500);
    expect(await levelOf(id)).toEqual(demo);
  });
});

it('lets what is added and taken back within one batch be nothing, and undo be an edit like any other', async () => {
  const id = await created();
  const edit = turned(15);
  const tag = await saved(id, tagOf(1), edit);
  await saved(id, tag, invert(edit));
  expect(await levelOf(id)).toEqual(demo);
});
