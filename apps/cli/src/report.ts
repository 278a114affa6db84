import {
  expectationWords,
  findingsOfWalks,
  ledgerPieces,
  nameOf,
  oneLine,
  readByNames,
  roundSentence,
  roundsIn,
} from '@nettlewick/core';
import type { Level, Rehearsal, Walk } from '@nettlewick/core';
import { ledgerTable } from './ledger-table';

/** The number of repeats from which a round is reported below the ledger. */
const REPORTED_ROUNDS = 5;

/** Where a report goes: what was asked for, and what is beside it. */
export interface ReportOptions {
  out(text: string): void;
  err(text: string): void;
}

/** Prints a ledger, and what became of the walk's expectations; beside JSON lines those go where notes go. */
export function report(
  { out, err }: ReportOptions,
  level: Level,
  { walk, rehearsal }: { walk: Walk; rehearsal: Rehearsal },
  asked: { ledger: boolean; json: boolean },
): void {
  if (asked.json) for (const piece of ledgerPieces(rehearsal.ledger)) out(piece);
  else if (asked.ledger) out(ledgerTable(level, rehearsal.entries));
  const named = (id: string): string => nameOf(level, id).trim();
  if (asked.ledger && !asked.json) {
    for (const round of roundsIn(rehearsal.entries, REPORTED_ROUNDS))
      err(`goes round: ${oneLine(roundSentence(round, named))}\n`);
    for (const { kind, reason } of findingsOfWalks(level, [{ walk, rehearsal }]).findings)
      if (kind === 'falls-for-ever') err(`${oneLine(reason)}\n`);
  }
  const { expectations } = rehearsal;
  if (expectations.length === 0) return;
  const lines = expectations.map(({ id, label, passed, because, entries }) => {
    const asked = walk.expectations.find((one) => one.id === id);
    const said = label !== '' || asked === undefined ? label : expectationWords(level, asked);
    const shown = entries.length === 0 ? '' : ` (${entries.length === 1 ? 'entry' : 'entries'} ${entries.join(', ')})`;
    return `${passed ? 'passed' : 'FAILED'}  ${oneLine(`${said}: ${readByNames(because, named)}${shown}`)}\n`;
  });
  const met = expectations.filter((one) => one.passed).length;
  const text = `${walk.name.trim()}: ${met} of ${expectations.length} expectations met\n${lines.join('')}`;
  if (asked.json) err(text);
  else out(text);
}
