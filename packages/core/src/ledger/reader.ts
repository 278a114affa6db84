import { entryKinds } from '../vocabulary/entries';
import { Ledger } from './ledger';
import type { Details, Entry, NewEntry } from './entry';

const kinds = new Set<string>(entryKinds);
const nothing: Details = Object.freeze({});

/**
 * Reads JSON lines back into a ledger, piece by piece; a piece may end anywhere. Throws a SyntaxError that names the line
 * if one is not an entry in its turn.
 */
export class LedgerReader {
  private rest = '';
  private lines = 0;
  private readonly texts = new Map<string, string>();
  readonly ledger: Ledger;

  constructor(rate: number) {
    this.ledger = new Ledger(rate);
  }

  read(piece: string): void {
    const lines = (this.rest + piece).split('\n');
    this.rest = lines.pop()!;
    lines.forEach((line) => this.line(line));
  }

  /** Reads what is left when there are no more pieces, and gives the ledger. */
  end(): Ledger {
    if (this.rest !== '') this.line(this.rest);
    this.rest = '';
    return this.ledger;
  }

  private line(text: string): void {
    this.lines += 1;
    let entry: Entry;
    try {
      entry = JSON.parse(text) as Entry;
    } catch {
      throw new SyntaxError(`Line ${this.lines} of the ledger is not JSON`);
    }
    if (entry.number !== this.ledger.length + 1 || !kinds.has(entry.kind))
      throw new SyntaxError(`Line ${this.lines} of the ledger is not its entry ${this.ledger.length + 1}`);
    // Its kind and its details are those of one entry.
    this.ledger.write(entry.tick, { ...entry, details: this.kept(entry.details) } as NewEntry);
  }

  /** Details whose texts are kept once each; what is empty is shared. */
  private kept(details: Details): Details {
    const fields = Object.entries(details);
    if (fields.length === 0) return nothing;
    return Object.fromEntries(
      fields.map(([key, value]) => [key, typeof value === 'string' ? this.once(value) : value]),
    ) as Details;
  }

  private once(text: string): string {
    const same = this.texts.get(text);
    if (same !== undefined) return same;
    if (this.texts.size < 100_000) this.texts.set(text, text);
    return text;
  }
}
