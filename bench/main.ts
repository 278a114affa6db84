import { editToLedger } from './edit-to-ledger';
import { entries } from './entries';

// `npm run bench -- NAME` runs one benchmark. Its last line is one JSON object: what is ours, what the peer's, the ratio.

/** What a benchmark found: medians over its runs, in the unit that its name says. */
export interface Finding {
  name: string;
  unit: string;
  ours: number;
  /** What the same machine did in the same run, and what that was. */
  peer: number;
  peerName: string;
  /** How many times better ours is than the peer. */
  ratio: number;
}

const benchmarks: Record<string, () => Promise<Finding>> = { entries, 'edit-to-ledger': editToLedger };

const [name = ''] = process.argv.slice(2);
const benchmark = benchmarks[name];
if (benchmark === undefined) {
  console.error(`Name one of: ${Object.keys(benchmarks).join(', ')}\n\n  npm run bench -- entries`);
  process.exitCode = 2;
} else {
  const finding = await benchmark();
  console.log(JSON.stringify(finding));
}
