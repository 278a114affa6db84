import type { ASTNode } from '@marcbachmann/cel-js';
import { nameKey } from '../vocabulary/quantities';
import { nearest } from '../vocabulary/nearest';
import { clauseWords, clausesOf } from './clauses';
import { syntaxOf } from './conditions';
import type { Known } from './conditions';
import { conditionFunctions } from './vocabulary';
import type { FunctionName } from './vocabulary';

/** A condition in words: "Market day is on and Sack count is at least 3"; by names where it says more than clauses can. */
export function conditionWords(text: string, nameOf: (id: string) => string): string {
  const read = clausesOf(text);
  return read === null ? namesFor(text, nameOf) : read.clauses.map((one) => clauseWords(one, nameOf)).join(` ${read.join} `);
}

const quoted = /(["'])([^"'\n]*)\1/g;

/** Where ids stand in an expression, quotes included, in the order of the text; wherever there are quotes if it cannot be read. */
function idSpans(text: string): { from: number; to: number; id: string }[] {
  const tree = syntaxOf(text);
  if (tree === null)
    return [...text.matchAll(quoted)].map((found) => ({
      from: found.index,
      to: found.index + found[0].length,
      id: found[2] ?? '',
    }));
  const spans: { from: number; to: number; id: string }[] = [];
  const take = (node: ASTNode): void => {
    if (node.op === 'value' && typeof node.args === 'string') spans.push({ from: node.start, to: node.end, id: node.args });
  };
  const isAsked = (name: string): name is FunctionName => Object.hasOwn(conditionFunctions, name);
  const givesId = (name: string): boolean => isAsked(name) && conditionFunctions[name].givesIdOf !== undefined;
  const calls = (node: ASTNode, names: (name: string) => boolean): boolean =>
    node.op === 'call' && names((node.args as [string, ASTNode[]])[0]);
  const visit = (node: unknown): void => {
    if (Array.isArray(node)) node.forEach(visit);
    if (node === null || typeof node !== 'object' || !('op' in node)) return;
    const one = node as ASTNode;
    if (calls(one, isAsked)) (one.args as [string, ASTNode[]])[1].forEach(take);
    if (one.op === '==' || one.op === '!=') {
      const [left, right] = one.args as [ASTNode, ASTNode];
      if (calls(left, givesId)) take(right);
      if (calls(right, givesId)) take(left);
    }
    visit(one.args);
  };
  visit(tree);
  return spans.sort((a, b) => a.from - b.from);
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

const asking = /\b[a-z]+\((?:"[a-z0-9-]*"(?:, )?)+\)(?= = )/gi;

/** What was read of expressions, as in `text("board") = "open"`: with names in place of ids, and each value as it is. */
export function readByNames(text: string, nameOf: (id: string) => string): string {
  return text.replace(asking, (asked) =>
    asked.replace(/"([^"]*)"/g, (_whole, id: string) => (id === '' ? 'nobody' : `“${nameOf(id).trim()}”`)),
  );
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
