import { readdirSync } from 'node:fs';
import fc from 'fast-check';
import { Ledger, ledgerText, rehearse } from '@nettlewick/core';
import type { Entry, LedgerColumns } from '@nettlewick/core';
import { anyLevel } from '../packages/core/test/any-level';
import { studioFolder } from '../scripts/paths';
import { Studio } from './studio';

const studio = new Studio();
beforeAll(() => studio.begin());
afterAll(() => studio.end());

it('says the same, byte for byte, in Node and in the worker of the studio, for 200 levels', async () => {
  const levels = fc.sample(anyLevel, { numRuns: 200, seed: 20_261_123 });
  const worker = readdirSync(studioFolder).find((file) => /^worker-[A-Z0-9]{8}\.js$/.test(file))!;
  await studio.page.goto(studio.server.address);
  // As text: to hand so much over thing by thing takes ten times as long as the whole rest.
  const told = await studio.page.evaluate(
    async ({ file, text }) => {
      const own = new Worker(`/${file}`, { type: 'module', name: 'rehearsal' });
      // As Comlink asks: a method by its name, with its arguments as they are.
      const ask = (id: number, method: string, given: unknown): Promise<unknown> =>
        new Promise((resolve) => {
          own.onmessage = ({ data }: MessageEvent<{ id: string; value: unknown }>) => resolve(data.value);
          own.postMessage({ id: String(id), type: 'APPLY', path: [method], argumentList: [{ type: 'RAW', value: given }] });
        });
      const found: unknown[] = [];
      for (const [at, level] of (JSON.parse(text) as unknown[]).entries()) {
        await ask(2 * at, 'open', level);
        const { columns } = (await ask(2 * at + 1, 'rehearse', 'walk')) as { columns: LedgerColumns };
        found.push({ ...columns, numbers: [...columns.numbers] });
      }
      own.terminate();
      return JSON.stringify(found);
    },
    { file: worker, text: JSON.stringify(levels) },
  );
  const there = JSON.parse(told) as (Omit<LedgerColumns, 'numbers'> & { numbers: number[] })[];
  let entries = 0;
  levels.forEach((level, i) => {
    const here: Entry[] = rehearse(level, level.walks[0]!).entries;
    entries += here.length;
    expect(ledgerText(Ledger.of({ ...there[i]!, numbers: Int32Array.from(there[i]!.numbers) }))).toBe(ledgerText(here));
  });
  expect(entries).toBeGreaterThan(2000);
}, 240_000);
