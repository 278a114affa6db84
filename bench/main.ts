import { isMainThread, parentPort } from 'node:worker_threads';
import { attachments } from './attachments';
import { live, orders, spread, spreadOn } from './beyond';
import { board } from './board';
import { checks } from './checks';
import { diagnosis } from './diagnosis';
import { drag } from './drag';
import { edit } from './edit';
import { editToLedger } from './edit-to-ledger';
import { entries } from './entries';
import type { Finding } from './finding';
import { growth } from './growth';
import { idle } from './idle';
import { ledger } from './ledger';
import { opening } from './opening';
import { reload } from './reload';
import { saves } from './saves';
import { scrolling } from './scrolling';
import { sensing } from './sensing';
import { step } from './step';
import { typing } from './typing';
import { walking } from './walking';

// `npm run bench -- NAME` runs one benchmark. Its last line is one JSON object: what is ours, what the peer's, the ratio.

const benchmarks: Record<string, (args: string[]) => Finding | Promise<Finding>> = {
  sensing,
  growth,
  idle,
  checks,
  diagnosis,
  ledger,
  reload,
  entries,
  'edit-to-ledger': editToLedger,
  saves,
  attachments,
  step,
  drag,
  edit,
  board,
  opening,
  typing,
  scrolling,
  orders,
  spread,
  live,
  walking,
};

const [name = '', ...args] = process.argv.slice(2);
const benchmark = benchmarks[name];
if (!isMainThread) {
  // A thread of the spread: it is asked for a job, and says when it is done.
  parentPort!.on('message', (job: number[] | number) => parentPort!.postMessage(spreadOn(job)));
} else if (benchmark === undefined) {
  console.error(`Name one of: ${Object.keys(benchmarks).join(', ')}\n\n  npm run bench -- entries`);
  process.exitCode = 2;
} else {
  const finding = await benchmark(args);
  console.log(JSON.stringify(finding));
}
