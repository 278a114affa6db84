import fc from 'fast-check';
import { existsSync, readdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { ledgerText, parseLevelText, rehearse } from '../../src/index';
import type { Level } from '../../src/index';
import { anyLevel } from '../any-level';
import { naiveRehearsal } from './kernel';
import { textOf } from './world';

/*
 * Tests for changed kernels, in mutation testing only. What the second kernel says of the examples and of some random levels is
 * found while this file is loaded, before any change is switched on, and kept in the file that SECOND_OPINION names; to ask the
 * first kernel again takes milliseconds.
 */

const folder = join(__dirname, '../../../../demo/examples');
const examples = readdirSync(folder).flatMap((file) => {
  const parsed = parseLevelText(readFileSync(join(folder, file), 'utf8'));
  return parsed.ok ? [parsed.level] : [];
});
const levels = [...examples, ...fc.sample(anyLevel, { seed: 20_261_125, numRuns: 240 })];

interface Opinion {
  level: number;
  walk: string;
  ledger: string;
}

const told = opinions(process.env['SECOND_OPINION'] ?? '');

function opinions(kept: string): Opinion[] {
  if (existsSync(kept)) return JSON.parse(readFileSync(kept, 'utf8')) as Opinion[];
  const found = levels.flatMap((level, number) =>
    level.walks.flatMap((walk) => {
      const naive = naiveRehearsal(level, walk, { seed: 7 });
      return naive.some((entry) => entry.kind === 'runaway') ? [] : [{ level: number, walk: walk.id, ledger: textOf(naive) }];
    }),
  );
  if (kept !== '') {
    writeFileSync(`${kept}.${process.pid}`, JSON.stringify(found));
    renameSync(`${kept}.${process.pid}`, kept);
  }
  return found;
}

/** A level that the kernel has never seen, so that it is arranged anew. */
const fresh = (level: Level): Level => structuredClone(level);

describe('The second kernel', () => {
  for (let from = 0; from < told.length; from += 10) {
    it(`says the same of ledgers ${from} to ${from + 9}`, () => {
      for (const { level, walk, ledger } of told.slice(from, from + 10)) {
        const asked = fresh(levels[level]!);
        expect(
          ledgerText(
            rehearse(
              asked,
              asked.walks.find(({ id }) => id === walk)!,
              { seed: 7 },
            ).entries,
          ),
        ).toBe(ledger);
      }
    });
  }
});
