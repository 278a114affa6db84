import { readByNames } from '../conditions/by-names';
import type { Level } from '../document/level';
import { lookup, nameOf } from '../document/lookup';
import { isUndrawn } from '../document/walks';
import type { Walk } from '../document/walks';
import { fixturesThatCan } from '../kinds/words';
import type { Entry } from '../ledger/entry';
import type { Ledger } from '../ledger/ledger';
import { valuesAt } from '../ledger/tracks';
import type { Track } from '../ledger/tracks';
import { coverageOf, percentage } from '../reading/coverage';
import { roundSentence, roundsIn } from '../reading/filtering';
import type { Rehearsed } from '../rehearsal/rehearse';
import { pointer } from '../vocabulary/paths';
import type { Finding } from './findings';

/** A finding from the walks. `walk` is null if it follows from all of them together. */
export interface WalkFinding extends Finding {
  walk: string | null;
  /** The tick to look at; null for none. */
  tick: number | null;
}

/** The findings from all walks, with their coverage. */
export interface WalksSeen {
  findings: WalkFinding[];
  /** The share of the level that the walks have tried, in percent. */
  covered: number;
}

type Seen = Pick<Rehearsed, 'ticks' | 'tracks' | 'expectations'> & { ledger: Ledger };

/** The number of identical rounds at the end of a walk that counts as going in circles. */
const CIRCLE_ROUNDS = 5;
/** Rounds are looked for among this many entries at the end. */
const SEARCHED_ENTRIES = 2000;

/**
 * Finds problems in the rehearsals of all walks: unmet expectations, visitors that are stuck or fall without end, chains that run away or
 * go in circles, chains that never start and collectibles that nobody collects. While nobody does anything in any walk, that nothing
 * starts and nothing is collected is no finding.
 */
export function findingsOfWalks(level: Level, seen: readonly { walk: Walk; rehearsal: Seen }[]): WalksSeen {
  if (seen.length === 0) return { findings: [], covered: 0 };
  const each = seen.flatMap(({ walk, rehearsal }) => [
    ...unmet(level, walk, rehearsal),
    ...falling(level, walk, rehearsal),
    ...atTheEnd(level, walk, rehearsal),
  ]);
  const covered = coverageOf(level, new Map(seen.map(({ walk, rehearsal }) => [walk.id, rehearsal.ledger])));
  const never = covered.filter(({ kind, tried }) => kind === 'chain' && !tried).map(({ thing }) => thing);
  const untried = seen.every(({ walk }) => isUndrawn(walk))
    ? []
    : [...never.map((id) => neverStarts(level, id)), ...neverCollected(level, seen)];
  const findings = [...each, ...untried];
  const weighing = (weight: Finding['weight']): WalkFinding[] => findings.filter((one) => one.weight === weight);
  return { findings: [...weighing('warning'), ...weighing('remark')], covered: percentage(covered) };
}

function unmet(level: Level, walk: Walk, { expectations }: Seen): WalkFinding[] {
  return expectations.flatMap(({ id, label, because, passed }, at): WalkFinding[] =>
    passed
      ? []
      : [
          {
            ...found(level, 'unmet-expectation', 'warning', walk, walk.id),
            path: `${pathOf(level, walk.id)}${pointer(['expectations', at])}`,
            reason: `${named(level, walk.id)}: ${label === '' ? id : `“${label}”`} is not met: ${readByNames(because, (one) => nameOf(level, one))}.`,
            mend: 'Ask “Why not?” of it in Rehearse.',
          },
        ],
  );
}

/** Visitors that end below the ground of their room and are still falling. */
function falling(level: Level, walk: Walk, { ticks, tracks }: Seen): WalkFinding[] {
  return [...tracks.visitors].flatMap(([id, track]): WalkFinding[] => {
    const room = roomAtEnd(level, id, tracks.rooms.get(id));
    if (room === null || ticks === 0) return [];
    const [before, now] = [heightAt(track, ticks - 1), heightAt(track, ticks)];
    if (now >= before || now >= room.ground) return [];
    const depth = Math.round((room.ground - now) * 100) / 100;
    return [
      {
        ...found(level, 'falls-for-ever', 'warning', walk, id, ticks),
        also: [room.id],
        reason: `In ${named(level, walk.id)}, ${named(level, id)} falls without end: it is ${depth} m below the ground of ${named(level, room.id)}.`,
        mend: 'Look where it starts, or where it was put: there is nothing under it to stand on.',
      },
    ];
  });
}

function heightAt(track: Track, tick: number): number {
  return valuesAt(track, tick)[2]!;
}

function roomAtEnd(
  level: Level,
  visitor: string,
  came: readonly { room: string | null }[] | undefined,
): Level['rooms'][number] | null {
  const own = level.visitors.find(({ id }) => id === visitor)?.room ?? null;
  const last = came === undefined || came.length === 0 ? own : came.at(-1)!.room;
  return level.rooms.find(({ id }) => id === last) ?? null;
}

/** Findings that follow from how a walk ended: visitors stuck, chains running away or going in circles. */
function atTheEnd(level: Level, walk: Walk, { ledger, ticks }: Seen): WalkFinding[] {
  const end = ledger.at(ledger.length);
  if (end?.kind !== 'end') return [];
  switch (end.details.reason) {
    case 'stuck':
      return end.details.who.map((who) => stuck(level, walk, ledger, who, ticks));
    case 'runaway':
      return [
        {
          ...found(level, 'runs-away', 'warning', walk, walk.id, ticks),
          reason: `${named(level, walk.id)} ends because its chains set each other off without end, in one tick.`,
          mend: 'Take one step out of the cycle that the ledger names, or give one of its chains a delay.',
        },
      ];
    case 'time is up':
    case 'too many entries':
      return circles(level, walk, ledger);
    default:
      return [];
  }
}

function stuck(level: Level, walk: Walk, ledger: Ledger, who: string, ticks: number): WalkFinding {
  const bump = lastOf(ledger, (entry) => entry.kind === 'bump' && entry.who === who && entry.what !== null);
  const what = bump?.what ?? null;
  const why = what === null ? 'is held or blocked' : `does not get past ${named(level, what)}`;
  const from = bump === undefined ? '' : `, from ${bump.seconds.toFixed(2)} s on`;
  return {
    ...found(level, 'is-stuck', 'remark', walk, who, bump?.tick ?? ticks),
    also: what === null || !lookup(level).has(what) ? [] : [what],
    reason: `In ${named(level, walk.id)}, ${named(level, who)} ${why} until the end${from}.`,
    mend: 'If it should get through, ask “Why not?” of what is in its way.',
  };
}

function circles(level: Level, walk: Walk, ledger: Ledger): WalkFinding[] {
  const entries: Entry[] = [];
  for (let number = Math.max(1, ledger.length - SEARCHED_ENTRIES); number < ledger.length; number++)
    entries.push(ledger.at(number)!);
  const round = roundsIn(entries, CIRCLE_ROUNDS).at(-1);
  if (round === undefined) return [];
  // The last round may be cut off by the end.
  const long = round.again.length / round.times;
  if (round.again.at(-1)!.number + long < ledger.length - 1) return [];
  const { first } = round;
  const thing = [first.what, first.chain, first.who].find((id) => id !== null && lookup(level).has(id));
  if (thing === undefined || thing === null) return [];
  return [
    {
      ...found(level, 'goes-in-circles', 'remark', walk, thing, first.tick),
      reason: `${named(level, walk.id)} goes in circles at its end: ${roundSentence(round, (id) => nameOf(level, id))}.`,
      mend: 'If it should end, look for what begins the next round.',
    },
  ];
}

function neverStarts(level: Level, chain: string): WalkFinding {
  return {
    ...found(level, 'never-starts', 'remark', null, chain),
    reason: `No walk starts ${named(level, chain)}.`,
    mend: 'Walk what should start it, or ask “Why not?” of it.',
  };
}

function neverCollected(level: Level, seen: readonly { rehearsal: Seen }[]): WalkFinding[] {
  const kinds: readonly string[] = fixturesThatCan('be collected');
  const left = new Set(level.fixtures.filter(({ kind }) => kinds.includes(kind)).map(({ id }) => id));
  if (left.size === 0) return [];
  for (const { rehearsal } of seen)
    for (const { kind, what } of rehearsal.ledger) if (kind === 'collected' && what !== null) left.delete(what);
  return [...left].map((id) => ({
    ...found(level, 'never-collected', 'remark', null, id),
    reason: `No walk collects ${named(level, id)}.`,
    mend: 'Walk through it, or ask “Why not?” of it.',
  }));
}

function found(
  level: Level,
  kind: string,
  weight: 'warning' | 'remark',
  walk: Walk | null,
  thing: string,
  tick: number | null = null,
): Omit<WalkFinding, 'reason' | 'mend'> {
  return { kind, weight, walk: walk?.id ?? null, tick, thing, also: [], path: pathOf(level, thing), edit: null };
}

function lastOf(ledger: Ledger, is: (entry: Entry) => boolean): Entry | undefined {
  for (let number = ledger.length; number >= 1; number--) {
    const entry = ledger.at(number)!;
    if (is(entry)) return entry;
  }
  return undefined;
}

function named(level: Level, id: string): string {
  return `“${nameOf(level, id).trim()}”`;
}

function pathOf(level: Level, id: string): string {
  const at = lookup(level).get(id);
  return at === undefined ? '' : pointer([at.collection, at.index]);
}
