import { editToLedger } from './edit-to-ledger';
import { entries } from './entries';
import type { Finding } from './finding';

// `npm run bench -- NAME` runs one benchmark. Its last line is one JSON object: what is ours, what the peer's, the ratio.

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
