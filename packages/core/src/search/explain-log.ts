import type { Level } from '../document/level';
import type { Walk } from '../document/walks';
import { movesFreely, stride, whereIs } from '../kernel';
import type { CompiledLevel, World } from '../kernel';
import type { Entry } from '../ledger/entry';
import type { Ledger } from '../ledger/ledger';
import type { HouseRules } from '../vocabulary/rules';
import { outcomesOf } from './outcomes';
import type { Outcomes } from './outcomes';
import type { Fired, PlayLog, Position } from '../formats/play-log';

/** A line of the log beside an entry of the ledger: what only one of them says has nothing beside it. */
export interface LogRow {
  fired: Fired | null;
  entry: Entry | null;
}

/** A set of house rules, and those of its rules that are otherwise than the level's. */
export interface ExplainingSet {
  set: HouseRules;
  rules: (keyof HouseRules)[];
}

export interface LogExplained {
  /** What the level does where the log says its visitors were, under its own rules. */
  ledger: Ledger;
  rows: LogRow[];
  /** The first row in which the two are not the same; -1 if they are the same. */
  first: number;
  /** The sets of house rules under which the ledger says what the log says, those with the fewest others than the level's first. */
  explainedBy: ExplainingSet[];
  /** Those of them that change no rule which needs no change: each explains it in its own way. */
  simplest: ExplainingSet[];
  /** How many sets there are that do. */
  sets: number;
}

/** Two times this many ticks apart still match, because a game logs at the end of a frame. */
const TIME_TOLERANCE_TICKS = 2;

/**
 * Walks the positions of a play through the level and lays what the game fired beside the ledger, for every set of house rules: by
 * the kinds of entry that the log tells of. Times may be two ticks apart.
 */
export function explainLog(level: Level, log: PlayLog): LogExplained {
  const found = outcomesAlong(level, log);
  const [own] = found.outcomes;
  const kinds = new Set(log.fired.map(({ kind }) => kind));
  const told = (ledger: Ledger): Entry[] => [...ledger].filter(({ kind }) => kinds.has(kind));
  const slack = TIME_TOLERANCE_TICKS / level.rate + 1e-6;
  const isSame = (fired: Fired | undefined, entry: Entry | undefined): boolean =>
    fired !== undefined && entry !== undefined && isAbout(fired, entry) && Math.abs(fired.at - entry.seconds) <= slack;
  const equals = (entries: readonly Entry[]): boolean =>
    entries.length === log.fired.length && entries.every((entry, at) => isSame(log.fired[at], entry));
  const explaining = found.outcomes.filter(({ ledger }) => equals(told(ledger))).flatMap(({ sets }) => sets);
  const rulesOf = (set: HouseRules): (keyof HouseRules)[] =>
    (Object.keys(set) as (keyof HouseRules)[]).filter((rule) => set[rule] !== level.rules[rule]);
  const explainedBy = explaining.map((set) => ({ set, rules: rulesOf(set) })).sort((a, b) => a.rules.length - b.rules.length);
  const entries = told(own!.ledger);
  const rows = beside(log.fired, entries);
  const first = rows.findIndex(
    ({ fired, entry }) => fired === null || entry === null || Math.abs(fired.at - entry.seconds) > slack,
  );
  return { ledger: own!.ledger, rows, first, explainedBy, simplest: simplestOf(explainedBy), sets: explaining.length };
}

/** The sets that do not change all that another one changes, and more. */
function simplestOf(sorted: readonly ExplainingSet[]): ExplainingSet[] {
  const found: ExplainingSet[] = [];
  for (const one of sorted)
    if (!found.some(({ set, rules }) => rules.every((rule) => one.set[rule] === set[rule]))) found.push(one);
  return found;
}

function isAbout(fired: Fired, entry: Entry): boolean {
  return (
    fired.kind === entry.kind &&
    (fired.what === null || fired.what === entry.what || fired.what === entry.chain) &&
    (fired.who === null || fired.who === entry.who)
  );
}

/** The longest common part of two lists of what was fired, laid beside each other in order (R. Wagner and M. Fischer, 1974). */
function beside(fired: readonly Fired[], entries: readonly Entry[]): LogRow[] {
  const [n, m] = [fired.length, entries.length];
  // A table of both is only made where that is not too large; longer ones are matched as they come.
  if (n * m > 4_000_000) return inTurn(fired, entries);
  const width = m + 1;
  const longest = new Uint16Array((n + 1) * width);
  for (let i = n - 1; i >= 0; i--)
    for (let j = m - 1; j >= 0; j--)
      longest[i * width + j] = isAbout(fired[i]!, entries[j]!)
        ? longest[(i + 1) * width + j + 1]! + 1
        : Math.max(longest[(i + 1) * width + j]!, longest[i * width + j + 1]!);
  const rows: LogRow[] = [];
  let [i, j] = [0, 0];
  while (i < n || j < m) {
    if (i < n && j < m && isAbout(fired[i]!, entries[j]!)) rows.push({ fired: fired[i++]!, entry: entries[j++]! });
    else if (j >= m || (i < n && longest[(i + 1) * width + j]! >= longest[i * width + j + 1]!))
      rows.push({ fired: fired[i++]!, entry: null });
    else rows.push({ fired: null, entry: entries[j++]! });
  }
  return rows;
}

function inTurn(fired: readonly Fired[], entries: readonly Entry[]): LogRow[] {
  return Array.from({ length: Math.max(fired.length, entries.length) }, (_, at): LogRow[] => {
    const [one, entry] = [fired[at] ?? null, entries[at] ?? null];
    if (one !== null && entry !== null && !isAbout(one, entry))
      return [
        { fired: one, entry: null },
        { fired: null, entry },
      ];
    return [{ fired: one, entry }];
  }).flat();
}

/** What comes of the positions of a log under every set of house rules. */
function outcomesAlong(level: Level, { positions, seconds }: PlayLog): Outcomes {
  const walk: Walk = {
    id: 'play-log',
    name: 'Play',
    atMost: Math.max(0.1, seconds),
    jitter: { start: 0, speed: 0 },
    routes: [],
    expectations: [],
  };
  const starts = new Map(Array.from(positions, ([visitor, track]) => [visitor, track[0]!]));
  const begun: Level = {
    ...level,
    visitors: level.visitors.map((one) => {
      const first = starts.get(one.id);
      if (first === undefined) return one;
      return { ...one, at: { x: first.x, y: first.y, z: first.z ?? one.at.z }, room: first.room ?? one.room };
    }),
  };
  return outcomesOf(begun, walk, { before: (plan, world) => leadAlong(plan, world, positions) });
}

/** Has everybody walk on to where the log says they were next; gives the tick before which nobody has to be told anything else. */
function leadAlong(plan: CompiledLevel, world: World, positions: PlayLog['positions']): number {
  const { rate } = plan.level;
  let until = Infinity;
  for (const [visitor, track] of positions) {
    const one = world.visitors[plan.visitorOf.get(visitor)!]!;
    const next = nextOf(track, (world.tick + 1) / rate - 1e-9);
    const due = next === null ? Infinity : Math.round(next.at * rate);
    if (!movesFreely(one)) {
      until = Math.min(until, due);
      continue;
    }
    const { at, room } = whereIs(plan, world, visitor);
    // Whom the game has in another room nobody can lead there.
    const isElsewhere = next !== null && next.room !== null && next.room !== room;
    const ticks = next === null ? 1 : Math.max(1, due - Math.max(0, world.tick));
    const by = next === null || isElsewhere ? { x: 0, y: 0 } : { x: (next.x - at.x) / ticks, y: (next.y - at.y) / ticks };
    const stands = Math.abs(by.x) + Math.abs(by.y) < 1e-9;
    until = Math.min(until, stands ? due : world.tick + 1);
    if (!stands || one.route === null || one.route.instructions.length > 0) stride(plan, world, visitor, by);
  }
  return until;
}

/** The first position that is not before a time. */
function nextOf(track: readonly Position[], time: number): Position | null {
  let [low, high] = [0, track.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (track[middle]!.at < time) low = middle + 1;
    else high = middle;
  }
  return track[low] ?? null;
}
