import { spawn, spawnSync } from 'node:child_process';
import type { ChildProcess } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
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
afterAll(() => {
  for (const child of running) child.kill('SIGKILL');
  own.remove();
});

interface Started {
  child: ChildProcess;
  address: string;
  lines: string[];
  seconds: number;
}

async function start(): Promise<Started> {
  const began = Date.now();
  const child = spawn('npm', ['start'], { cwd: root, env: environment, stdio: ['ignore', 'pipe', 'pipe'] });
  running.push(child);
  let said = '';
  child.stderr?.on('data', (chunk: Buffer) => (said += chunk.toString()));
  return new Promise((resolve, reject) => {
    child.once('exit', (code) => reject(new Error(`npm start ended with ${code}: ${said}`)));
    child.stdout?.on('data', (chunk: Buffer) => {
      said += chunk.toString();
      const lines = said.trim().split('\n');
      const address = /^http:\/\/127\.0\.0\.1:\d+$/.exec(lines.at(-1) ?? '');
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
