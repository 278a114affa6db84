import { keptValue, slotText } from '../vocabulary/phrase';
import type { Offer, Phrase, Slot, SlotInput } from '../vocabulary/phrase';
import { withValue } from '../vocabulary/paths';
import { same } from '../vocabulary/same';
import { visitorKinds } from '../vocabulary/visitor-kinds';
import { NOTHING } from './names';
import type { TextNames } from './names';

/**
 * A sentence that can be read: what it is about, as it is said, and what more can be said of it. The reader needs no grammar: it says the
 * sentence of a thing, compares, and gives the thing the values that are written where the sentence has them, until both are the same.
 */
export interface Readable<T> {
  value: T;
  phrase(value: T, asked: ReadonlySet<string>): Phrase;
  offers(value: T): Offer[];
}

/** What was read; or how far it could be read, in characters, and what could have stood there. */
export type SentenceRead<T> = { ok: true; value: T } | { ok: false; at: number; wanted: string[] };

/** A slot as text, as the reader reads it. */
function slotWritten(slot: Slot, names: TextNames): string {
  const { input, value } = slot;
  switch (input.kind) {
    case 'text':
      return writtenText(String(value));
    case 'condition':
      return value === '' ? input.none : oneSpaced(names.conditionText(String(value)));
    case 'reference':
      if (input.tagged !== undefined && input.tagged.tag !== '') return `all tagged ${input.tagged.tag}`;
      return value === '' && input.none !== undefined ? input.none : names.textOf(String(value), input.accepts);
    default:
      return oneSpaced(slotText(slot, (id) => names.textOf(id)));
  }
}

/** A sentence as it is written. */
export function written(phrase: Phrase, names: TextNames): string {
  const parts = phrase.filter((part) => typeof part === 'string' || part.input.kind !== 'place');
  const said = parts.map((part, i) => {
    if (typeof part !== 'string') return slotWritten(part, names);
    // Nothing stands where a place is picked.
    const next = parts[i + 1];
    return typeof next === 'string' && /^[,.]/.test(next) ? part.trimEnd() : part;
  });
  return oneSpaced(said.join(''));
}

/** Reads a sentence about something. `units` gives the level's own units for metres (m) and seconds (s), and how much of that each is. */
export function readSentence<T>(
  readable: Readable<T>,
  text: string,
  names: TextNames,
  units: (unit: string) => Readonly<Record<string, number>> = () => ({}),
): SentenceRead<T> {
  return new SentenceReader(readable, text, names, units).read();
}

/** The number of sentences tried for one line. Readable lines take at most half of it. */
const MOST_TRIED = 600;

class SentenceReader<T> {
  /** How far anything was read, and what was looked for there. */
  private furthest = 0;
  private readonly wanted = new Set<string>();
  private readonly wantedKinds = new Map<string, readonly string[]>();
  private tried = 0;

  constructor(
    private readonly readable: Readable<T>,
    private readonly text: string,
    private readonly names: TextNames,
    private readonly units: (unit: string) => Readonly<Record<string, number>>,
  ) {}

  read(): SentenceRead<T> {
    const found = this.match(this.readable.value, new Map(), new Set(), 0);
    if (found !== null) return { ok: true, value: found.value };
    const things = [...this.wantedKinds.values()].flatMap((accepts) =>
      this.names.of(accepts).map(({ id }) => this.names.textOf(id, accepts)),
    );
    return { ok: false, at: this.furthest, wanted: [...new Set([...this.wanted, ...things])] };
  }

  /**
   * Reads on with some values read already: `given` has their paths, with the text that they were read from. Only what reads at least up to
   * `least` is of use.
   */
  private match(value: T, given: Given, asked: ReadonlySet<string>, least: number): { value: T } | null {
    if ((this.tried += 1) > MOST_TRIED) return null;
    let at = 0;
    const phrase = this.readable.phrase(value, asked);
    for (const [i, part] of phrase.entries()) {
      if (this.skip(at) === this.text.length && at >= least && saysEnough(given) && phrase.slice(i).every(mayBeLeftOut))
        return { value };
      if (typeof part === 'string') {
        const next = this.literal(part, at);
        if (next === null) return this.offered(value, given, asked, at, least);
        at = next;
      } else if (part.input.kind === 'place') continue;
      else {
        const known = given.get(part.path);
        at = this.skip(at);
        if (known === undefined)
          return this.slot(value, part, given, asked, at, least) ?? this.offered(value, given, asked, at, least);
        if (!this.text.startsWith(known, at)) return null;
        at += known.length;
      }
    }
    at = this.skip(at);
    // A full stop may be left out, and may be one too many.
    const isOver = at === this.text.length || this.text.slice(at).trimEnd() === '.';
    if (isOver && at >= least) return { value };
    this.want(at, END);
    return this.offered(value, given, asked, at, least);
  }

  /** Each way in which the value of a slot can be read from a place. */
  private slot(value: T, slot: Slot, given: Given, asked: ReadonlySet<string>, at: number, least: number): { value: T } | null {
    for (const { length, sets, also } of this.candidates(slot, at)) {
      const next = sets.reduce((now, one) => withValue(now, one.path, one.value), value);
      const read = new Map([...given, [slot.path, this.text.slice(at, at + length)]]);
      if (also !== undefined) read.set(also, '');
      const found = this.match(next, read, asked, least);
      if (found !== null) return found;
    }
    return null;
  }

  /** Says more of the thing, where that leads further than it was read without. */
  private offered(value: T, given: Given, asked: ReadonlySet<string>, at: number, least: number): { value: T } | null {
    if (at < least) return null;
    for (const { sets, next } of this.readable.offers(value)) {
      if (sets.some(({ path }) => [...given.keys()].some((one) => one === path || one.startsWith(`${path}/`)))) continue;
      if (sets.length === 0 && (next === undefined || asked.has(next))) continue;
      const more = sets.reduce((now, one) => withValue(now, one.path, one.value), value);
      if (sets.length > 0 && same(more, value)) continue;
      const found = this.match(more, given, next === undefined ? asked : new Set([...asked, next]), at + 1);
      if (found !== null) return found;
    }
    return null;
  }

  private skip(at: number): number {
    let next = at;
    while (isSpace(this.text[next])) next += 1;
    return next;
  }

  /** Where a fixed part of a sentence ends, ignoring case and extra spaces; null if the text does not continue with it. */
  private literal(part: string, from: number): number | null {
    const words = oneSpaced(part);
    let at = this.skip(from);
    for (let i = 0; i < words.length; i++) {
      if (words[i] === ' ') {
        at = this.skip(at);
        continue;
      }
      if (this.text[at]?.toLowerCase() === words[i]!.toLowerCase()) {
        at += 1;
        continue;
      }
      // A sentence may end without its full stop, and before a comma: whether the rest may be left out is seen then.
      const left = words.slice(i).trim();
      if (at >= this.text.length && (left === '.' || (i > 0 && left.startsWith(',')))) return at;
      this.wantWord(at, words, i);
      return null;
    }
    return at;
  }

  /** A word that is wrong is wrong from its beginning. */
  private wantWord(at: number, words: string, i: number): void {
    const begin = words.lastIndexOf(' ', i - 1) + 1;
    this.want(at - (i - Math.min(begin, i)), words.slice(Math.min(begin, i)).trim());
  }

  private want(at: number, what: string): void {
    if (at < this.furthest) return;
    if (at > this.furthest) this.forget();
    this.furthest = at;
    this.wanted.add(what);
  }

  /** A thing of some kinds is wanted: which there are is seen at the end. */
  private wantOne(at: number, accepts: readonly string[]): void {
    if (at < this.furthest) return;
    if (at > this.furthest) this.forget();
    this.furthest = at;
    this.wantedKinds.set(accepts.join(), accepts);
  }

  private forget(): void {
    this.wanted.clear();
    this.wantedKinds.clear();
  }

  /** What a slot may be, read from a place: how many characters of it, and what that sets. The likelier first. */
  private candidates(slot: Slot, at: number): Candidate[] {
    const { input, path } = slot;
    const rest = this.text.slice(at);
    const lower = rest.toLowerCase();
    const one = (length: number, value: unknown): Candidate => ({ length, sets: [{ path, value }] });
    const begins = (words: string): boolean => lower.startsWith(oneSpaced(words).toLowerCase());
    switch (input.kind) {
      case 'number':
        return this.number(input, rest, at).map(({ length, value }) => one(length, value));
      case 'choice': {
        const ends = (label: string): boolean => !/\p{L}$/u.test(label) || !/^\p{L}/u.test(rest.slice(label.length));
        const fitting = input.options.filter(({ label }) => begins(label) && ends(label));
        const found = fitting.sort((a, b) => b.label.length - a.label.length).map(({ label, value }) => one(label.length, value));
        if (found.length === 0) for (const { label } of input.options) this.want(at, label);
        // What is chosen by its name alone needs nothing more to be said.
        const { byName } = input;
        for (const { length, id } of byName === undefined ? [] : this.names.begunBy(rest, byName.accepts))
          found.push({ ...one(length, { ...byName!.value, [byName!.key]: id }), also: `${path}/${byName!.key}` });
        return found;
      }
      case 'text': {
        const found = readText(rest);
        if (found === null) this.want(at, 'a text in “quotes”');
        return found === null ? [] : [one(found.length, found.text)];
      }
      case 'condition':
        if (begins(input.none)) return [one(input.none.length, '')];
        if (rest === '') this.want(at, 'a condition');
        return this.endings(rest, true).map((text) => one(text.length, this.names.condition(text)));
      case 'reference':
        return this.references(path, input, rest, at);
      case 'tag':
        if (rest === '') this.want(at, 'a tag');
        return this.endings(rest).map((text) => one(text.length, text));
      case 'tags':
        if (begins(input.none)) return [one(input.none.length, [])];
        if (rest === '') this.want(at, 'tags');
        return this.endings(rest).map((text) => one(text.length, text.split(/, */)));
      case 'kinds': {
        if (begins('anyone')) return [one(6, [])];
        const found = /^(?:an? )?[a-z]+(?: or (?:an? )?[a-z]+)*/.exec(lower)?.[0] ?? '';
        const kinds = found.split(' or ').map((word) => word.replace(/^an? /, '').replace(/s$/, ''));
        if (kinds.every((kind) => kindWords.has(kind))) return [one(found.length, kinds)];
        for (const word of ['anyone', ...visitorKinds]) this.want(at, word);
        return [];
      }
      case 'place':
        return [];
    }
  }

  private number(
    input: Extract<SlotInput, { kind: 'number' }>,
    rest: string,
    at: number,
  ): { length: number; value: ReturnType<typeof keptValue> }[] {
    const { unit, none } = input;
    if (none !== undefined && rest.toLowerCase().startsWith(none.toLowerCase())) return [{ length: none.length, value: null }];
    const [whole = '', digits = '', own = ''] = /^(-?\d+(?:\.\d+)?(?:e[+-]?\d+)?)\s*([a-z°]+(?:\/[a-z]+)?)?/i.exec(rest) ?? [];
    if (digits === '') {
      this.want(at, unit === '' ? 'a number' : `a number of ${unit}`);
      return [];
    }
    const found = [{ length: digits.length, value: keptValue(Number(digits), input) }];
    const units = this.units(unit);
    const factor = own === unit ? 1 : (units[own] ?? units[own.toLowerCase()]);
    if (factor !== undefined && unit !== '')
      found.unshift({ length: whole.length, value: keptValue(Number(digits) * factor, input) });
    return found;
  }

  private references(path: string, input: Extract<SlotInput, { kind: 'reference' }>, rest: string, at: number): Candidate[] {
    const found: Candidate[] = [];
    const lower = rest.toLowerCase();
    const { tagged, none, accepts } = input;
    const add = (text: string, value: string): void => void found.push({ length: text.length, sets: [{ path, value }] });
    const [marked, id] = /^#([a-z0-9-]+)/.exec(rest) ?? [];
    if (id !== undefined) add(marked!, id);
    if (tagged !== undefined && lower.startsWith(ALL))
      for (const tag of this.endings(rest.slice(ALL.length)))
        found.push({ length: ALL.length + tag.length, sets: [{ path: tagged.path, value: tag }] });
    for (const { length, id: named } of this.names.begunBy(rest, accepts)) add(rest.slice(0, length), named);
    if (none !== undefined && lower.startsWith(none.toLowerCase())) add(none, '');
    if (lower.startsWith(NOTHING)) add(NOTHING, '');
    if (found.length === 0) this.wantOne(at, accepts);
    return found;
  }

  /** What is written up to where a sentence may go on: the longest first. */
  private endings(rest: string, isSentence = false): string[] {
    // The full stop at the end of a sentence belongs to the sentence.
    const whole = isSentence && rest.trimEnd().endsWith('.') ? rest.trimEnd().slice(0, -1) : rest;
    const ends = new Set([whole.length]);
    for (const found of whole.matchAll(/[ ,.;:]/g)) ends.add(found.index);
    return [...ends]
      .sort((a, b) => b - a)
      .map((end) => rest.slice(0, end).trimEnd())
      .filter((text) => text !== '')
      .slice(0, MOST_ENDINGS);
  }
}

/** Whether an event or a place was read: after one, the rest of a line may be left out. */
function saysEnough(given: Given): boolean {
  return [...given.keys()].some((path) => path === '/on' || path.endsWith('/y'));
}

/** What need not be written at the end of a line: what is as usual then, and no number but a height. */
function mayBeLeftOut(part: Phrase[number]): boolean {
  if (typeof part === 'string') return true;
  const { input, path, value } = part;
  if (input.kind === 'number') return path.endsWith('/z') && value === 0;
  if (input.kind === 'reference') return input.none !== undefined && value === '';
  if (input.kind === 'kinds') return (value as string[]).length === 0;
  return input.kind === 'choice' || input.kind === 'place';
}

/** The values that were read, by their paths, with the text that each was read from. */
type Given = ReadonlyMap<string, string>;

/** A value as it may be read: from how many characters, and what it sets. */
interface Candidate {
  length: number;
  sets: { path: string; value: unknown }[];
  /** The path of another value that is said with it, and not again. */
  also?: string;
}

/** What is wanted where a sentence could be over. */
export const END = 'the end of the line';
const ALL = 'all tagged ';

/** The number of positions tried as the end of an unquoted value. */
const MOST_ENDINGS = 60;

const kindWords: ReadonlySet<string> = new Set(visitorKinds);

/** A text as it is written: in quotes; with escapes, as in JSON, where it holds such a quote or a line break. */
function writtenText(text: string): string {
  return /[“”\\]|[^\S ]|\s\s|^\s|\s$/.test(text)
    ? JSON.stringify(text).replace(/\s\s/g, (gap) => '\\u0020'.repeat(gap.length))
    : `“${text}”`;
}

function readText(rest: string): { length: number; text: string } | null {
  const curly = /^“([^”]*)”/.exec(rest);
  if (curly !== null) return { length: curly[0].length, text: curly[1]! };
  const [quoted] = /^"(?:[^"\\]|\\.)*"/.exec(rest) ?? [];
  if (quoted === undefined) return null;
  try {
    return { length: quoted.length, text: JSON.parse(quoted) as string };
  } catch {
    return null;
  }
}

function isSpace(letter: string | undefined): boolean {
  return letter === ' ' || letter === '\u00a0';
}

/** A text with single spaces, no-break spaces among them. */
function oneSpaced(text: string): string {
  return text.replace(/\s+/g, ' ');
}
