import papa from 'papaparse';
import type { Ledger } from '../ledger/ledger';
import { entrySentence } from '../reading/entries';

/** The columns of a ledger as CSV, in their order. */
const columns = ['number', 'tick', 'seconds', 'kind', 'who', 'what', 'chain', 'step', 'cause', 'says', 'details'] as const;

/**
 * A ledger as CSV (RFC 4180) with a heading: ids as in the level, what each entry says in words, and its details as JSON. Texts that a
 * spreadsheet would take for a formula begin with an apostrophe.
 */
export function ledgerCsv(ledger: Ledger, nameOf: (id: string) => string): string {
  const rows = [...ledger].map((entry) => {
    const { number, tick, seconds, kind, who, what, chain, step, cause, details } = entry;
    const said = entrySentence(entry, nameOf);
    return [
      number,
      tick,
      seconds,
      kind,
      who,
      what,
      chain,
      step,
      cause,
      said,
      Object.keys(details).length === 0 ? '' : JSON.stringify(details),
    ];
  });
  return `${papa.unparse({ fields: [...columns], data: rows }, { escapeFormulae: true, newline: '\r\n' })}\r\n`;
}
