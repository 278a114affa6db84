import { build } from 'esbuild';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

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
    const printed = execFileSync(process.execPath, [outfile, String(compared), String(among)], { maxBuffer: 1 << 28 });
    const found = JSON.parse(printed.toString()) as { compared: number; kinds: string[]; differs: string | null; level: unknown };
    if (found.differs !== null) throw new Error(`${found.differs}\nlevel: ${JSON.stringify(found.level)}`);
    expect(found.compared).toBe(compared);
    // The yards are lively enough for nearly everything to come up.
    if (compared >= 2000) expect(found.kinds.length).toBeGreaterThanOrEqual(34);
  } finally {
    rmSync(folder, { recursive: true });
  }
}, 900_000);
