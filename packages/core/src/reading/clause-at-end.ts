import type { Clause, ClauseKind } from '../conditions/clauses';
import { lookup } from '../document/lookup';
import type { Level } from '../document/level';
import type { Entry } from '../ledger/entry';

/** What a clause found at the end of a run: whether it held, and what was so instead, in words after "it is". */
export interface ClauseAtEnd {
  holds: boolean;
  is: string;
}

/**
 * Whether a clause held at the end of a run, read from the entries of its ledger and the start of the level; null where the entries do
 * not tell: of values that each visitor has for itself, and of what is asked about owners and plates that were never pressed.
 */
export function clauseAtEnd(level: Level, entries: readonly Entry[], { of, asks, number }: Clause): ClauseAtEnd | null {
  const found = lookup(level).get(of);
  if (found === undefined) return null;
  const thing = found.thing as unknown as Record<string, unknown>;
  if (thing['per'] === 'visitor') return null;
  const own = entries.filter(({ what }) => what === of);
  const last = (...kinds: readonly Entry['kind'][]): Entry | undefined => own.findLast(({ kind }) => kinds.includes(kind));
  const field = (name: string): unknown =>
    own.findLast((one): one is Entry & { kind: 'changed' } => one.kind === 'changed' && one.details.field === name)?.details.to ??
    thing[name];
  const side = (wanted: boolean, is: boolean, yes: string, no: string): ClauseAtEnd => ({
    holds: is === wanted,
    is: is ? yes : no,
  });
  // What was put back as it was at the start is not followed through.
  if (own.some((one) => one.kind === 'changed' && ['reset', 'started over'].includes(one.details.field))) return null;
  const wants = !negative.has(asks);
  switch (asks) {
    case 'flag-on':
    case 'flag-off':
      return side(wants, field('on') === true, 'on', 'off');
    case 'counter-least':
    case 'counter-most':
    case 'counter-is': {
      const value = Number(field('value'));
      const holds = asks === 'counter-least' ? value >= number : asks === 'counter-most' ? value <= number : value === number;
      return { holds, is: String(value) };
    }
    case 'switch-on':
    case 'switch-off': {
      const turned = last('on', 'off');
      return side(wants, turned === undefined ? thing['on'] === true : turned.kind === 'on', 'on', 'off');
    }
    case 'pressed':
    case 'not-pressed': {
      const turned = last('press', 'release');
      return side(wants, turned?.kind === 'press', 'pressed', 'not pressed');
    }
    case 'open':
    case 'not-open':
    case 'closed': {
      const moved = last('opened', 'closed', 'moving');
      const is = moved === undefined ? (thing['open'] === true ? 'open' : 'closed') : stateAfter[moved.kind]!;
      return { holds: asks === 'not-open' ? is !== 'open' : is === asks, is };
    }
    case 'collected':
    case 'not-collected':
      return side(wants, last('collected') !== undefined, 'collected', 'not collected');
    case 'shown':
    case 'hidden':
      return side(wants, field('shown') === true, 'shown', 'hidden');
    case 'solid':
    case 'passable':
      return side(wants, field('solid') === true, 'solid', 'passable');
    case 'enabled':
    case 'disabled':
      return side(wants, field('enabled') === true, 'enabled', 'disabled');
    case 'in-play':
    case 'not-in-play': {
      const turned = last('spawned', 'removed');
      return side(wants, turned === undefined ? thing['inPlay'] === true : turned.kind === 'spawned', 'in play', 'not in play');
    }
    default:
      return null;
  }
}

/** The clauses that ask for the second of two sides. */
const negative: ReadonlySet<ClauseKind> = new Set([
  'flag-off',
  'switch-off',
  'not-pressed',
  'not-collected',
  'hidden',
  'passable',
  'disabled',
  'not-in-play',
]);

const stateAfter: Partial<Record<Entry['kind'], string>> = { opened: 'open', closed: 'closed', moving: 'on its way' };
