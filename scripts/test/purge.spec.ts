import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { join } from 'node:path';
import { LevelRepository, connect } from '@nettlewick/server';
import pg from 'pg';

/** What `npm run purge` removes, and what it leaves alone: levels of a database of their own. */

const given = process.env['TEST_DATABASE_URL'];
if (given === undefined) throw new Error('TEST_DATABASE_URL has to name a PostgreSQL server; npm test starts one.');
const name = `purge_spec_${process.pid}`;
const url = given.replace(/\/[^/]*$/, `/${name}`);

async function asAdmin(sql: string): Promise<void> {
  const client = new pg.Client({ connectionString: given });
  await client.connect();
  await client.query(sql);
  await client.end();
}

beforeAll(() => asAdmin(`CREATE DATABASE ${name}`));
afterAll(() => asAdmin(`DROP DATABASE ${name} WITH (FORCE)`));

const purge = (...words: string[]): { code: number | null; said: string } => {
  const run = spawnSync(process.execPath, [join(__dirname, '../bootstrap.mjs'), 'purge', ...words], {
    encoding: 'utf8',
    env: { ...process.env, DATABASE_URL: url },
  });
  return { code: run.status, said: run.stdout + run.stderr };
};

let source: Awaited<ReturnType<typeof connect>>;
beforeAll(async () => {
  source = await connect(url);
  const store = new LevelRepository(source);
  const bytes = Buffer.from('{}');
  const digest = createHash('sha512-256').update(bytes).digest('hex');
  for (const [level, days] of [
    ['Weir', 31],
    ['Loft', 401],
    ['Mill', 0],
  ] as const) {
    const { id } = await store.create({ name: level, bytes, digest });
    if (days > 0)
      await source.query('UPDATE levels SET deleted_at = now() - make_interval(days => $2) WHERE id = $1', [id, days]);
  }
}, 60_000);
afterAll(() => source.destroy());

const left = async (): Promise<string[]> =>
  ((await source.query('SELECT name FROM levels ORDER BY name')) as { name: string }[]).map((row) => row.name);

// Each command is a program that starts: a time limit of its own each.
it.each([[['--yse']], [['--yes', 'now']], [['--older-than=soon', '--yes']], [['--older-than=29', '--yes']], [['--older-than']]])(
  'removes nothing when it does not understand %j',
  async (words) => {
    expect([purge(...words).code, await left()]).toEqual([2, ['Loft', 'Mill', 'Weir']]);
  },
  60_000,
);

it('only explains itself when asked for help', async () => {
  const help = purge('--help', '--yes');
  expect([help.code, help.said.includes('--older-than <days>')]).toEqual([0, true]);
  expect(await left()).toEqual(['Loft', 'Mill', 'Weir']);
}, 60_000);

it('lists what it would remove, and removes it with --yes', async () => {
  const listed = purge('--older-than=400');
  expect(listed.said).toContain('"Loft"');
  expect(listed.said).not.toContain('"Weir"');
  expect(await left()).toEqual(['Loft', 'Mill', 'Weir']);

  const done = purge('--older-than=400', '--yes');
  expect([done.code, done.said.indexOf('"Loft"') < done.said.indexOf('1 removed for good')]).toEqual([0, true]);
  expect(await left()).toEqual(['Mill', 'Weir']);
}, 60_000);

it('removes what has been deleted for thirty days where no age is given', async () => {
  expect(purge('--yes').code).toBe(0);
  expect(await left()).toEqual(['Mill']);
}, 60_000);
