import { nameKey } from '../vocabulary/quantities';
import { nearest } from '../vocabulary/nearest';
import { clauseWords, clausesOf } from './clauses';
import { namingIn } from './conditions';
import type { Known } from './known';
import type { Argument, Quoted } from './naming';
import { conditionFunctions, isFunctionName } from './vocabulary';
import type { ParameterWord } from './vocabulary';

/** A condition in words: "Market day is on and Sack count is at least 3"; by names where it says more than clauses can. */
export function conditionWords(text: string, nameOf: (id: string) => string): string {
  const read = clausesOf(text);
  return read === null ? namesFor(text, nameOf) : read.clauses.map((one) => clauseWords(one, nameOf)).join(` ${read.join} `);
}

const quoted = /(["'])([^"'\n]*)\1/g;

/** A call whose arguments are all written out. */
const plainCall = /\b([a-z]+)\((\s*(?:"[^"\\]*"|hand\(\))(?:\s*,\s*(?:"[^"\\]*"|hand\(\)))*\s*)\)/gi;

/**
 * The ids of an expression all of whose texts stand in calls like `flag("market")`: most are, and a level has thousands. Null where
 * only its syntax tree tells which of its texts are ids.
 */
function plainIdSpans(text: string): IdSpan[] | null {
  if (/['\\]|\/\//.test(text)) return null;
  const spans: IdSpan[] = [];
  let count = 0;
  for (const { index, 0: call, 1: name = '', 2: given = '' } of text.matchAll(plainCall)) {
    if (!isFunctionName(name) || conditionFunctions[name].of.flat().includes('tag')) return null;
    const start = index + call.length - given.length - 1;
    for (const { index: at, 0: id } of given.matchAll(/"[^"]*"/g)) {
      spans.push({ from: start + at, to: start + at + id.length, id: id.slice(1, -1) });
      count += 2;
    }
  }
  return count === (text.match(/"/g)?.length ?? 0) ? spans : null;
}

interface IdSpan {
  from: number;
  to: number;
  id: string;
}

/** Where ids stand in an expression, quotes included, in the order of the text; wherever there are quotes if it cannot be read. */
function idSpans(text: string): IdSpan[] {
  const plain = plainIdSpans(text);
  if (plain !== null) return plain;
  const naming = namingIn(text);
  if (naming === null)
    return [...text.matchAll(quoted)].map((found) => ({
      from: found.index,
      to: found.index + found[0].length,
      id: found[2] ?? '',
    }));
  const ids = naming.calls.flatMap(({ name, args }) =>
    isFunctionName(name) ? args.flatMap((given, at) => idsIn(given, conditionFunctions[name].of[at] ?? [])) : [],
  );
  const spans = new Map([...ids, ...naming.compared].map((one) => [one.from, one]));
  return [...spans.values()].sort((a, b) => a.from - b.from).map(({ text: id, from, to }) => ({ from, to, id }));
}

/** The ids that an argument writes out, itself or in the list it is an element of. */
function idsIn(given: Argument, words: readonly ParameterWord[]): readonly Quoted[] {
  if (words.includes('tag')) return [];
  if (given.is === 'quoted') return [given];
  return given.is === 'element' && given.of.is === 'written' ? given.of.ids : [];
}

/** The tags whose things an expression asks about. */
export function tagsListedIn(text: string): string[] {
  const calls = text.includes('tagged') ? namingIn(text)?.calls : undefined;
  return (calls ?? []).flatMap(({ name, args: [tag] }) => (name === 'tagged' && tag?.is === 'quoted' ? [tag.text] : []));
}

/** The ids of the things that an expression names, in the order of the text. */
export function idsNamedIn(text: string): string[] {
  return idSpans(text).map(({ id }) => id);
}

/** An expression with something else in place of each id; null leaves an id as it stands. */
export function withIds(text: string, by: (id: string) => string | null): string {
  let [result, end] = ['', 0];
  for (const { from, to, id } of idSpans(text)) {
    const name = by(id);
    if (name === null) continue;
    const quote = text[from] === "'" ? "'" : '"';
    result += `${text.slice(end, from)}${quote}${name.replace(/[\\"']/g, '\\$&')}${quote}`;
    end = to;
  }
  return result + text.slice(end);
}

/** An expression with the names of things in place of their ids. */
export function namesFor(text: string, nameOf: (id: string) => string): string {
  return withIds(text, (id) => (id === '' ? null : nameOf(id).trim()));
}

const answered = /\b([a-z]+)\(((?:"(?:[^"\\]|\\.)*"(?:, )?)*)\) = (\[[^\]]*\]|"(?:[^"\\]|\\.)*")?/gi;

/** What was read of expressions, as in `text("board") = "open"`: with names in place of ids, and each other value as it is. */
export function readByNames(text: string, nameOf: (id: string) => string): string {
  const named = (id: string): string => (id === '' ? 'nobody' : `“${nameOf(id).trim()}”`);
  const byNames = (quotedTexts: string): string => quotedTexts.replace(/"([^"]*)"/g, (_whole, id: string) => named(id));
  return text.replace(answered, (whole, name: string, given: string, answer = '') => {
    if (!isFunctionName(name)) return whole;
    const { of, givesIdOf, gives } = conditionFunctions[name];
    const asked = given.split(', ').map((one, at) => (of[at]?.includes('tag') === true ? one : byNames(one)));
    const isId = gives === 'ids' || givesIdOf !== undefined;
    return `${name}(${asked.join(', ')}) = ${isId ? byNames(answer) : answer}`;
  });
}

/**
 * An expression that was typed by names, with the ids in their place. A name that no thing has is left as it stands, and told
 * with the one that was probably meant.
 */
export function idsFor(text: string, things: Known): { text: string; unknown: { name: string; meant: string | null }[] } {
  const byName = new Map<string, string>();
  for (const [id, { thing }] of things) byName.set(nameKey(thing.name), id);
  const unknown: { name: string; meant: string | null }[] = [];
  const read = withIds(text, (name) => {
    if (name === '') return null;
    const id = byName.get(nameKey(name)) ?? (things.has(name) ? name : undefined);
    if (id !== undefined) return id;
    const names = [...things.values()].map(({ thing }) => thing.name.trim());
    unknown.push({ name, meant: nearest(name, names) });
    return null;
  });
  return { text: read, unknown };
}
