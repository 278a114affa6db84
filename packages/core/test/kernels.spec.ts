import fc from 'fast-check';
import { ledgerText, rehearse } from '../src/index';
import { anyLevel } from './any-level';
import { naiveRehearsal } from './naive/kernel';

/** How many levels the two kernels have to agree upon; the setting KERNEL_RUNS asks for more. */
const compared = Number(process.env['KERNEL_RUNS'] ?? 2000);
const seed = 7;
/** The same levels in every run, so that a run can be repeated; PROPERTY_SEED asks for others. */
const among = Number(process.env['PROPERTY_SEED'] ?? 20_261_123);

it('says entry by entry what a second kernel says, which tests every pair at every tick', () => {
  const kinds = new Set<string>();
  fc.assert(
    fc.property(anyLevel, (level) => {
      const { entries } = rehearse(level, level.walks[0]!, { seed });
      entries.forEach((entry) => kinds.add(entry.kind));
      if (entries.some((entry) => entry.kind === 'runaway')) return;
      const naive = naiveRehearsal(level, level.walks[0]!, { seed });
      // As text first, for a list of thousands is long in comparing.
      if (ledgerText(naive) !== ledgerText(entries)) expect(naive).toEqual(entries);
    }),
    { numRuns: compared, seed: among },
  );
  // The yards are lively enough for nearly everything to come up.
  if (compared >= 2000) expect(kinds.size).toBeGreaterThanOrEqual(34);
}, 600_000);
