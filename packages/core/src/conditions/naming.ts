import type { ASTNode } from '@marcbachmann/cel-js';
import type { ThingWord } from '../kinds/words';
import { conditionFunctions, isFunctionName } from './vocabulary';

/** A text that is written out, with its place in the expression: from where to where, quotes included, counted from 0. */
export interface Quoted {
  text: string;
  from: number;
  to: number;
}

/** A list of things: those with a tag, those of some kinds, or those whose ids are written out. */
type ThingList =
  { is: 'tagged'; tag: string } | { is: 'kinds'; words: readonly ThingWord[] } | { is: 'written'; ids: readonly Quoted[] };

/** What is given to a function: a text, `hand()`, an element of a list of things, or something that is no name. */
export type Argument = ({ is: 'quoted' } & Quoted) | { is: 'hand' } | { is: 'element'; of: ThingList } | { is: 'other' };

/** A call of a function, with its place in the expression. */
export interface Call {
  name: string;
  from: number;
  to: number;
  args: Argument[];
}

/** The macros of the language that name the elements of a list. */
const macros: ReadonlySet<string> = new Set(['all', 'exists', 'exists_one', 'filter', 'map']);

/** The lists that the names stand for which macros give to elements; null for what has no things in it. */
type Scope = ReadonlyMap<string, ThingList | null>;

/** What an expression names: its calls, and the ids its answers are compared with, in the order of the text. */
export interface Naming {
  calls: Call[];
  compared: Quoted[];
}

/** Reads what an expression names, each element of a list by where the list comes from. */
export function namingOf(root: ASTNode): Naming {
  const naming: Naming = { calls: [], compared: [] };
  read(root, new Map(), naming);
  return naming;
}

function read(node: unknown, scope: Scope, into: Naming): void {
  if (Array.isArray(node)) return node.forEach((one) => read(one, scope, into));
  if (!isNode(node)) return;
  const { op, args, start, end } = node;
  if (op === 'call') {
    const [name, given] = args as [string, ASTNode[]];
    into.calls.push({ name, from: start, to: end, args: given.map((one) => argumentOf(one, scope)) });
  } else if (op === '==' || op === '!=') {
    const [left, right] = args as [ASTNode, ASTNode];
    if (givesId(left, scope)) into.compared.push(...quotedIn([right]));
    if (givesId(right, scope)) into.compared.push(...quotedIn([left]));
  } else if (op === 'in') {
    const [left, right] = args as [ASTNode, ASTNode];
    const list = listOf(right, scope);
    if (list !== null && list.is !== 'written') into.compared.push(...quotedIn([left]));
    if (givesId(left, scope) && right.op === 'list') into.compared.push(...quotedIn(right.args as ASTNode[]));
  } else if (op === 'rcall') {
    const [method, receiver, given] = args as [string, ASTNode, ASTNode[]];
    const [variable, ...rest] = given;
    if (macros.has(method) && variable?.op === 'id') {
      read(receiver, scope, into);
      return read(rest, new Map([...scope, [variable.args as string, listOf(receiver, scope)]]), into);
    }
  }
  read(args, scope, into);
}

function argumentOf(node: ASTNode, scope: Scope): Argument {
  const [quoted] = quotedIn([node]);
  if (quoted !== undefined) return { is: 'quoted', ...quoted };
  if (isHand(node)) return { is: 'hand' };
  const of = node.op === 'id' ? scope.get(node.args as string) : undefined;
  return of === undefined || of === null ? { is: 'other' } : { is: 'element', of };
}

/** The list that a node stands for; null if it is none, or not one of things. */
function listOf(node: ASTNode, scope: Scope): ThingList | null {
  if (node.op === 'list') {
    const ids = quotedIn(node.args as ASTNode[]);
    return ids.length > 0 && ids.length === (node.args as ASTNode[]).length ? { is: 'written', ids } : null;
  }
  if (node.op === 'rcall') {
    const [method, receiver] = node.args as [string, ASTNode, ASTNode[]];
    return method === 'filter' ? listOf(receiver, scope) : null;
  }
  if (node.op !== 'call') return null;
  const [name, given] = node.args as [string, ASTNode[]];
  if (!isFunctionName(name) || conditionFunctions[name].gives !== 'ids') return null;
  const words = conditionFunctions[name].givesIdOf;
  if (words !== undefined) return { is: 'kinds', words };
  const [tag] = quotedIn(given);
  return tag === undefined ? null : { is: 'tagged', tag: tag.text };
}

/** Whether a node stands for the id of a thing that need not be written out. */
function givesId(node: ASTNode, scope: Scope): boolean {
  if (node.op === 'id') return !['written', undefined].includes(scope.get(node.args as string)?.is);
  if (node.op !== 'call') return false;
  const [name] = node.args as [string, ASTNode[]];
  return isFunctionName(name) && conditionFunctions[name].gives === 'string' && conditionFunctions[name].givesIdOf !== undefined;
}

export function isHand({ op, args }: ASTNode): boolean {
  return op === 'call' && (args as [string, ASTNode[]])[0] === 'hand';
}

/** Those of some nodes that are texts. */
export function quotedIn(nodes: readonly ASTNode[]): Quoted[] {
  return nodes.flatMap(({ op, args, start, end }) =>
    op === 'value' && typeof args === 'string' ? [{ text: args, from: start, to: end }] : [],
  );
}

export function isNode(value: unknown): value is ASTNode {
  return value !== null && typeof value === 'object' && 'op' in value;
}
