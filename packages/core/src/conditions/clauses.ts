import type { ASTNode } from '@marcbachmann/cel-js';
import { anyVisitor } from '../kinds/words';
import type { ThingWord } from '../kinds/words';
import type { VisitorKind } from '../vocabulary/visitor-kinds';
import { syntaxOf } from './conditions';
import { idsByTag } from './known';
import type { Known } from './known';
import { isHand, isNode, quotedIn } from './naming';
import { conditionFunctions } from './vocabulary';
import type { FunctionName, ParameterWord } from './vocabulary';

/** Stands in a clause for the visitor that triggered what is evaluated. It is no id: ids have no brackets. */
export const TRIGGERING = 'hand()';

/** Several things that a clause is about: all or any of those with a tag, or of the visitors of a kind that are in play. */
export type ThingSet = { match: 'all' | 'any' } & ({ tag: string } | { kind: VisitorKind });

/** How a set stands in a clause. It is no id: ids have no spaces. */
export function thingSetSubject(set: ThingSet): string {
  const list = 'tag' in set ? `tagged(${JSON.stringify(set.tag)})` : `${set.kind}s()`;
  return `${set.match} ${list}`;
}

/** The set that the subject of a clause stands for; null if it is a single thing. */
export function thingSetOf(subject: string): ThingSet | null {
  const [, match, list = ''] = /^(all|any) (.*)$/.exec(subject) ?? [];
  if (match !== 'all' && match !== 'any') return null;
  const tag = /^tagged\(("(?:[^"\\]|\\.)*")\)$/.exec(list)?.[1];
  if (tag !== undefined) return { match, tag: JSON.parse(tag) as string };
  const kind = anyVisitor.find((one) => `${one}s()` === list);
  return kind === undefined ? null : { match, kind };
}

/** The ids of the things of a set that a level has, in listing order. Of visitors, only the run tells who is in play. */
export function membersOf(set: ThingSet, things: Known): string[] {
  if ('tag' in set) return [...(idsByTag(things).get(set.tag) ?? [])];
  return [...things].flatMap(([id, { word }]) => (word === set.kind ? [id] : []));
}

/** One comparison of a condition. `number`, `with` and `text` count only where its kind has a place for them; a tag is a text, too. */
export interface Clause {
  /** The id of the thing it is about, `TRIGGERING`, or the subject of a set. */
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
export type ClauseSlot = 'number' | 'with' | 'text' | 'tag';
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
  'players-least': {
    says: 'has {number} or more players inside',
    cel: 'visitors(of).filter(one, kind(one) == "player").size() >= number',
  },
  'tagged-inside': { says: 'has a visitor tagged {tag} inside', cel: 'visitors(of).exists(one, hasTag(one, tag))' },
  'none-tagged-inside': { says: 'has no visitor tagged {tag} inside', cel: '!visitors(of).exists(one, hasTag(one, tag))' },
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
  'has-tag': { says: 'is tagged {tag}', cel: 'hasTag(of, tag)' },
  'has-not-tag': { says: 'is not tagged {tag}', cel: '!hasTag(of, tag)' },
  'is-player': { says: 'is a player', cel: 'kind(of) == "player"' },
  'is-creature': { says: 'is a creature', cel: 'kind(of) == "creature"' },
  'is-prop': { says: 'is a prop', cel: 'kind(of) == "prop"' },
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

/** What can be asked of a thing of some kind, of each of several, or of the triggering visitor; the most usual first. */
export function clauseKindsOf(subject: ThingWord | readonly ThingWord[] | typeof TRIGGERING): ClauseKind[] {
  const wanted: readonly ThingWord[] = subject === TRIGGERING ? anyVisitor : typeof subject === 'string' ? [subject] : subject;
  return all
    .filter(([, kind]) => {
      const { function: name, of } = askedBy(kind);
      if (of < 0) return subject === TRIGGERING;
      const words = conditionFunctions[name].of[of]!;
      return wanted.every((one) => words.includes(one));
    })
    .map(([name]) => name);
}

/** What may stand for `with` in a clause of a kind; empty if it has no such place. A visitor may be `TRIGGERING`, too. */
export function clauseWith(asks: ClauseKind): readonly ThingWord[] {
  if (!kinds[asks].says.includes('{with}')) return [];
  const { function: name, with: at } = askedBy(kinds[asks]);
  const words: readonly ParameterWord[] = conditionFunctions[name].of[at] ?? conditionFunctions[name].givesIdOf ?? [];
  return words.filter((one) => one !== 'tag');
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
export function isClauseComplete({ of, asks, with: other, text }: Clause): boolean {
  const hasTag = text !== '' || !kinds[asks].says.includes('{tag}');
  return of !== '' && hasTag && (other !== '' || clauseWith(asks).length === 0);
}

/** A clause without values. */
export function emptyClause(of: string, asks: ClauseKind): Clause {
  return { of, asks, number: 1, with: '', text: '' };
}

/** A clause in words: "Sack count is at least 3". */
export function clauseWords({ of, asks, ...values }: Clause, nameOf: (id: string) => string): string {
  const named = (id: string): string =>
    id === '' ? 'something' : id === TRIGGERING ? 'the triggering visitor' : (thingSetWords(id) ?? nameOf(id).trim());
  const said = clauseParts(asks).map((part) => {
    if (typeof part === 'string') return part;
    return part.slot === 'number' ? String(values.number) : part.slot === 'with' ? named(values.with) : `“${values.text}”`;
  });
  return `${named(of)} ${said.join('')}`;
}

/** A set as the subject of a sentence; null if the subject of a clause is none. */
export function thingSetWords(subject: string): string | null {
  const set = thingSetOf(subject);
  if (set === null) return null;
  if ('tag' in set) return `${set.match === 'all' ? 'everything' : 'something'} tagged “${set.tag}”`;
  return set.match === 'all' ? `every ${set.kind}` : `a ${set.kind}`;
}

/** The expression that says the same. */
export function clausesText({ join, clauses }: Clauses): string {
  return clauses.map(clauseText).join(join === 'and' ? ' && ' : ' || ');
}

function clauseText({ of, asks, number, with: other, text }: Clause): string {
  const kind: Kind = kinds[asks];
  const set = thingSetOf(of);
  const id = (value: string): string => (value === TRIGGERING ? value : JSON.stringify(value));
  const given = {
    of: set === null ? id(of) : ELEMENT,
    with: id(other),
    text: JSON.stringify(text),
    tag: JSON.stringify(text),
    number: isClauseWhole(asks) || !Number.isInteger(number) ? String(number) : `${number}.0`,
  };
  // `text` is a function, too: only what no bracket follows is a place.
  const says = kind.cel.replace(/\b(of|with|text|tag|number)\b(?!\()/g, (name) => given[name as keyof typeof given]);
  if (set === null) return says;
  return `${of.slice(set.match.length + 1)}.${set.match === 'all' ? 'all' : 'exists'}(${ELEMENT}, ${says})`;
}

/** The name of an element of a set. */
const ELEMENT = 'each';

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
  const set = ofEachIn(node);
  for (const [asks] of all) {
    const found = emptyClause(TRIGGERING, asks);
    if (matches(patternOf(asks), node, found, {})) return found;
    if (set === null || !matches(patternOf(asks), set.says, found, { set: set.element })) continue;
    // A clause about something else has no place for the set.
    if (found.of === set.element) return { ...found, of: set.subject };
  }
  return null;
}

/** What a node says of each element of a set; null if it says nothing like that. */
function ofEachIn(node: ASTNode): { subject: string; element: string; says: ASTNode } | null {
  if (node.op !== 'rcall') return null;
  const [method, receiver, [element, says, ...rest]] = node.args as [string, ASTNode, ASTNode[]];
  if (says === undefined || element?.op !== 'id' || rest.length > 0 || !['all', 'exists'].includes(method)) return null;
  if (receiver.op !== 'call') return null;
  const [name, given] = receiver.args as [string, ASTNode[]];
  const tags = quotedIn(given);
  if (tags.length < given.length) return null;
  const list = `${name}(${tags.map(({ text }) => JSON.stringify(text)).join(', ')})`;
  const subject = `${method === 'all' ? 'all' : 'any'} ${list}`;
  return thingSetOf(subject) === null ? null : { subject, element: element.args as string, says };
}

const patterns = new Map<ClauseKind, ASTNode>();

function patternOf(asks: ClauseKind): ASTNode {
  let found = patterns.get(asks);
  if (found === undefined) patterns.set(asks, (found = syntaxOf(kinds[asks].cel)!));
  return found;
}

/** What the elements of lists are called in a tree that is compared with a pattern. */
interface ElementNames {
  /** That of the set that the clause is about. */
  set?: string;
  /** That of the list that the kind of clause asks. */
  one?: string;
}

/** Whether a tree has the shape of a pattern; what stands in its places is written into the clause. */
function matches(pattern: unknown, node: unknown, into: Clause, names: ElementNames): boolean {
  if (Array.isArray(pattern))
    return (
      Array.isArray(node) && node.length === pattern.length && pattern.every((one, at) => matches(one, node[at], into, names))
    );
  if (!isNode(pattern)) return pattern === node;
  if (!isNode(node)) return false;
  return pattern.op === 'id'
    ? filled(pattern.args as string, node, into, names)
    : pattern.op === node.op && matches(pattern.args, node.args, into, names);
}

function filled(place: string, node: ASTNode, into: Clause, names: ElementNames): boolean {
  if (place === 'one') {
    if (node.op === 'id') names.one ??= node.args as string;
    return node.op === 'id' && node.args === names.one;
  }
  if (place === 'of' && node.op === 'id') {
    into.of = node.args as string;
    return node.args === names.set;
  }
  if (place === 'number') {
    const number = numberOf(node);
    if (number !== null) into.number = number;
    return number !== null;
  }
  const value =
    isHand(node) && place !== 'text' && place !== 'tag'
      ? TRIGGERING
      : node.op === 'value' && typeof node.args === 'string'
        ? node.args
        : null;
  if (value === null || (value === '' && (place === 'with' || place === 'tag'))) return false;
  if (place === 'tag') into.text = value;
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
