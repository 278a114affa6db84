import { build } from 'esbuild';
import { execFile } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';

/** How many levels the two kernels have to agree upon; the setting KERNEL_RUNS asks for more. */
const compared = Number(process.env['KERNEL_RUNS'] ?? 2000);
/** The same levels in every run, so that a run can be repeated; PROPERTY_SEED asks for others. */
const among = Number(process.env['PROPERTY_SEED'] ?? 20_261_123);

it('says entry by entry what a second kernel says, which tests every pair at every tick', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'nettlewick-kernels-'));
  try {
    const outfile = join(folder, 'compare.mjs');
    const entryPoints = [join(__dirname, 'naive/compare.ts')];
    await build({
      entryPoints,
      outfile,
      bundle: true,
      platform: 'node',
      format: 'esm',
      target: 'node20',
      mainFields: ['module', 'main'],
    });
    // Two halves at once: it takes by far the longest of all tests.
    const halves = await Promise.all(
      [among, among + 1].map(async (seed) => {
        const asked = [outfile, String(Math.ceil(compared / 2)), String(seed)];
        const { stdout } = await promisify(execFile)(process.execPath, asked, { maxBuffer: 1 << 28 });
        return JSON.parse(stdout) as { compared: number; kinds: string[]; differs: string | null; level: unknown };
      }),
    );
    for (const { differs, level } of halves) if (differs !== null) throw new Error(`${differs}\nlevel: ${JSON.stringify(level)}`);
    expect(halves.reduce((sum, half) => sum + half.compared, 0)).toBeGreaterThanOrEqual(compared);
    // The yards are lively enough for nearly everything to come up.
    if (compared >= 2000) expect(new Set(halves.flatMap(({ kinds }) => kinds)).size).toBeGreaterThanOrEqual(34);
  } finally {
    rmSync(folder, { recursive: true });
  }
}, 900_000);
