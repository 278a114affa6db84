import { readFileSync } from 'node:fs';
import { Agent, request } from 'node:http';
import { setTimeout as pause } from 'node:timers/promises';
import { change, parseLevelText } from '@nettlewick/core';
import type { Edit, Level } from '@nettlewick/core';
import pg from 'pg';
import { demoFile, keep, studioFolder } from '../scripts/paths';
import { freePort, withScratchCluster } from '../scripts/postgres';
import { startServer } from '../scripts/server-process';
import type { Finding } from './finding';
import { brief, median } from './median';

/** Saves a second that are asked for, for how many seconds, of how many levels. */
const RATE = 200;
const SECONDS = 15;
const LEVELS = 40;
/** As many at once, of us and of the peer, when each goes as fast as it can. */
const AT_ONCE = 8;
const FASTEST = 6;

const agent = new Agent({ keepAlive: true, maxSockets: 64 });

/**
 * Saves of the demo: how many a second, against how many PostgreSQL alone commits of the very same bytes with as many
 * connections; how long a save takes when two hundred are asked for each second, whether the last is answered or not; and how
 * much of a processor a save of a level of 5,000 things takes.
 */
export async function saves(): Promise<Finding> {
  const demo = levelOf(readFileSync(demoFile, 'utf8'));
  return withScratchCluster(keep, async (url) => {
    const server = await startServer({
      DATABASE_URL: url,
      PORT: String(await freePort()),
      STUDIO_FOLDER: studioFolder,
      LOG_LEVEL: 'warn',
    });
    try {
      const ids: string[] = [];
      for (let i = 0; i < LEVELS; i++) ids.push(await create(server.address, demo));
      let saved = 0;
      const editors = ids.map((id) => new EditorOf(server.address, id));
      // A zone is moved each time, as whoever edits does.
      const one = async (i: number): Promise<void> => {
        saved += 1;
        const zone = demo.zones[saved % demo.zones.length]!;
        await editors[i % LEVELS]!.move(zone, saved / 1000);
      };
      // Until all is compiled, as a server is that has run for a while.
      await fastest(one, 8);
      const times = await atRate(one);
      const ours: number[] = [];
      const peer: number[] = [];
      const bare: number[] = [];
      const text = JSON.stringify(demo);
      const commit = await committing(url, text);
      const commitEdit = await committing(url, JSON.stringify(movedBy(demo.zones[0]!, 1)));
      let processor = 0;
      for (let round = 0; round < 3; round++) {
        const before = processorOf(server.pid);
        ours.push(await fastest(one, FASTEST));
        processor += (processorOf(server.pid) - before) / (ours.at(-1)! * FASTEST) / 3;
        peer.push(await fastest(commit.one, FASTEST));
        bare.push(await fastest(commitEdit.one, FASTEST));
      }
      await commit.end();
      await commitEdit.end();
      const large = await processorTime(server.address, server.pid, demo);
      const [a, b] = [median(ours), median(peer)];
      return {
        name: 'saves',
        unit: 'saves of the demo a second',
        ours: brief(a),
        peer: brief(b),
        peerName: `PostgreSQL committing the same ${text.length} bytes, ${AT_ONCE} connections`,
        ratio: brief(a / b),
        'commits a second of the edit alone': brief(median(bare)),
        'ratio to those': brief(a / median(bare)),
        [`p50 ms at ${RATE} a second`]: brief(times[Math.floor(times.length * 0.5)]!),
        [`p99 ms at ${RATE} a second`]: brief(times[Math.floor(times.length * 0.99)]!),
        'processor ms of a save of the demo': brief(processor),
        'processor ms of a save of 5,000 things': brief(large),
      };
    } finally {
      await server.stop();
    }
  });
}

function levelOf(text: string): Level {
  const parsed = parseLevelText(text);
  if (!parsed.ok) throw new Error('The level has faults');
  return parsed.level;
}

/** Sends what is due at a steady rate, whether the last was answered or not; how long each took, in order of length. */
async function atRate(one: (i: number) => Promise<void>): Promise<number[]> {
  const times: number[] = [];
  const under: Promise<void>[] = [];
  const begun = performance.now();
  for (let i = 0; i < RATE * SECONDS; i++) {
    const due = begun + (i * 1000) / RATE;
    const early = due - performance.now();
    if (early > 1) await pause(early);
    under.push(one(i).then(() => void times.push(performance.now() - due)));
  }
  await Promise.all(under);
  return times.sort((a, b) => a - b);
}

/** How many a second, with some at once, each as fast as it can. */
async function fastest(one: (i: number) => Promise<void>, seconds: number): Promise<number> {
  const until = performance.now() + seconds * 1000;
  let done = 0;
  let next = 0;
  await Promise.all(
    Array.from({ length: AT_ONCE }, async () => {
      while (performance.now() < until) {
        await one((next += 1));
        done += 1;
      }
    }),
  );
  return done / seconds;
}

/** The peer: the database alone, which stores the same bytes as a row of its own each time. */
async function committing(url: string, text: string): Promise<{ one(i: number): Promise<void>; end(): Promise<void> }> {
  const pool = new pg.Pool({ connectionString: url, max: AT_ONCE });
  // What goes wrong is told by whoever asked.
  pool.on('error', () => undefined);
  await pool.query('CREATE TABLE IF NOT EXISTS peer (id bigserial PRIMARY KEY, document json NOT NULL)');
  return {
    one: async () => void (await pool.query('INSERT INTO peer (document) VALUES ($1)', [text])),
    end: () => pool.end(),
  };
}

/** The processor time of the server for one save of a level of 5,000 things of which one has moved, in milliseconds. */
async function processorTime(address: string, pid: number, demo: Level): Promise<number> {
  const [zone] = demo.zones;
  const zones = Array.from({ length: 5000 }, (_, i) => ({
    ...zone!,
    id: `zone-${i}`,
    name: `Zone ${i}`,
    at: { x: i % 100, y: i / 100, z: 0 },
  }));
  const level: Level = { ...demo, zones, chains: [], walks: [] };
  const id = await create(address, level);
  const editor = new EditorOf(address, id);
  for (let i = 0; i < 40; i++) await editor.move(zones[i]!, -i);
  const before = processorOf(pid);
  for (let i = 40; i < 240; i++) await editor.move(zones[i]!, -i);
  return (processorOf(pid) - before) / 200;
}

/** The edit that moves a zone. */
function movedBy(zone: Level['zones'][number], x: number): Edit {
  return change('zones', zone, { at: { ...zone.at, x } });
}

/** Edits a level, one edit after the other, as a window does that has it open. */
class EditorOf {
  private etag = '*';
  private batches = 0;
  private last: Promise<void> = Promise.resolve();

  constructor(
    private readonly address: string,
    private readonly id: string,
  ) {}

  move(zone: Level['zones'][number], x: number): Promise<void> {
    this.last = this.last.then(async () => {
      const body = { batch: `bench-batch-${(this.batches += 1)}`, edits: [movedBy(zone, x)] };
      const saved = (await send('PATCH', `${this.address}/api/levels/${this.id}`, body, this.etag)) as { etag: string };
      this.etag = saved.etag;
    });
    return this.last;
  }
}

/** How long a process has used a processor, in milliseconds (proc(5): utime and stime, in hundredths of a second). */
function processorOf(pid: number): number {
  const fields = readFileSync(`/proc/${pid}/stat`, 'utf8').split(') ')[1]!.split(' ');
  return (Number(fields[11]) + Number(fields[12])) * 10;
}

async function create(address: string, level: Level): Promise<string> {
  return ((await send('POST', `${address}/api/levels`, { level })) as { id: string }).id;
}

function send(method: string, url: string, body: unknown, etag = '*'): Promise<unknown> {
  const text = JSON.stringify(body);
  const headers = { 'content-type': 'application/json', 'content-length': Buffer.byteLength(text), 'if-match': etag };
  return new Promise((resolve, reject) => {
    const asked = request(url, { method, headers, agent }, (reply) => {
      let said = '';
      reply.on('data', (chunk: Buffer) => (said += chunk.toString()));
      reply.on('end', () =>
        (reply.statusCode ?? 500) < 300
          ? resolve(JSON.parse(said))
          : reject(new Error(`${reply.statusCode}: ${said.slice(0, 300)}`)),
      );
    });
    asked.once('error', reject);
    asked.end(text);
  });
}
