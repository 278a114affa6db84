import type { Edit } from '../document/edits';
import type { Level } from '../document/level';
import { nameOf } from '../document/lookup';
import type { Walk } from '../document/walks';
import { changesInWords, compareLedgers } from '../reading/compare';
import { smallEditsOf } from './small-edits';
import type { SmallEdit } from './small-edits';
import { aboutOf, distancesFrom } from './trail';
import { judgedWalks, tryEdit } from './trial';
import type { Judged } from './trial';

/** A fix that was tried: an edit that meets more expectations and breaks none. */
export interface Fix {
  /** The thing that it changes. */
  thing: string;
  says: string;
  edit: Edit;
  /** The expectations that are met with it and were not, by walk and id; and how many are still not met. */
  meets: { walk: string; expectation: string }[];
  left: number;
  /** What else happens otherwise with it, walk by walk, in sentences. */
  changes: { walk: string; says: string[] }[];
}

export interface FixesOptions {
  /** Fixes of these expectations of the walk only; of all that are not met unless given. */
  expectations?: readonly string[];
  /** The most fixes to find. */
  most?: number;
  /** The most edits to try. */
  tries?: number;
}

/** The greatest distance from the expectation at which things are examined, counted in references. */
const MAX_DISTANCE = 6;
/** The number of changes listed for each walk. */
const MAX_LISTED_CHANGES = 6;

/**
 * Looks for small edits with which expectations of a walk that are not met are met. Each is made on a copy of the level and
 * rehearsed over all walks of which something is expected; one with which an expectation fails that was met is no fix. Those with
 * which all is met come first, then the most likely ones. Yields how many edits were tried, so that it can be given up.
 */
export function* findFixes(level: Level, walkId: string, options: FixesOptions = {}): Generator<number, Fix[], void> {
  const { most = 3, tries = 4000 } = options;
  const judged = judgedWalks(level, walkId);
  const [asked] = judged;
  if (asked === undefined) return [];
  const unmet = asked.walk.expectations.filter(
    ({ id }) => !asked.met.has(id) && (options.expectations === undefined || options.expectations.includes(id)),
  );
  if (unmet.length === 0) return [];
  const wanted = new Set(unmet.flatMap(aboutOf));
  const helps = ({ met }: Judged): boolean => unmet.some(({ id }) => met.has(id));
  const found: Fix[] = [];
  let complete = 0;
  let tried = 0;
  for (const candidate of likely(level, asked.walk, wanted)) {
    if (tried >= tries || complete >= most) break;
    const edit = candidate.edit();
    if (edit === null) continue;
    tried += 1;
    yield tried;
    const result = tryEdit(level, edit, judged, helps);
    if (!('after' in result)) continue;
    const fix = fixOf(level, candidate, edit, judged, result.after);
    if (fix.left === 0) complete += 1;
    found.push(fix);
  }
  // Where something meets all, what meets less is no help.
  return found.filter(({ left }) => complete === 0 || left === 0).slice(0, most);
}

/**
 * The small edits in the order in which they are tried: near what was expected, and set wrong often. They are made as the search
 * comes to them: mostly it ends long before what is far.
 */
function* likely(level: Level, walk: Walk, wanted: ReadonlySet<string>): Generator<SmallEdit> {
  const rings = ringsOf(level, walk, wanted);
  /** By distance, the edits of the things that are so far, by their cost. */
  const byCost: SmallEdit[][][] = [];
  for (let total = 0; total <= rings.length + MAX_COST; total++)
    for (let distance = 0; distance < rings.length && distance <= total; distance++) {
      const costs = (byCost[distance] ??= sorted(rings[distance]!.flatMap((id) => smallEditsOf(level, id, wanted))));
      yield* costs[total - distance] ?? [];
    }
}

/** The highest cost of a small edit. */
const MAX_COST = 20;

function sorted(edits: readonly SmallEdit[]): SmallEdit[][] {
  const byCost: SmallEdit[][] = [];
  for (const edit of edits) (byCost[edit.cost] ??= []).push(edit);
  return byCost;
}

/** The things that are looked at, by how far they are from what was expected. */
function ringsOf(level: Level, walk: Walk, wanted: ReadonlySet<string>): string[][] {
  const distances = distancesFrom(level, [...wanted], MAX_DISTANCE);
  const rings: string[][] = Array.from({ length: MAX_DISTANCE + 1 }, () => []);
  for (const [id, distance] of distances) rings[distance]!.push(id);
  const more = (ids: readonly string[], distance: number): void => {
    for (const id of ids.filter((one) => !distances.has(one)).slice(0, MOST_FAR)) {
      distances.set(id, distance);
      rings[distance]!.push(id);
    }
  };
  // Those who walk are part of it, however far, and so is a chain that could act on what was expected.
  const walking = walk.routes.map(({ visitor }) => visitor);
  more(walking, MAX_DISTANCE / 2);
  more(
    [...level.visitors, ...level.chains].map(({ id }) => id),
    MAX_DISTANCE / 2,
  );
  // Of what nothing leads to, that which stands where they walk.
  const rooms = new Set(level.visitors.flatMap(({ id, room }) => (walking.includes(id) ? [room] : [])));
  const here = [...level.solids, ...level.zones, ...level.fixtures].filter(({ room }) => rooms.has(room));
  more(
    [...here, ...level.solids, ...level.zones, ...level.fixtures].map(({ id }) => id),
    MAX_DISTANCE,
  );
  return rings;
}

/** The number of unrelated things of each kind that are examined. */
const MOST_FAR = 150;

function fixOf(level: Level, { thing, says }: SmallEdit, edit: Edit, before: readonly Judged[], after: readonly Judged[]): Fix {
  const name = (id: string): string => nameOf(level, id);
  const meets: Fix['meets'] = [];
  const changes: Fix['changes'] = [];
  let left = 0;
  before.forEach((old, at) => {
    const now = after[at]!;
    for (const { id } of old.walk.expectations)
      if (!now.met.has(id)) left += 1;
      else if (!old.met.has(id)) meets.push({ walk: old.walk.id, expectation: id });
    const told = changesInWords(compareLedgers(old.run.ledger, now.run.ledger), name).map((one) => one.says);
    const says = [...new Set(told)].slice(0, MAX_LISTED_CHANGES);
    if (says.length > 0) changes.push({ walk: old.walk.id, says });
  });
  return { thing, says, edit, meets, left, changes };
}
