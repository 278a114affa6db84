import { nameKey } from '../vocabulary/quantities';
import { nearest } from '../vocabulary/nearest';
import type { ThingWord } from '../kinds/words';
import { askings } from './vocabulary';
import type { Asked } from './vocabulary';
import type { Known } from './conditions';

/** One thing that a condition asks, as people say it: of which thing, what, and how much where it is a matter of number. */
export interface Clause {
  of: string;
  asks: ClauseKind;
  number: number;
}

export type ClauseKind = keyof typeof kinds;

/** A condition that is a row of clauses, all of which must hold, or one of which is enough. */
export interface Clauses {
  join: 'and' | 'or';
  clauses: Clause[];
}

interface Kind {
  function: Asked;
  /** What follows the name of the thing; `#` is where the number stands. */
  says: string;
  /** The expression around the call; `#` is where the number stands. */
  before?: string;
  after?: string;
}

const kinds = {
  'flag-on': { function: 'flag', says: 'is on' },
  'flag-off': { function: 'flag', says: 'is off', before: '!' },
  'counter-least': { function: 'counter', says: 'is at least #', after: ' >= #' },
  'counter-most': { function: 'counter', says: 'is at most #', after: ' <= #' },
  'counter-is': { function: 'counter', says: 'is #', after: ' == #' },
  somebody: { function: 'count', says: 'is occupied', after: ' > 0' },
  nobody: { function: 'count', says: 'is empty', after: ' == 0' },
  'inside-least': { function: 'count', says: 'has at least # inside', after: ' >= #' },
  pressed: { function: 'pressed', says: 'is pressed' },
  'not-pressed': { function: 'pressed', says: 'is not pressed', before: '!' },
  'switch-on': { function: 'on', says: 'is switched on' },
  'switch-off': { function: 'on', says: 'is switched off', before: '!' },
  open: { function: 'open', says: 'is open' },
  'not-open': { function: 'open', says: 'is not open', before: '!' },
  closed: { function: 'closed', says: 'is closed' },
  'at-stop': { function: 'stop', says: 'is at stop #', after: ' == #' },
  moving: { function: 'moving', says: 'moves' },
  'not-moving': { function: 'moving', says: 'does not move', before: '!' },
  collected: { function: 'collected', says: 'is collected' },
  'not-collected': { function: 'collected', says: 'is not collected', before: '!' },
  'owner-nobody': { function: 'owner', says: 'has no owner', after: ' == ""' },
  'owner-somebody': { function: 'owner', says: 'has an owner', after: ' != ""' },
  'owner-hand': { function: 'owner', says: 'is owned by the visitor', after: ' == hand()' },
  shown: { function: 'shown', says: 'is shown' },
  hidden: { function: 'shown', says: 'is hidden', before: '!' },
  'see-through': { function: 'seeThrough', says: 'is translucent' },
  solid: { function: 'solid', says: 'is solid' },
  passable: { function: 'solid', says: 'is passable', before: '!' },
  enabled: { function: 'enabled', says: 'is enabled' },
  disabled: { function: 'enabled', says: 'is disabled', before: '!' },
  'in-play': { function: 'inPlay', says: 'is in play' },
  'not-in-play': { function: 'inPlay', says: 'is not in play', before: '!' },
  running: { function: 'running', says: 'runs' },
  'not-running': { function: 'running', says: 'is not running', before: '!' },
} as const satisfies Record<string, Kind>;

const all = Object.entries(kinds) as [ClauseKind, Kind][];

/** What can be asked of a thing of some kind, the most usual first. */
export function clauseKindsOf(word: ThingWord): ClauseKind[] {
  return all.filter(([, kind]) => askings[kind.function].of[0]?.includes(word) === true).map(([name]) => name);
}

/** What is said of the thing after its name, in two parts where a number stands between them. */
export function clauseSays(kind: ClauseKind): [string] | [string, string] {
  const [before = '', after] = kinds[kind].says.split('#');
  return after === undefined ? [before] : [before, after];
}

/** The expression that says the same. */
export function clausesText({ join, clauses }: Clauses): string {
  return clauses.map(clauseText).join(join === 'and' ? ' && ' : ' || ');
}

function clauseText({ of, asks, number }: Clause): string {
  const { function: name, before = '', after = '' }: Kind = kinds[asks];
  return `${before}${name}("${of}")${after.replace('#', String(number))}`;
}

const shape = /^(!?)(\w+)\(["']([a-z0-9-]*)["']\)(.*)$/;

/** The clauses of an expression; null if it says more than clauses can. */
export function clausesOf(text: string): Clauses | null {
  if (text.trim() === '') return { join: 'and', clauses: [] };
  const join = text.includes('||') ? 'or' : 'and';
  if (join === 'or' && text.includes('&&')) return null;
  const clauses = text.split(join === 'and' ? '&&' : '||').map((part) => clauseOf(part.trim()));
  return clauses.every((clause) => clause !== null) ? { join, clauses } : null;
}

function clauseOf(text: string): Clause | null {
  const [, not = '', called = '', of = '', rest = ''] = shape.exec(text) ?? [];
  for (const [asks, { function: name, before = '', after = '' }] of all) {
    if (name !== called || before !== not) continue;
    const spaced = rest.replace(/\s*(>=|<=|==|!=|>|<)\s*/, ' $1 ').trimEnd();
    if (!after.includes('#')) {
      if (spaced === after) return { of, asks, number: 1 };
      continue;
    }
    const start = after.replace('#', '');
    const number = spaced.startsWith(start) ? spaced.slice(start.length) : '';
    if (/^-?\d{1,9}$/.test(number)) return { of, asks, number: Number(number) };
  }
  return null;
}

/** A condition in words: "Market day is on and Sack count is at least 3"; by names where it says more than clauses can. */
export function conditionWords(text: string, nameOf: (id: string) => string): string {
  const read = clausesOf(text);
  if (read === null) return namesFor(text, nameOf);
  return read.clauses
    .map(({ of, asks, number }) => `${of === '' ? 'something' : nameOf(of)} ${clauseSays(asks).join(String(number))}`)
    .join(` ${read.join} `);
}

const quoted = /(["'])([^"'\n]*)\1/g;

/** An expression with the names of things in place of their ids. */
export function namesFor(text: string, nameOf: (id: string) => string): string {
  return text.replace(quoted, (_whole, _quote, id: string) => `"${id === '' ? '' : nameOf(id).trim()}"`);
}

const asking = /\b[a-z]+\((?:"[a-z0-9-]+"(?:, )?)+\)(?= = )/gi;

/** What was read of expressions, as in `text("board") = "open"`: with names in place of ids, and each value as it is. */
export function readByNames(text: string, nameOf: (id: string) => string): string {
  return text.replace(asking, (asked) => asked.replace(/"([^"]+)"/g, (_whole, id: string) => `“${nameOf(id).trim()}”`));
}

/**
 * An expression that was typed by names, with the ids in their place. A name that no thing has is left as it stands, and told
 * with the one that was probably meant.
 */
export function idsFor(text: string, things: Known): { text: string; unknown: { name: string; meant: string | null }[] } {
  const byName = new Map<string, string>();
  for (const [id, { thing }] of things) byName.set(nameKey(thing.name), id);
  const unknown: { name: string; meant: string | null }[] = [];
  const read = text.replace(quoted, (whole, _quote, name: string) => {
    if (name === '') return whole;
    const id = byName.get(nameKey(name)) ?? (things.has(name) ? name : undefined);
    if (id !== undefined) return `"${id}"`;
    // What is compared with a text is no name.
    unknown.push({
      name,
      meant: nearest(
        name,
        [...things.values()].map(({ thing }) => thing.name.trim()),
      ),
    });
    return whole;
  });
  return { text: read, unknown };
}
