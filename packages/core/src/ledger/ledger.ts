import { entryKinds } from '../vocabulary/entries';
import type { Details, Entry, NewEntry } from './entry';
import { secondsOf } from '../vocabulary/ticks';

const nothing: Details = Object.freeze({});

/** A ledger as plain data: what its entries say in numbers, the ids they name, and their details. */
export interface LedgerColumns {
  rate: number;
  numbers: Int32Array<ArrayBuffer>;
  names: string[];
  details: Details[];
}

/**
 * The entries of a rehearsal, numbered from 1, kept in columns: some forty bytes an entry and what its details need.
 * Ids are kept once each.
 */
export class Ledger {
  private size = 0;
  private numbers = new Int32Array(256 * COLUMNS);
  private details: Details[] = [];
  private names: string[] = [];
  private places = new Map<string, number>();

  /** A ledger of its columns, which are its own from now on. */
  static of({ rate, numbers, names, details }: LedgerColumns): Ledger {
    const ledger = new Ledger(rate);
    ledger.size = details.length;
    // Room for one more entry at least: it grows from there.
    ledger.numbers = numbers.length > 0 ? numbers : ledger.numbers;
    ledger.details = details;
    ledger.names = names;
    ledger.places = new Map(names.map((name, at) => [name, at + 1]));
    return ledger;
  }

  /** `rate`: ticks a second. */
  constructor(readonly rate: number) {}

  get length(): number {
    return this.size;
  }

  /** Writes one entry and gives its number. */
  write(tick: number, { kind, who, what, chain, step, cause, details }: NewEntry): number {
    const at = this.size * COLUMNS;
    if (at === this.numbers.length) {
      const wider = new Int32Array((Math.floor(this.size * 1.5) + 1) * COLUMNS);
      wider.set(this.numbers);
      this.numbers = wider;
    }
    const { numbers } = this;
    numbers[at] = tick;
    numbers[at + 1] = kindPlaces.get(kind)!;
    numbers[at + 2] = this.place(who);
    numbers[at + 3] = this.place(what);
    numbers[at + 4] = this.place(chain);
    numbers[at + 5] = this.place(step);
    numbers[at + 6] = cause ?? 0;
    this.details.push(details ?? nothing);
    this.size += 1;
    return this.size;
  }

  /** Its columns, to be sent elsewhere: the numbers are a copy, whose buffer can be handed over. */
  columns(): LedgerColumns {
    return { rate: this.rate, numbers: this.numbers.slice(0, this.size * COLUMNS), names: this.names, details: this.details };
  }

  /** A ledger of its own with the entries up to a tick, that one included. */
  upTo(tick: number): Ledger {
    let size = 0;
    while (size < this.size && this.numbers[size * COLUMNS]! <= tick) size += 1;
    const { rate, numbers, names, details } = this;
    return Ledger.of({ rate, numbers: numbers.slice(0, size * COLUMNS), names: [...names], details: details.slice(0, size) });
  }

  /** The entry with a number; undefined if there is none. */
  at(number: number): Entry | undefined {
    if (number < 1 || number > this.size) return undefined;
    const at = (number - 1) * COLUMNS;
    const { numbers } = this;
    // The details were written with the kind.
    return {
      number,
      tick: numbers[at]!,
      seconds: secondsOf(numbers[at]!, this.rate),
      kind: entryKinds[numbers[at + 1]!]!,
      who: this.name(numbers[at + 2]!),
      what: this.name(numbers[at + 3]!),
      chain: this.name(numbers[at + 4]!),
      step: this.name(numbers[at + 5]!),
      cause: numbers[at + 6] === 0 ? null : numbers[at + 6]!,
      details: this.details[number - 1]!,
    } as Entry;
  }

  /** Every entry in order. */
  *[Symbol.iterator](): Generator<Entry> {
    for (let number = 1; number <= this.size; number++) yield this.at(number)!;
  }

  private place(name: string | null | undefined): number {
    if (name === null || name === undefined) return 0;
    let found = this.places.get(name);
    if (found === undefined) {
      found = this.names.push(name);
      this.places.set(name, found);
    }
    return found;
  }

  private name(place: number): string | null {
    return place === 0 ? null : this.names[place - 1]!;
  }
}

const COLUMNS = 7;
const kindPlaces = new Map<string, number>(entryKinds.map((kind, at) => [kind, at]));

/** The ledger as JSON lines: the bytes that have to be the same everywhere. */
export function ledgerText(entries: Iterable<Entry>): string {
  let text = '';
  for (const entry of entries) text += JSON.stringify(entry) + '\n';
  return text;
}

/** The ledger as JSON lines, in pieces of some thousand lines, so that a long one needs no room for the whole text. */
export function* ledgerPieces(entries: Iterable<Entry>): Generator<string> {
  let piece: string[] = [];
  for (const entry of entries) {
    piece.push(JSON.stringify(entry));
    if (piece.length === 2000) {
      yield piece.join('\n') + '\n';
      piece = [];
    }
  }
  if (piece.length > 0) yield piece.join('\n') + '\n';
}
