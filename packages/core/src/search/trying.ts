import type { Level } from '../document/level';
import { lookup } from '../document/lookup';
import type { Instruction, Visitor } from '../document/people';
import { actsOn } from '../document/targets';
import type { Walk } from '../document/walks';
import { coverageOf } from '../reading/coverage';
import type { Covered } from '../reading/coverage';
import { rehearse } from '../rehearsal/rehearse';
import type { Place } from '../vocabulary/places';

/** The most visitors that are tried. */
const MAX_VISITORS = 12;
/** A walk that tries something takes so long at the most, in seconds. */
const AT_MOST = 120;
const absolute = { room: '', of: '', axes: 'room', height: 'datum' } as const;

interface Standing {
  id: string;
  room: string;
  at: { x: number; y: number; z: number };
}

/** What has to be reached so that something happens: where it stands, and the event that is waited for. */
interface Goal {
  thing: Standing;
  on: string;
}

/**
 * The routes of a walk that tries what no walk has tried, found by trying: each visitor of the room, players first, goes where it could set
 * it off, uses it, leaves it again, or does so twice. Null where none of these does.
 */
export function findCoveringWalk(level: Level, gap: Pick<Covered, 'kind' | 'thing' | 'part' | 'cause'>): Walk['routes'] | null {
  const isIt = (one: Covered): boolean =>
    one.kind === gap.kind && one.thing === gap.thing && one.part === gap.part && one.cause === gap.cause;
  const order = { player: 0, creature: 1, prop: 2 };
  const visitors = level.visitors
    .filter(({ inPlay, kind }) => inPlay && kind !== 'prop')
    .sort((a, b) => order[a.kind] - order[b.kind])
    .slice(0, MAX_VISITORS);
  for (const goal of goalsOf(level, gap.thing, new Set(), gap.cause))
    for (const visitor of visitors) {
      if (visitor.room !== goal.thing.room) continue;
      for (const instructions of waysTo(goal, visitor)) {
        const routes = [{ visitor: visitor.id, instructions }];
        const walk = { ...empty, routes };
        const runs = new Map([[walk.id, rehearse(level, walk).ledger]]);
        if (coverageOf(level, runs).some((one) => isIt(one) && one.tried)) return routes;
      }
    }
  return null;
}

const empty: Walk = { id: 'try', name: 'Try', atMost: AT_MOST, jitter: { start: 0, speed: 0 }, routes: [], expectations: [] };

/** What sets a thing or a chain off, also over other chains; a chain by one cause alone, where it is named. */
function goalsOf(level: Level, id: string, seen: Set<string>, only: string | null = null): Goal[] {
  if (seen.has(id)) return [];
  seen.add(id);
  const found = lookup(level).get(id);
  if (found === undefined) return [];
  if (found.collection === 'zones' || found.collection === 'fixtures')
    return [{ thing: found.thing as unknown as Standing, on: 'enter' }];
  if (found.collection !== 'chains') return [];
  const { causes } = found.thing as Level['chains'][number];
  return causes.flatMap(({ id: own, on, of }): Goal[] => {
    if (only !== null && own !== only) return [];
    const source = lookup(level).get(of);
    if (source === undefined) return [];
    if (source.collection === 'chains') return goalsOf(level, of, seen);
    const acted = ['enter', 'leave', 'dwell', 'press', 'release', 'use', 'bump', 'on', 'off'].includes(on);
    if (acted && (source.collection === 'zones' || source.collection === 'fixtures'))
      return [{ thing: source.thing as unknown as Standing, on }];
    // What is set in motion, or told, by another chain.
    return level.chains
      .filter((chain) => chain.id !== id && chain.steps.some((step) => actsOn(step, source)))
      .flatMap((chain) => goalsOf(level, chain.id, seen));
  });
}

/** Ways in which a visitor may set something off: by going there, using it, leaving again, waiting; once and twice. */
function waysTo({ thing, on }: Goal, visitor: Visitor): Instruction[][] {
  const go = (id: string, { x, y, z }: Standing['at']): Instruction => ({
    id,
    do: 'go-to',
    to: { x, y, z, ...absolute } satisfies Place,
  });
  const there = go('there', { ...thing.at, z: visitor.at.z });
  const back = go('back', visitor.at);
  const again = go('again', { ...thing.at, z: visitor.at.z });
  const wait: Instruction = { id: 'wait', do: 'wait', seconds: 5 };
  const use: Instruction = { id: 'use', do: 'use', fixture: thing.id };
  const reach = 1;
  const by = { x: visitor.at.x - thing.at.x, y: visitor.at.y - thing.at.y };
  const far = Math.max(1e-6, Math.hypot(by.x, by.y));
  const beside = go('beside', { x: thing.at.x + (by.x / far) * reach, y: thing.at.y + (by.y / far) * reach, z: visitor.at.z });
  if (on === 'use' || on === 'on' || on === 'off')
    return [
      [beside, use],
      [beside, use, wait, { ...use, id: 'use-again' }],
    ];
  return [
    [there, wait],
    [there, wait, back],
    [there, back, again, { ...wait, id: 'wait-again' }],
  ];
}
