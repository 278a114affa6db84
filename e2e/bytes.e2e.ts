import { readdirSync } from 'node:fs';
import fc from 'fast-check';
import { ledgerText, rehearse } from '@nettlewick/core';
import type { Entry } from '@nettlewick/core';
import { anyLevel } from '../packages/core/test/any-level';
import { studioFolder } from '../scripts/paths';
import { Studio } from './studio';

const studio = new Studio();
beforeAll(() => studio.begin());
afterAll(() => studio.end());

it('says the same, byte for byte, in Node and in the worker of the studio, for 200 levels', async () => {
  const levels = fc.sample(anyLevel, { numRuns: 200, seed: 20_261_123 });
  const worker = readdirSync(studioFolder).find((file) => /^worker-\w+\.js$/.test(file))!;
  await studio.page.goto(studio.server.address);
  const there = await studio.page.evaluate(
    async ({ file, all }) => {
      const own = new Worker(`/${file}`, { type: 'module' });
      const texts: string[] = [];
      for (const [task, level] of all.entries()) {
        const reply = await new Promise<{ rehearsal?: { entries: unknown[] }; failure?: string }>((resolve) => {
          own.onmessage = ({ data }: MessageEvent<{ rehearsal?: { entries: unknown[] }; failure?: string }>) => resolve(data);
          own.postMessage({ task, level, walk: 'walk' });
        });
        texts.push(reply.failure ?? (reply.rehearsal?.entries ?? []).map((entry) => JSON.stringify(entry) + '\n').join(''));
      }
      own.terminate();
      return texts;
    },
    { file: worker, all: levels },
  );
  let entries = 0;
  levels.forEach((level, i) => {
    const here: Entry[] = rehearse(level, level.walks[0]!).entries;
    entries += here.length;
    expect(there[i]).toBe(ledgerText(here));
  });
  expect(entries).toBeGreaterThan(2000);
}, 120_000);
