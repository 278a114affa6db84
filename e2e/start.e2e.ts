import { get } from 'node:http';
import type { IncomingMessage } from 'node:http';
import { spawn, spawnSync } from 'node:child_process';
import type { ChildProcess } from 'node:child_process';
import { existsSync, readFileSync, readdirSync, renameSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import pg from 'pg';
import { freePort } from '../scripts/postgres';
import { scratch } from './browser';

/** `npm start` itself, with data and a port of its own. */

const own = scratch();
const root = process.cwd();
let environment: NodeJS.ProcessEnv;
const running: ChildProcess[] = [];

beforeAll(async () => {
  environment = { ...process.env, NETTLEWICK_KEEP: own.path, PORT: String(await freePort()) };
});
// A story that failed leaves nothing running for the next one to meet.
afterEach(async () => {
  for (const child of running.splice(0)) {
    if (child.exitCode !== null || child.signalCode !== null) continue;
    const ended = new Promise((resolve) => child.once('exit', resolve));
    child.kill('SIGTERM');
    await ended;
  }
});
afterAll(() => own.remove());

interface Started {
  child: ChildProcess;
  address: string;
  lines: string[];
  seconds: number;
}

async function start(more: NodeJS.ProcessEnv = {}): Promise<Started> {
  const began = Date.now();
  const child = spawn('npm', ['start'], { cwd: root, env: { ...environment, ...more }, stdio: ['ignore', 'pipe', 'pipe'] });
  running.push(child);
  let said = '';
  child.stderr?.on('data', (chunk: Buffer) => (said += chunk.toString()));
  return new Promise((resolve, reject) => {
    child.once('exit', (code) => reject(new Error(`npm start ended with ${code}: ${said}`)));
    child.stdout?.on('data', (chunk: Buffer) => {
      said += chunk.toString();
      const lines = said.trim().split('\n');
      const address = /^http:\/\/(?:127\.0\.0\.1|\w+\.localhost):\d+(\/\?key=[\w-]+)?$/.exec(lines.at(-1) ?? '');
      if (address !== null) resolve({ child, address: address[0], lines, seconds: (Date.now() - began) / 1000 });
    });
  });
}

async function end({ child }: Started, signal: NodeJS.Signals): Promise<number> {
  const began = Date.now();
  const ended = new Promise((resolve) => child.once('exit', resolve));
  child.kill(signal);
  await ended;
  return (Date.now() - began) / 1000;
}

/** The processes of database servers whose working folder is ours. */
function databases(): number {
  const found = spawnSync(
    'sh',
    ['-c', `for p in /proc/[0-9]*; do [ "$(readlink $p/cwd)" = "${join(own.path, 'database')}" ] && echo $p; done`],
    { encoding: 'utf8' },
  );
  return found.stdout.split('\n').filter(Boolean).length;
}

/** Five seconds are what ending may take, the last process included. */
async function allEnded(): Promise<void> {
  for (let waited = 0; waited < 50 && databases() > 0; waited++) await new Promise((resolve) => setTimeout(resolve, 100));
  expect(databases()).toBe(0);
}

it('serves the studio and the demo, prints the address last, and keeps what is made from one start to the next', async () => {
  const first = await start();
  const page = await fetch(first.address);
  expect(page.headers.get('content-security-policy')).toContain("script-src 'self'");
  expect(await page.text()).toContain('<nw-app');
  const made = await fetch(`${first.address}/api/levels`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: '{"name":"Eel weir"}',
  });
  expect(made.status).toBe(201);

  // A second one while this one runs says so, and does no harm.
  const second = spawnSync('npm', ['start'], { cwd: root, env: environment, encoding: 'utf8' });
  expect(second.status).not.toBe(0);
  expect(second.stderr).toContain(
    `running already, as process ${(JSON.parse(readFileSync(join(own.path, 'running.json'), 'utf8')) as { pid: number }).pid} at ${first.address}`,
  );

  expect(await end(first, 'SIGTERM')).toBeLessThan(5);
  await allEnded();

  const again = await start();
  expect(again.address).toBe(first.address);
  const { levels } = (await (await fetch(`${again.address}/api/levels`)).json()) as { levels: { name: string }[] };
  expect(levels.map((level) => level.name)).toEqual(['Eel weir', 'Nettlewick tide mill']);
  expect(await end(again, 'SIGINT')).toBeLessThan(5);
  await allEnded();
});

it('comes up again after it was killed without warning, with everything there', async () => {
  const killed = await start();
  const { pid } = JSON.parse(readFileSync(join(own.path, 'running.json'), 'utf8')) as { pid: number };
  process.kill(pid, 'SIGKILL');
  await new Promise((resolve) => killed.child.once('exit', resolve));
  const again = await start();
  const { levels } = (await (await fetch(`${again.address}/api/levels`)).json()) as { levels: { name: string }[] };
  expect(levels).toHaveLength(2);
  await end(again, 'SIGTERM');
  await allEnded();
});

/** The processes of ours whose command has a word in it. */
function processes(word: string): number[] {
  const { pid } = JSON.parse(readFileSync(join(own.path, 'running.json'), 'utf8')) as { pid: number };
  return spawnSync('pgrep', ['-P', String(pid), '-f', word], { encoding: 'utf8' })
    .stdout.split('\n')
    .filter(Boolean)
    .map(Number);
}

async function ready(address: string): Promise<void> {
  // A machine that does much else takes its time.
  for (const began = Date.now(); Date.now() - began < 90_000;) {
    const reply = await fetch(`${address}/healthz`).catch(() => null);
    if (reply?.status === 200) return;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  throw new Error('It does not answer again');
}

it('starts its server and its database again when they die, and the database is reached by a role that may do nothing else', async () => {
  const started = await start();
  process.kill(processes('apps/server')[0]!, 'SIGKILL');
  await new Promise((resolve) => setTimeout(resolve, 300));
  await ready(started.address);
  process.kill(processes('postgres')[0]!, 'SIGKILL');
  await new Promise((resolve) => setTimeout(resolve, 300));
  await ready(started.address);
  expect(((await (await fetch(`${started.address}/api/levels`)).json()) as { levels: unknown[] }).levels).toHaveLength(2);

  const folder = join(own.path, 'database');
  const port = Number(readFileSync(join(folder, 'postmaster.pid'), 'utf8').split('\n')[3]);
  const password = readFileSync(`${folder}.secret`, 'utf8').trim();
  const keeper = new pg.Client({ host: '127.0.0.1', port, user: 'nettlewick', password, database: 'nettlewick' });
  await keeper.connect();
  const connected = async (): Promise<unknown[]> =>
    (
      await keeper.query(
        `SELECT DISTINCT usename, rolsuper, rolcreatedb FROM pg_stat_activity JOIN pg_roles ON rolname = usename
          WHERE datname = 'nettlewick' AND pid <> pg_backend_pid()`,
      )
    ).rows;
  // Whoever set the database up again has left it within moments.
  let rows = await connected();
  for (let waited = 0; rows.length > 1 && waited < 50; waited++) {
    await new Promise((resolve) => setTimeout(resolve, 100));
    rows = await connected();
  }
  const owners = await keeper.query<{ tableowner: string }>(
    "SELECT DISTINCT tableowner FROM pg_tables WHERE schemaname = 'public'",
  );
  await keeper.end();
  expect(rows).toEqual([{ usename: 'nettlewick_server', rolsuper: false, rolcreatedb: false }]);
  expect(owners.rows).toEqual([{ tableowner: 'nettlewick_server' }]);
  await end(started, 'SIGTERM');
  await allEnded();
});

it.each(['PG_VERSION', 'global', '../database.secret'])(
  'refuses a database without its %s, says what to do, and touches nothing',
  async (name) => {
    const folder = join(own.path, 'database');
    const [there, away] = [join(folder, name), join(own.path, 'away')];
    renameSync(there, away);
    const before = readdirSync(folder).sort();
    const refused = spawnSync('npm', ['start'], { cwd: root, env: environment, encoding: 'utf8' });
    expect(refused.status).toBe(2);
    expect(refused.stderr).toContain(folder);
    expect(refused.stderr).toContain(name.split('/').at(-1));
    expect(refused.stderr).toContain('move it away');
    expect(refused.stderr).not.toMatch(/\n\s+at /);
    expect(readdirSync(folder).sort()).toEqual(before);
    expect(existsSync(there)).toBe(false);
    renameSync(away, there);
  },
);

it('asks for the secret where others use the machine, and its address carries it', async () => {
  const started = await start({ SHARED_MACHINE: '1' });
  // A name of its own keeps the session from every other port of loopback; browsers know it, the resolver of this machine may not.
  const { host, port, pathname, search, searchParams } = new URL(started.address);
  expect(host).toMatch(/^\w+\.localhost:\d+$/);
  const origin = `http://127.0.0.1:${port}`;
  expect((await fetch(`${origin}/api/levels`)).status).toBe(401);
  const entered = await new Promise<IncomingMessage>((resolve, reject) =>
    get({ host: '127.0.0.1', port, path: pathname + search, headers: { host } }, resolve).on('error', reject),
  );
  entered.resume();
  expect([entered.statusCode, entered.headers.location]).toEqual([303, '/']);
  const file = join(own.path, 'secret');
  expect(statSync(file).mode & 0o777).toBe(0o600);
  expect(readFileSync(file, 'utf8').trim()).toBe(searchParams.get('key'));
  const authorization = `Bearer ${searchParams.get('key')}`;
  const { levels } = (await (await fetch(`${origin}/api/levels`, { headers: { authorization } })).json()) as {
    levels: unknown[];
  };
  expect(levels).toHaveLength(2);
  await end(started, 'SIGTERM');
  await allEnded();
});

it('removes nothing for good but by a purge that is told so', () => {
  const purge = (...words: string[]) =>
    spawnSync('npm', ['run', '--silent', 'purge', '--', ...words], { cwd: root, env: environment, encoding: 'utf8' });
  expect(purge('--older-than', '3').status).toBe(2);
  // A note that was left half written by one that was killed says of nobody that it runs.
  writeFileSync(join(own.path, 'running.json'), '');
  const nothing = purge('--older-than', '30', '--yes');
  expect([nothing.status, nothing.stdout]).toEqual([0, 'No level was deleted more than 30 days ago.\n']);
});
