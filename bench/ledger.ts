import { createReadStream, createWriteStream, mkdtempSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { once } from 'node:events';
import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';
import { LedgerReader, ledgerPieces, rehearse } from '@nettlewick/core';
import { chatter } from './field';
import type { Finding } from './finding';
import { brief } from './median';

const ENTRIES = 1_000_000;

/**
 * A million entries in memory, written to a file and read back: how many megabytes the ledger takes, both ways, against
 * the same entries as a list of objects (the peer). The ratio is how many times less ours takes.
 */
export async function ledger(): Promise<Finding> {
  setFlagsFromString('--expose-gc');
  const collect = runInNewContext('gc') as () => void;
  const memory = (): number => {
    collect();
    const { heapUsed, arrayBuffers } = process.memoryUsage();
    return (heapUsed + arrayBuffers) / 2 ** 20;
  };
  const level = chatter(2000, 1500, 60 * 300);
  rehearse(level, { ...level.walks[0]!, atMost: 0.2 });
  const before = memory();
  const own = rehearse(level, level.walks[0]!);
  const { ledger: whole } = own;
  own.tracks.visitors.clear();
  const ours = memory() - before;
  if (whole.length < ENTRIES) throw new Error(`Only ${whole.length} entries`);
  const folder = mkdtempSync(join(tmpdir(), 'nettlewick-ledger-'));
  const file = join(folder, 'ledger.jsonl');
  const begun = performance.now();
  const out = createWriteStream(file);
  for (const piece of ledgerPieces(whole)) if (!out.write(piece)) await once(out, 'drain');
  out.end();
  await once(out, 'finish');
  const written = performance.now();
  const reader = new LedgerReader(level.rate);
  const start = memory();
  for await (const piece of createReadStream(file, 'utf8')) reader.read(piece as string);
  const back = reader.end();
  const readBack = memory() - start;
  const done = performance.now();
  for (let number = 1; number <= whole.length; number++)
    if (JSON.stringify(whole.at(number)) !== JSON.stringify(back.at(number)))
      throw new Error(`Entry ${number} was not read back as it was`);
  const megabytes = statSync(file).size / 2 ** 20;
  rmSync(folder, { recursive: true });
  const here = memory();
  const list = [...whole].map((entry) => ({ ...entry, details: { ...entry.details } }));
  const peer = memory() - here;
  console.log(
    `${whole.length} entries: ${brief(ours)} MB in memory, ${brief(readBack)} MB when read back, ${brief(megabytes)} MB on disk`,
  );
  console.log(
    `written in ${Math.round(written - begun)} ms, read back in ${Math.round(done - written)} ms; ${list.length} objects compared`,
  );
  return {
    name: 'ledger',
    unit: 'megabytes',
    ours: brief(Math.max(ours, readBack)),
    peer: brief(peer),
    peerName: 'the same entries as objects',
    ratio: brief(peer / Math.max(ours, readBack)),
  };
}
