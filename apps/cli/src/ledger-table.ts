import { entrySentence, nameOf, noiseIn, oneLine } from '@nettlewick/core';
import type { Entry, Level } from '@nettlewick/core';
import Table from 'cli-table3';

const plain = {
  top: '',
  'top-mid': '',
  'top-left': '',
  'top-right': '',
  bottom: '',
  'bottom-mid': '',
  'bottom-left': '',
  'bottom-right': '',
  left: '',
  'left-mid': '',
  mid: '',
  'mid-mid': '',
  right: '',
  'right-mid': '',
  middle: '  ',
};

/** The ledger as a table for people: what an entry caused stands indented below it. */
export function ledgerTable(level: Level, entries: readonly Entry[]): string {
  const table = new Table({
    head: ['no', 'tick', 'seconds', 'what happened', 'kind', 'cause'],
    chars: plain,
    style: { head: [], border: [], 'padding-left': 0, 'padding-right': 0 },
    colAligns: ['right', 'right', 'right', 'left', 'left', 'right'],
  });
  const depths: number[] = [];
  const noise = noiseIn(entries);
  for (const entry of entries) {
    const depth = entry.cause === null ? 0 : depths[entry.cause - 1]! + 1;
    depths.push(depth);
    if (noise.has(entry.number)) continue;
    const words = '  '.repeat(Math.min(depth, 12)) + oneLine(entrySentence(entry, (id) => nameOf(level, id), level));
    table.push([entry.number, entry.tick, entry.seconds.toFixed(3), words, entry.kind, entry.cause ?? '']);
  }
  return (
    table
      .toString()
      .split('\n')
      .map((line) => line.trimEnd())
      .join('\n') + '\n'
  );
}
