import type { ASTNode } from '@marcbachmann/cel-js';
import { anyVisitor } from '../kinds/words';
import type { ThingWord } from '../kinds/words';
import { syntaxOf } from './conditions';
import { conditionFunctions } from './vocabulary';
import type { FunctionName } from './vocabulary';

/** Stands in a clause for the visitor that triggered what is evaluated. It is no id: ids have no brackets. */
export const TRIGGERING = 'hand()';

/** One comparison of a condition. `number`, `with` and `text` count only where its kind has a place for them. */
export interface Clause {
  /** The id of the thing it is about, or `TRIGGERING`. */
  of: string;
  asks: ClauseKind;
  number: number;
  /** The id of the other thing, or `TRIGGERING`. */
  with: string;
  text: string;
}

export type ClauseKind = keyof typeof kinds;

/** A condition that is a row of clauses, all of which must hold, or one of which is enough. */
export interface Clauses {
  join: 'and' | 'or';
  clauses: Clause[];
}

/** A value of a clause that stands in its words. */
export type ClauseSlot = 'number' | 'with' | 'text';
export type ClausePart = string | { slot: ClauseSlot };

interface Kind {
  /** What follows the name of the thing, with the slots in braces. */
  says: string;
  /** The expression, with `of` and the slots as names. Without `of` it is about the triggering visitor. */
  cel: string;
}

const kinds = {
  'flag-on': { says: 'is on', cel: 'flag(of)' },
  'flag-off': { says: 'is off', cel: '!flag(of)' },
  'flag-on-for': { says: 'is on for {with}', cel: 'flagOf(of, with)' },
  'flag-off-for': { says: 'is off for {with}', cel: '!flagOf(of, with)' },
  'counter-least': { says: 'is at least {number}', cel: 'counter(of) >= number' },
  'counter-most': { says: 'is at most {number}', cel: 'counter(of) <= number' },
  'counter-is': { says: 'is {number}', cel: 'counter(of) == number' },
  'counter-least-for': { says: 'is at least {number} for {with}', cel: 'counterOf(of, with) >= number' },
  'counter-most-for': { says: 'is at most {number} for {with}', cel: 'counterOf(of, with) <= number' },
  'counter-is-for': { says: 'is {number} for {with}', cel: 'counterOf(of, with) == number' },
  somebody: { says: 'is occupied', cel: 'count(of) > 0' },
  nobody: { says: 'is empty', cel: 'count(of) == 0' },
  'inside-least': { says: 'has at least {number} inside', cel: 'count(of) >= number' },
  pressed: { says: 'is pressed', cel: 'pressed(of)' },
  'not-pressed': { says: 'is not pressed', cel: '!pressed(of)' },
  'load-least': { says: 'bears at least {number}', cel: 'load(of) >= number' },
  'load-most': { says: 'bears at most {number}', cel: 'load(of) <= number' },
  'switch-on': { says: 'is switched on', cel: 'on(of)' },
  'switch-off': { says: 'is switched off', cel: '!on(of)' },
  open: { says: 'is open', cel: 'open(of)' },
  'not-open': { says: 'is not open', cel: '!open(of)' },
  closed: { says: 'is closed', cel: 'closed(of)' },
  'not-closed': { says: 'is not closed', cel: '!closed(of)' },
  'at-stop': { says: 'is at stop {number}', cel: 'stop(of) == number' },
  'not-at-stop': { says: 'is not at stop {number}', cel: 'stop(of) != number' },
  moving: { says: 'moves', cel: 'moving(of)' },
  'not-moving': { says: 'does not move', cel: '!moving(of)' },
  collected: { says: 'is collected', cel: 'collected(of)' },
  'not-collected': { says: 'is not collected', cel: '!collected(of)' },
  'text-is': { says: 'says {text}', cel: 'text(of) == text' },
  'text-is-not': { says: 'does not say {text}', cel: 'text(of) != text' },
  'text-is-for': { says: 'says {text} for {with}', cel: 'textOf(of, with) == text' },
  inside: { says: 'is inside {with}', cel: 'inside(of, with)' },
  'not-inside': { says: 'is not inside {with}', cel: '!inside(of, with)' },
  carried: { says: 'is carried', cel: 'carrier(of) != ""' },
  'not-carried': { says: 'is not carried', cel: 'carrier(of) == ""' },
  'carried-by': { says: 'is carried by {with}', cel: 'carrier(of) == with' },
  'in-room': { says: 'is in room {with}', cel: 'room(of) == with' },
  'not-in-room': { says: 'is not in room {with}', cel: 'room(of) != with' },
  'in-play': { says: 'is in play', cel: 'inPlay(of)' },
  'not-in-play': { says: 'is not in play', cel: '!inPlay(of)' },
  'heading-least': { says: 'faces at least {number}°', cel: 'heading(of) >= number' },
  'heading-most': { says: 'faces at most {number}°', cel: 'heading(of) <= number' },
  'control-held': { says: 'has its control held', cel: 'held(of)' },
  'control-free': { says: 'has its control', cel: '!held(of)' },
  'is-visitor': { says: 'is {with}', cel: 'hand() == with' },
  'is-not-visitor': { says: 'is not {with}', cel: 'hand() != with' },
  'owner-nobody': { says: 'has no owner', cel: 'owner(of) == ""' },
  'owner-somebody': { says: 'has an owner', cel: 'owner(of) != ""' },
  'owned-by': { says: 'is owned by {with}', cel: 'owner(of) == with' },
  'not-owned-by': { says: 'is not owned by {with}', cel: 'owner(of) != with' },
  shown: { says: 'is shown', cel: 'shown(of)' },
  hidden: { says: 'is hidden', cel: '!shown(of)' },
  'see-through': { says: 'is translucent', cel: 'seeThrough(of)' },
  opaque: { says: 'is not translucent', cel: '!seeThrough(of)' },
  solid: { says: 'is solid', cel: 'solid(of)' },
  passable: { says: 'is passable', cel: '!solid(of)' },
  enabled: { says: 'is enabled', cel: 'enabled(of)' },
  disabled: { says: 'is disabled', cel: '!enabled(of)' },
  running: { says: 'runs', cel: 'running(of)' },
  'not-running': { says: 'is not running', cel: '!running(of)' },
} as const satisfies Record<string, Kind>;

const all = Object.entries(kinds) as [ClauseKind, Kind][];

/** The function a kind asks, and at which argument `of` and `with` stand; -1 where they are no argument of it. */
function askedBy({ cel }: Kind): { function: FunctionName; of: number; with: number } {
  const [, name = '', list = ''] = /(\w+)\(([^)]*)\)/.exec(cel)!;
  const given = list.split(/,\s*/);
  return { function: name as FunctionName, of: given.indexOf('of'), with: given.indexOf('with') };
}

/** What can be asked of a thing of some kind, or of the triggering visitor; the most usual first. */
export function clauseKindsOf(word: ThingWord | typeof TRIGGERING): ClauseKind[] {
  return all
    .filter(([, kind]) => {
      const { function: name, of } = askedBy(kind);
      if (of < 0) return word === TRIGGERING;
      const words = conditionFunctions[name].of[of]!;
      return word === TRIGGERING ? anyVisitor.every((one) => words.includes(one)) : words.includes(word);
    })
    .map(([name]) => name);
}

/** What may stand for `with` in a clause of a kind; empty if it has no such place. A visitor may be `TRIGGERING`, too. */
export function clauseWith(asks: ClauseKind): readonly ThingWord[] {
  if (!kinds[asks].says.includes('{with}')) return [];
  const { function: name, with: at } = askedBy(kinds[asks]);
  return conditionFunctions[name].of[at] ?? conditionFunctions[name].givesIdOf ?? [];
}

/** Whether a kind asks for the value that one visitor has of a fact: this has a sense only where each has its own. */
export function isClausePerVisitor(asks: ClauseKind): boolean {
  return ['flagOf', 'counterOf', 'textOf'].includes(askedBy(kinds[asks]).function);
}

/** Whether the number of a clause has to be whole: what is counted is, loads and headings are not. */
export function isClauseWhole(asks: ClauseKind): boolean {
  return conditionFunctions[askedBy(kinds[asks]).function].gives !== 'double';
}

/** What is said of the thing after its name, with the places of its values. */
export function clauseParts(asks: ClauseKind): ClausePart[] {
  return kinds[asks].says
    .split(/\{(\w+)\}/)
    .map((part, at): ClausePart => (at % 2 === 1 ? { slot: part as ClauseSlot } : part))
    .filter((part) => part !== '');
}

/** Whether every place of a clause has a value. */
export function isClauseComplete({ of, asks, with: other }: Clause): boolean {
  return of !== '' && (other !== '' || clauseWith(asks).length === 0);
}

/** A clause without values. */
export function emptyClause(of: string, asks: ClauseKind): Clause {
  return { of, asks, number: 1, with: '', text: '' };
}

/** A clause in words: "Sack count is at least 3". */
export function clauseWords({ of, asks, ...values }: Clause, nameOf: (id: string) => string): string {
  const named = (id: string): string =>
    id === '' ? 'something' : id === TRIGGERING ? 'the triggering visitor' : nameOf(id).trim();
  const said = clauseParts(asks).map((part) => {
    if (typeof part === 'string') return part;
    return part.slot === 'number' ? String(values.number) : part.slot === 'with' ? named(values.with) : `“${values.text}”`;
  });
  return `${named(of)} ${said.join('')}`;
}

/** The expression that says the same. */
export function clausesText({ join, clauses }: Clauses): string {
  return clauses.map(clauseText).join(join === 'and' ? ' && ' : ' || ');
}

function clauseText({ of, asks, number, with: other, text }: Clause): string {
  const kind: Kind = kinds[asks];
  const id = (value: string): string => (value === TRIGGERING ? value : JSON.stringify(value));
  const given = {
    of: id(of),
    with: id(other),
    text: JSON.stringify(text),
    number: isClauseWhole(asks) || !Number.isInteger(number) ? String(number) : `${number}.0`,
  };
  // `text` is a function, too: only what no bracket follows is a place.
  return kind.cel.replace(/\b(of|with|text|number)\b(?!\()/g, (name) => given[name as keyof typeof given]);
}

/** The clauses of an expression; null if it says more than clauses can. */
export function clausesOf(text: string): Clauses | null {
  if (text.trim() === '') return { join: 'and', clauses: [] };
  const tree = syntaxOf(text);
  if (tree === null) return null;
  const join = tree.op === '||' ? 'or' : 'and';
  const clauses = partsOf(tree, join === 'or' ? '||' : '&&').map(clauseOf);
  return clauses.every((one) => one !== null) ? { join, clauses } : null;
}

/** The parts of a condition that can be read as clauses, if all of them must hold. */
export function requiredClauses(text: string): Clause[] {
  const tree = syntaxOf(text);
  return tree === null ? [] : partsOf(tree, '&&').flatMap((part) => clauseOf(part) ?? []);
}

function partsOf(node: ASTNode, op: '&&' | '||'): ASTNode[] {
  return node.op === op ? (node.args as ASTNode[]).flatMap((one) => partsOf(one, op)) : [node];
}

function clauseOf(node: ASTNode): Clause | null {
  for (const [asks] of all) {
    const found = emptyClause(TRIGGERING, asks);
    if (matches(patternOf(asks), node, found)) return found;
  }
  return null;
}

const patterns = new Map<ClauseKind, ASTNode>();

function patternOf(asks: ClauseKind): ASTNode {
  let found = patterns.get(asks);
  if (found === undefined) patterns.set(asks, (found = syntaxOf(kinds[asks].cel)!));
  return found;
}

/** Whether a tree has the shape of a pattern; what stands in its places is written into the clause. */
function matches(pattern: unknown, node: unknown, into: Clause): boolean {
  if (Array.isArray(pattern))
    return Array.isArray(node) && node.length === pattern.length && pattern.every((one, at) => matches(one, node[at], into));
  if (!isNode(pattern)) return pattern === node;
  if (!isNode(node)) return false;
  return pattern.op === 'id'
    ? filled(pattern.args as keyof Clause, node, into)
    : pattern.op === node.op && matches(pattern.args, node.args, into);
}

function filled(place: keyof Clause, node: ASTNode, into: Clause): boolean {
  if (place === 'number') {
    const number = numberOf(node);
    if (number !== null) into.number = number;
    return number !== null;
  }
  const isHand = node.op === 'call' && (node.args as [string, ASTNode[]])[0] === 'hand';
  const value = isHand && place !== 'text' ? TRIGGERING : node.op === 'value' && typeof node.args === 'string' ? node.args : null;
  if (value === null || (place === 'with' && value === '')) return false;
  if (place === 'of' || place === 'with' || place === 'text') into[place] = value;
  return true;
}

/** A number up to nine digits, as it is typed; null for anything else. */
function numberOf(node: ASTNode): number | null {
  if (node.op === '-_') {
    const found = numberOf(node.args as ASTNode);
    return found === null ? null : -found;
  }
  const number = node.op === 'value' && ['bigint', 'number'].includes(typeof node.args) ? Number(node.args) : NaN;
  return Math.abs(number) < 1e9 ? number : null;
}

function isNode(value: unknown): value is ASTNode {
  return value !== null && typeof value === 'object' && 'op' in value;
}
