import fc from 'fast-check';
import { ledgerText, rehearse } from '../../src/index';
import type { Level } from '../../src/index';
import { anyLevel } from '../any-level';
import { naiveRehearsal } from './kernel';
import { textOf } from './world';
import type { Entry } from './world';

/*
 * Compares the two kernels on random levels, and prints what came of it as JSON. It runs outside of the test runner, whose
 * contexts make it many times slower. Arguments: how many levels, the seed of the levels.
 */

const [runs = 2000, seed = 1] = process.argv.slice(2).map(Number);
const kinds = new Set<string>();
let entries = 0;

const short = ({ number, tick, kind, who, what, chain, cause, details }: Entry): string =>
  `${number} tick ${tick} ${kind} ${who} ${what} ${chain} cause ${cause} ${JSON.stringify(details)}`;

/** Where the two ledgers part, with what came before; null if they are the same. */
function difference(level: Level): string | null {
  const ours = rehearse(level, level.walks[0]!, { seed: 7 }).entries;
  ours.forEach((entry) => kinds.add(entry.kind));
  entries += ours.length;
  if (ours.some((entry) => entry.kind === 'runaway')) return null;
  const naive = naiveRehearsal(level, level.walks[0]!, { seed: 7 });
  if (textOf(naive) === ledgerText(ours)) return null;
  const at = ours.findIndex((entry, i) => naive[i] === undefined || short(entry) !== short(naive[i]));
  const from = at < 0 ? ours.length : at;
  const part = (all: Entry[]): string[] => all.slice(Math.max(0, from - 5), from + 3).map(short);
  return ['the kernel:', ...part(ours), 'the second kernel:', ...part(naive)].join('\n');
}

const found = fc.check(
  fc.property(anyLevel, (level) => {
    const differs = difference(level);
    if (differs !== null) throw new Error(differs);
  }),
  // A level that differs is told as it is: to shrink one takes long, and seldom helps.
  { numRuns: runs, seed, endOnFailure: true },
);
const level = found.failed ? found.counterexample?.[0] : null;
const differs = found.failed ? String((found.errorInstance as Error | undefined)?.message ?? found.errorInstance) : null;
console.log(JSON.stringify({ compared: found.numRuns, entries, kinds: [...kinds], differs, level }));
