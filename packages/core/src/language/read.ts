import type { Chain } from '../document/chains';
import { factCollection, freeName } from '../document/create';
import type { StateKind } from '../document/create';
import { applied, change } from '../document/edits';
import type { Edit } from '../document/edits';
import { deletionOf } from '../document/deleting';
import { lookup } from '../document/lookup';
import type { Collection, Level, Thing } from '../document/level';
import { parseThing } from '../document/parse';
import { unitsOf } from '../sentences/units';
import { nearest } from '../vocabulary/nearest';
import { nameKey } from '../vocabulary/quantities';
import { same } from '../vocabulary/same';
import { blankChain, blankFact, causeLine, readFact, readManner, stepLine, usual } from './lines';
import type { Units } from './lines';
import { TextNames } from './names';
import { factWords, printChain } from './print';
import type { SentenceRead } from './sentence-reader';

/** Something wrong in a text: lines and columns count from 1; `wanted` has what could have stood there. */
export interface TextFault {
  line: number;
  column: number;
  /** How many characters are wrong, at least one. */
  length: number;
  message: string;
  wanted: string[];
}

/** What reading a text has changed: the things by name. */
export interface TextChanges {
  added: string[];
  changed: string[];
  removed: string[];
}

/** A text that was read: the edit that brings the level to it, null if nothing is otherwise; or all that is wrong in it. */
export type WiringRead = { ok: true; edit: Edit | null; changes: TextChanges } | { ok: false; faults: TextFault[] };

/** How a text is to be read. */
export interface ReadOptions {
  /** Gives a new id; `prefix` is what it begins with. */
  newId(prefix: string): string;
  /** The ids of the things that the text stands for: those of them that it has no more are deleted. Without it nothing is. */
  standsFor?: readonly string[];
}

/**
 * Reads wiring as text into a level: each paragraph is a fact, a signal, a watch or a chain, and takes the place of the thing of that kind that
 * has its name, or is new. Causes and steps that are as before keep their ids. Nothing is read where anything is wrong.
 */
export function readWiring(text: string, level: Level, options: ReadOptions): WiringRead {
  return new TextReader(text, level, options).read();
}

interface Line {
  /** From 1. */
  number: number;
  indent: number;
  text: string;
}

interface Block {
  head: Line;
  word: StateKind | 'chain';
  name: string;
  lines: Line[];
}

const heads: ReadonlySet<string> = new Set([...factWords, 'chain']);
/** A step indented by this many columns more than the one before runs together with it. */
const TOGETHER_INDENT = 1;

class TextReader {
  private readonly faults: TextFault[] = [];
  private readonly edits: Edit[] = [];
  private readonly changes: TextChanges = { added: [], changed: [], removed: [] };
  /** The level with all that the text begins anew. */
  private begun: Level;
  private names!: TextNames;
  private readonly units: Units;
  /** The new names of things that the text has under another. */
  private readonly renamed = new Map<string, string>();
  /** What has which name by now. */
  private readonly known = new Map<string, { collection: Collection; id: string }>();

  constructor(
    private readonly text: string,
    private readonly level: Level,
    private readonly options: ReadOptions,
  ) {
    this.begun = level;
    this.units = (unit) => unitsOf(level, unit);
  }

  read(): WiringRead {
    const blocks = this.blocks();
    this.findRenamed(blocks);
    for (const [id, { collection, thing }] of lookup(this.level))
      this.known.set(nameKey(this.renamed.get(id) ?? thing.name), { collection, id });
    const ids = blocks.map((block) => this.begin(block));
    this.names = new TextNames(this.begun, this.renamed);
    blocks.forEach((block, i) => {
      const id = ids[i];
      if (id === null || id === undefined) return;
      if (block.word === 'chain') this.readChain(block, id);
      else this.readOne(block, factCollection[block.word], id);
    });
    if (this.faults.length > 0) return { ok: false, faults: this.faults.sort((a, b) => a.line - b.line) };
    const kept = new Set(ids);
    const gone = (this.options.standsFor ?? []).filter((id) => !kept.has(id) && lookup(this.level).has(id));
    for (const id of gone) this.changes.removed.push(lookup(this.level).get(id)!.thing.name.trim());
    const made = this.edits.reduce(applied, this.level);
    if (gone.length > 0) {
      const deletion = deletionOf(made, gone);
      if (deletion.ok && deletion.edit !== null) this.edits.push(deletion.edit);
    }
    const count = this.edits.length;
    const edit: Edit | null = count === 0 ? null : { kind: 'all', label: 'edit the wiring as text', edits: this.edits };
    return { ok: true, edit, changes: this.changes };
  }

  private blocks(): Block[] {
    const blocks: Block[] = [];
    this.text.split(/\r?\n/).forEach((raw, i) => {
      const text = raw.trim();
      if (text === '' || text.startsWith('//')) return;
      const line: Line = { number: i + 1, indent: raw.length - raw.trimStart().length, text };
      if (line.indent > 0) {
        const block = blocks.at(-1);
        if (block === undefined) this.fault(line, 0, `A text begins with a paragraph, such as “chain ${text}”`, [...heads]);
        else block.lines.push(line);
        return;
      }
      const [, word = '', rest = ''] = /^(\S+)(?:\s+(.*))?$/.exec(text) ?? [];
      if (heads.has(word.toLowerCase()) && rest !== '')
        blocks.push({ head: line, word: word.toLowerCase() as Block['word'], name: headName(rest), lines: [] });
      else {
        const close = nearest(word, [...heads]);
        const meant = rest !== '' && close !== null ? ` Did you mean “${close}”?` : '';
        this.fault(line, 0, `A paragraph begins with what it is and its name: ${listed([...heads])}.${meant}`, [...heads]);
        blocks.push({ head: line, word: 'chain', name: '', lines: [] });
      }
    });
    return blocks;
  }

  /** A paragraph with a new name in place of one whose name is gone is that one, renamed: pairwise, in their order. */
  private findRenamed(blocks: readonly Block[]): void {
    const { level } = this;
    const named = new Set(blocks.map(({ word, name }) => `${word} ${nameKey(name)}`));
    const standsFor = new Set(this.options.standsFor ?? []);
    for (const word of [...factWords, 'chain'] as const) {
      const things = level[collectionOf(word)] as Thing[];
      const known = new Set(things.map(({ name }) => nameKey(name)));
      const gone = things.filter(({ id, name }) => standsFor.has(id) && !named.has(`${word} ${nameKey(name)}`));
      const fresh = blocks.filter((block) => block.word === word && block.name !== '' && !known.has(nameKey(block.name)));
      // Of several it is not sure which is which.
      if (gone.length === fresh.length) gone.forEach(({ id }, i) => this.renamed.set(id, fresh[i]!.name));
    }
  }

  /** The id of what a paragraph is about, which is made if there is none yet; null where the paragraph has a fault of its own. */
  private begin(block: Block): string | null {
    const { word, name, head } = block;
    if (name === '') return null;
    const collection = collectionOf(word);
    const known = this.known.get(nameKey(name));
    if (known?.collection === collection) return known.id;
    if (known !== undefined) {
      this.fault(head, head.text.indexOf(name), `“${name}” is the name of something else. Names are unique in a level`, []);
      return null;
    }
    const id = this.options.newId(word);
    const made = word === 'chain' ? { ...blankChain, id, name } : ({ ...blankFact(word), id, name } as Thing);
    const parsed = parseThing(collection, made);
    if (!parsed.ok) {
      this.fault(head, head.text.indexOf(name), parsed.faults[0]!.message, []);
      return null;
    }
    this.known.set(nameKey(name), { collection, id });
    const edit: Edit = { kind: 'add', collection, index: this.begun[collection].length, thing: made };
    this.begun = applied(this.begun, edit);
    this.edits.push(edit);
    this.changes.added.push(name);
    return id;
  }

  private readOne({ word, name, head, lines }: Block, collection: Collection, id: string): void {
    const now = lookup(this.begun).get(id)!.thing;
    let thing: Thing = { ...blankFact(word as StateKind), id };
    for (const line of lines) {
      const read = readFact(collection, thing, line.text, this.names, this.units);
      if (read.ok) thing = read.value;
      else this.unread(line, read);
    }
    this.set(
      collection,
      now,
      { ...thing, id, name: nameKey(now.name) === nameKey(name) && now.name.trim() === name.trim() ? now.name : name },
      head,
    );
  }

  private readChain({ name, head, lines }: Block, id: string): void {
    const now = lookup(this.begun).get(id)!.thing as Chain;
    // Most of a long text is as it was.
    if (printChain(now, this.names) === [head, ...lines].map(({ indent, text }) => `${' '.repeat(indent)}${text}\n`).join(''))
      return;
    const isSpelled = now.name.trim() === name.trim();
    let chain: Chain = { ...usual(now), name: isSpelled ? now.name : name, enabled: true, causes: [], steps: [] };
    const causeIds = new Reused(
      now.causes,
      (cause) => causeLine.write(cause, this.names),
      () => this.options.newId('cause'),
    );
    const stepIds = new Reused(
      now.steps,
      (step) => stepLine.write({ ...step, start: 'after' }, this.names),
      () => this.options.newId('step'),
    );
    let first: number | null = null;
    for (const line of lines) {
      if (/^off\.?$/i.test(line.text)) chain = { ...chain, enabled: false };
      else if (/^when\b/i.test(line.text)) {
        const read = causeLine.read(line.text, this.names, this.units);
        if (read.ok) chain = { ...chain, causes: [...chain.causes, { ...read.value, id: causeIds.of(read.value) }] };
        else this.unread(line, read);
      } else if (/^(?:only if|it starts|if triggered|with \{)/i.test(line.text)) {
        const read = readManner(chain, line.text, this.names, this.units);
        if (read.ok) chain = read.value;
        else this.unread(line, read);
      } else {
        const read = stepLine.read(line.text, this.names, this.units);
        first ??= line.indent;
        if (!read.ok) this.unread(line, read);
        else {
          const isBeside = line.indent >= first + TOGETHER_INDENT;
          const step = { ...read.value, id: stepIds.of({ ...read.value, start: 'after' }) };
          chain = { ...chain, steps: [...chain.steps, isBeside ? { ...step, start: 'with' } : step] };
        }
      }
    }
    this.set('chains', now, chain, head);
  }

  /** Makes a thing what the text says, if it is otherwise. */
  private set(collection: Collection, now: Thing, wanted: Thing, head: Line): void {
    const parsed = parseThing(collection, wanted);
    if (!parsed.ok) {
      const [fault] = parsed.faults;
      this.fault(head, 0, `${fault!.message} (${fault!.path})`, []);
      return;
    }
    const fields = Object.keys({ ...now, ...parsed.thing }) as (keyof Thing)[];
    const otherwise = fields.filter((field) => !same(now[field], parsed.thing[field]));
    if (otherwise.length === 0) return;
    const after = Object.fromEntries(otherwise.map((field) => [field, parsed.thing[field]]));
    this.edits.push(change(collection, now, after as Partial<Thing>));
    const name = parsed.thing.name.trim();
    if (!this.changes.added.includes(name)) this.changes.changed.push(name);
  }

  /** A line that could not be read: from where, what stands there, and what could. */
  private unread(line: Line, { at, wanted: all }: Extract<SentenceRead<unknown>, { ok: false }>): void {
    const wanted = all.map((one) => one.replace(/^[,;:] /, '')).filter((one) => /\p{L}{2}|^\p{L}$/u.test(one));
    const rest = line.text.slice(at);
    const word = /^\S+(?:\s\S+)?/.exec(rest)?.[0] ?? '';
    const close = nearest(/^\S*/.exec(rest)![0], wanted) ?? nearest(word, wanted) ?? nearestStart(rest, wanted);
    const found = rest === '' ? 'The line ends too early' : `“${word}” cannot stand here`;
    const could =
      wanted.length === 0 ? '' : ` Possible: ${listed(wanted.slice(0, MOST_WANTED))}${wanted.length > MOST_WANTED ? ' …' : ''}.`;
    this.fault(line, at, `${found}.${close === null ? '' : ` Did you mean “${close}”?`}${could}`, wanted);
  }

  private fault(line: Line, at: number, message: string, wanted: string[]): void {
    const rest = line.text.slice(Math.max(0, at));
    const length = Math.max(1, /^\S*/.exec(rest)![0].length);
    this.faults.push({ line: line.number, column: line.indent + Math.max(0, at) + 1, length, message, wanted });
  }
}

function collectionOf(word: Block['word']): Collection {
  return word === 'chain' ? 'chains' : factCollection[word];
}

/** The number of alternatives that an error lists. */
const MOST_WANTED = 8;

/** The wanted words that are nearest to as many letters of what stands there. */
function nearestStart(rest: string, wanted: readonly string[]): string | null {
  const starts = new Map(wanted.map((words) => [rest.slice(0, words.length), words]));
  for (const [start, words] of starts) if (nearest(start, [words]) !== null) return words;
  return null;
}

function listed(words: readonly string[]): string {
  return words.map((word) => `“${word}”`).join(', ');
}

/** The name at the head of a paragraph. */
function headName(text: string): string {
  if (!text.startsWith('"')) return text;
  try {
    return String(JSON.parse(text));
  } catch {
    return text;
  }
}

/** Gives ids to what was read: that of the one that was written so before, else of the next of the same kind, else a new one. */
class Reused<T extends { id: string }> {
  private readonly left: { id: string; text: string }[];

  constructor(
    before: readonly T[],
    private readonly write: (one: T) => string,
    private readonly fresh: () => string,
  ) {
    this.left = before.map((one) => ({ id: one.id, text: write(one) }));
  }

  of(one: T): string {
    const text = this.write(one);
    const at = this.left.findIndex((known) => known.text === text);
    return at < 0 ? this.fresh() : this.left.splice(at, 1)[0]!.id;
  }
}

/**
 * Reads one more line of a chain: a cause, which takes the place of one of which no source was chosen yet; a condition; or a step, at the end.
 * Faults count from the beginning of the line.
 */
export function readLine(text: string, level: Level, chain: Chain, newId: (prefix: string) => string): WiringRead {
  const isCause = /^\s*when\b/i.test(text);
  const before = isCause ? { ...chain, causes: chain.causes.filter(({ of }) => of !== '') } : chain;
  const whole = printChain(before, new TextNames(level));
  const read = readWiring(`${whole}${INDENT}${text.trim()}`, level, { newId });
  if (read.ok) return read;
  const at = INDENT.length - (text.length - text.trimStart().length);
  return { ok: false, faults: read.faults.map((fault) => ({ ...fault, line: 1, column: Math.max(1, fault.column - at) })) };
}

/**
 * Reads a new chain from one line: a cause, and after a colon its steps, with semicolons between: "When player enters Doorstep: open Mill door;
 * 2 s later, close Mill door". It is named after what triggers it.
 */
export function readNewChain(text: string, level: Level, newId: (prefix: string) => string): WiringRead {
  if (!/^\s*when\b/i.test(text)) {
    const message = 'A chain begins with what triggers it, such as “When player enters …”';
    return { ok: false, faults: [{ line: 1, column: 1, length: Math.max(1, text.length), message, wanted: ['When'] }] };
  }
  const ends = [...text.matchAll(/: /g)].map(({ index }) => index);
  let best: Extract<WiringRead, { ok: false }> | null = null;
  // A name may have a colon of its own.
  for (const end of [text.length, ...ends]) {
    const steps = text.slice(end + 2).split(/; */);
    const cause = readLine(text.slice(0, end), { ...level, chains: [...level.chains, blankChain] }, blankChain, newId);
    if (!cause.ok) {
      if (best === null || cause.faults[0]!.column > best.faults[0]!.column) best = cause;
      continue;
    }
    const source = sourceOf(cause.edit);
    const name = freeName(level, source === '' ? 'New chain' : `${lookup(level).get(source)!.thing.name.trim()} triggers`);
    const lines = [
      `chain ${name}`,
      `${INDENT}${text.slice(0, end)}`,
      ...steps.filter((step) => step !== '').map((step) => INDENT + step),
    ];
    const read = readWiring(lines.join('\n'), level, { newId });
    if (read.ok) return read;
    best = read;
  }
  return best!;
}

/** What the cause that an edit has added comes from; empty where none is chosen. */
function sourceOf(edit: Edit | null): string {
  const [first] = edit?.kind === 'all' ? edit.edits : [];
  const causes = first?.kind === 'change' ? (first.after['causes'] as Chain['causes'] | undefined) : undefined;
  const of = causes?.[0]?.of ?? '';
  return of;
}

const INDENT = '    ';
