import { attachmentCycles, uniqueKeysOf, collections, levelShape, mostOf } from './level';
import type { Fixture } from '../kinds/fixtures';
import type { Collection, Thing } from './level';
import { parseLevelText } from './parse';
import type { Parsed } from './parse';
import { nameKey } from '../vocabulary/quantities';

/** What is remembered of a thing that was read: what it takes for itself, and what it is attached to. */
interface Known {
  text: string;
  /** What stood after it in its list when it was met last: it is looked for there first. */
  next: Known | null;
  ids: Token[];
  names: Token[];
  /** Of a fixture. */
  attached: { id: string; attachedTo: string } | null;
}

/** An id or a name, whoever takes it: in which document it was met last. */
interface Token {
  met: number;
}

/** A level that was read: its name, and its text as it is to be stored. */
export interface ReadText {
  ok: true;
  name: string;
  text: string;
}

/**
 * Reads the texts of documents of which most is mostly known, as of a level that is saved after each edit: what is word for
 * word what it was in a text before is not read anew. The text of a document is cut into its things; those that are known stand
 * as they are, the others are read and checked, and then what one thing alone cannot see. Whatever is unusual is left to the
 * usual way.
 */
export class LevelReader {
  private known = newMemory();
  private before = newMemory();
  private size = 0;
  private ids = new Map<string, Token>();
  private names = new Map<string, Token>();
  /** How many documents were put together: the number of the one at hand. */
  private documents = 0;

  /** `most`: characters of text to remember at the most, twice over; of more, what was not met lately is forgotten. */
  constructor(private readonly most = 16_000_000) {}

  /** Reads a document from JSON text. Never throws: what is wrong comes back as faults. */
  read(text: string): ReadText | Extract<Parsed, { ok: false }> {
    const quick = this.quick(text);
    if (quick !== null) return quick;
    const parsed = parseLevelText(text);
    if (!parsed.ok) return parsed;
    for (const collection of collections)
      for (const thing of parsed.level[collection]) this.keep(collection, JSON.stringify(thing), thing);
    return { ok: true, name: parsed.level.name, text: JSON.stringify(parsed.level) };
  }

  /** The same if most of it is known, and nothing is wrong or unusual; else null, and nothing was read that is nested deeply. */
  quick(text: string): ReadText | null {
    if (this.size === 0) return null;
    const members = cut(text, (collection, slice) => this.find(collection, slice));
    if (members === null) return null;
    try {
      return this.put(text, members);
    } catch (error) {
      // What is no JSON is told by the usual way.
      if (error instanceof SyntaxError) return null;
      throw error;
    }
  }

  /** Puts a document together from its parts; null if anything is wrong with it. */
  private put(text: string, members: Map<string, Span>): ReadText | null {
    const own: Record<string, unknown> = {};
    for (const [key, span] of members) if (span.elements === null) own[key] = JSON.parse(text.slice(span.from, span.to));
    const read = levelShape.safeParse(own);
    if (!read.success) return null;
    this.documents += 1;
    const fixtures: { id: string; attachedTo: string }[] = [];
    const parts: (string | string[])[] = [];
    const keys = Object.keys(read.data);
    // As long as every part stands where it would stand if it were written anew, the text is what would be written.
    let asIs = true;
    let at = 0;
    for (const key of keys) {
      const span = members.get(key);
      at += key.length + 4;
      asIs &&= span?.from === at;
      if (span === undefined || span.elements === null) {
        const whole = JSON.stringify((read.data as Record<string, unknown>)[key]);
        asIs &&= span !== undefined && whole === text.slice(span.from, span.to);
        at += whole.length;
        parts.push(whole);
        continue;
      }
      const collection = key as Collection;
      if (span.elements.length > mostOf[collection]) return null;
      const texts: string[] = [];
      let last: Known | null = null;
      for (const { from, to, known } of span.elements) {
        const slice = text.slice(from, to);
        const one = known ?? this.recall(collection, slice);
        if (one === null) return null;
        if (last !== null) last.next = one;
        last = one;
        asIs &&= from === (at += 1) && one.text === slice;
        at += one.text.length;
        texts.push(one.text);
        if (!this.takes(one.ids) || !this.takes(one.names)) return null;
        if (one.attached !== null) fixtures.push(one.attached);
      }
      at += span.elements.length === 0 ? 2 : 1;
      parts.push(texts);
    }
    if (attachmentCycles(fixtures).length > 0) return null;
    asIs &&= text.length === at + 1;
    return { ok: true, name: read.data.name, text: asIs ? text : written(keys, parts) };
  }

  /** Whether nothing of the document at hand has taken any of some ids or names before. */
  private takes(tokens: readonly Token[]): boolean {
    for (const token of tokens) {
      if (token.met === this.documents) return false;
      token.met = this.documents;
    }
    return true;
  }

  /** What is known of a thing by its text, which is read if it is not known; null if it is no such thing. */
  private recall(collection: Collection, text: string): Known | null {
    const known = this.find(collection, text);
    if (known !== null) return known;
    const read = levelShape.shape[collection].unwrap().element.safeParse(JSON.parse(text));
    if (!read.success) return null;
    const kept = this.keep(collection, JSON.stringify(read.data), read.data);
    // Whoever writes its fields in another order, or leaves some out, will do so again.
    if (text !== kept.text) this.remember(collection, flat(text), kept);
    return kept;
  }

  private remember(collection: Collection, text: string, known: Known): void {
    this.size += text.length;
    if (this.size > this.most) this.forget(text.length);
    this.known[collection].set(text, known);
  }

  /** The memory of late becomes that of before; whoever has not been met since then is forgotten, ids and names included. */
  private forget(size: number): void {
    this.before = this.known;
    this.known = newMemory();
    this.size = size;
    if (this.ids.size + this.names.size < 1_000_000) return;
    this.before = newMemory();
    this.ids = new Map();
    this.names = new Map();
  }

  private find(collection: Collection, text: string): Known | null {
    return this.known[collection].get(text) ?? this.before[collection].get(text) ?? null;
  }

  private keep(collection: Collection, text: string, thing: Thing): Known {
    const claims = uniqueKeysOf(thing);
    // A slice of a longer text would hold on to the whole of it.
    const own = flat(text);
    const known: Known = {
      text: own,
      next: null,
      ids: claims.map(({ id }) => tokenOf(this.ids, id)),
      names: claims.flatMap(({ name }) => (name === undefined ? [] : [tokenOf(this.names, nameKey(name))])),
      attached: collection === 'fixtures' ? { id: thing.id, attachedTo: (thing as Fixture).attachedTo } : null,
    };
    this.remember(collection, own, known);
    return known;
  }
}

/** A document written anew: the value of each field, or the texts of its things. */
function written(keys: readonly string[], parts: readonly (string | string[])[]): string {
  const fields = parts.map((part, i) => `${JSON.stringify(keys[i])}:${typeof part === 'string' ? part : `[${part.join(',')}]`}`);
  return `{${fields.join(',')}}`;
}

/** The token of an id or a name, one for all who take it. */
function tokenOf(tokens: Map<string, Token>, text: string): Token {
  let token = tokens.get(text);
  if (token === undefined) {
    token = { met: 0 };
    tokens.set(text, token);
  }
  return token;
}

type Memory = Record<Collection, Map<string, Known>>;

function newMemory(): Memory {
  return Object.fromEntries(collections.map((collection) => [collection, new Map<string, Known>()])) as Memory;
}

/** The same text as a piece of its own. */
function flat(text: string): string {
  return text.length < 16 ? text : JSON.parse(JSON.stringify(text));
}

/** Where a value stands in a text; of a list of things, where each of them does. */
interface Span {
  from: number;
  to: number;
  elements: Element[] | null;
}

/** A thing in a list: where it stands, and what is known of it if it is known. */
interface Element {
  from: number;
  to: number;
  known: Known | null;
}

type Find = (collection: Collection, text: string) => Known | null;

const QUOTE = 34;
const COMMA = 44;
const COLON = 58;
const BACKSLASH = 92;
const [LIST, END_OF_LIST] = [91, 93];
const [OBJECT, END_OF_OBJECT] = [123, 125];

/** The deepest nesting of a valid document. */
const MAX_NESTING = 200;

const lists = new Set<string>(collections);

/**
 * Cuts the text of a JSON object into its fields, and lists of things into things. What stands between them is checked here,
 * what they are by whoever reads them. Null if it is no object, or a field stands twice.
 */
function cut(text: string, find: Find): Map<string, Span> | null {
  const found = new Map<string, Span>();
  let at = skipSpace(text, 0);
  if (text.charCodeAt(at) !== OBJECT) return null;
  at = skipSpace(text, at + 1);
  while (text.charCodeAt(at) === QUOTE) {
    const key = text.slice(at + 1, (at = endOfText(text, at)) - 1);
    at = skipSpace(text, at);
    if (key.includes('\\') || found.has(key) || text.charCodeAt(at) !== COLON) return null;
    at = skipSpace(text, at + 1);
    const isList = lists.has(key) && text.charCodeAt(at) === LIST;
    const from = at;
    const elements: Element[] | null = isList ? [] : null;
    if (elements === null) at = endOfValue(text, at);
    else {
      const end = cutList(text, at, elements, (slice) => find(key as Collection, slice));
      if (end === null) return null;
      at = end;
    }
    found.set(key, { from, to: at, elements });
    at = skipSpace(text, at);
    if (text.charCodeAt(at) !== COMMA) break;
    at = skipSpace(text, at + 1);
    if (text.charCodeAt(at) !== QUOTE) return null;
  }
  if (text.charCodeAt(at) !== END_OF_OBJECT || skipSpace(text, at + 1) !== text.length) return null;
  return found;
}

/** Cuts a list into its values; gives where it ends, or null if it does not. */
function cutList(text: string, begin: number, elements: Element[], find: (text: string) => Known | null): number | null {
  let at = skipSpace(text, begin + 1);
  if (text.charCodeAt(at) === END_OF_LIST) return at + 1;
  let last = null as Known | null;
  for (;;) {
    const from = at;
    // Mostly what follows is what followed when the one before was met last.
    let known: Known | null = last?.next ?? null;
    const guess: number = at + (known?.text.length ?? 0);
    if (known !== null && isEnd(text.charCodeAt(guess)) && text.slice(at, guess) === known.text) at = guess;
    else {
      at = endOfValue(text, at);
      if (at === from) return null;
      known = find(text.slice(from, at));
    }
    last = known;
    elements.push({ from, to: at, known });
    at = skipSpace(text, at);
    const next = text.charCodeAt(at);
    if (next === END_OF_LIST) return at + 1;
    if (next !== COMMA) return null;
    at = skipSpace(text, at + 1);
  }
}

/** Whether a character is one after which a value of a list is over. */
function isEnd(code: number): boolean {
  return code === COMMA || code === END_OF_LIST;
}

/** Where a value ends that begins here, by its brackets and quotes. */
function endOfValue(text: string, begin: number): number {
  let depth = 0;
  for (let at = begin; at < text.length; at++) {
    const code = text.charCodeAt(at);
    if (code === QUOTE) {
      at = endOfText(text, at) - 1;
      if (depth === 0) return at + 1;
    } else if (code === OBJECT || code === LIST) {
      depth += 1;
      if (depth > MAX_NESTING) return text.length;
    } else if (code === END_OF_OBJECT || code === END_OF_LIST) {
      if (depth === 0) return at;
      depth -= 1;
      if (depth === 0) return at + 1;
    } else if (depth === 0 && (code === COMMA || code <= 32)) return at;
  }
  return text.length;
}

/** Where a text in quotes ends that begins here. */
function endOfText(text: string, begin: number): number {
  for (let at = text.indexOf('"', begin + 1); at >= 0; at = text.indexOf('"', at + 1)) {
    let slashes = 0;
    while (text.charCodeAt(at - 1 - slashes) === BACKSLASH) slashes += 1;
    if (slashes % 2 === 0) return at + 1;
  }
  return text.length;
}

function skipSpace(text: string, begin: number): number {
  let at = begin;
  for (let code = text.charCodeAt(at); code === 32 || code === 10 || code === 13 || code === 9; code = text.charCodeAt(at))
    at += 1;
  return at;
}
