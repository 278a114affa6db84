import { uniformFloat64 } from 'pure-rand/distribution/uniformFloat64';
import { xoroshiro128plus } from 'pure-rand/generator/xoroshiro128plus';
import { applied, change } from '../document/edits';
import type { Edit } from '../document/edits';
import type { Level } from '../document/level';
import { lookup } from '../document/lookup';
import type { Zone } from '../document/places';
import type { Walk } from '../document/walks';
import { letGo, noopListener, variations } from '../kernel';
import type { WorldListener } from '../kernel';
import { rehearse, runThrough } from '../rehearsal/rehearse';
import type { Rehearsal } from '../rehearsal/rehearse';
import { secondsOf } from '../vocabulary/ticks';
import { roundTo } from '../vocabulary/rounding';

/** By how much the runs of a spread differ from the walk. */
export interface Spreading {
  /** A route begins later by up to so many seconds. */
  start: number;
  /** A visitor is faster or slower by up to this part of its speed: 0.2 for a fifth. */
  speed: number;
  /** A way point is off by up to so many metres. */
  path: number;
  /** The ticks a second that are tried. */
  rates: readonly number[];
}

/** One run of a spread: when each chain started first, and who missed what. */
export interface SpreadRun {
  seed: number;
  rate: number;
  /** By chain, the seconds at which it started first. */
  starts: Record<string, number>;
  /** Who passed through what between two ticks without being noticed, and how fast it went, in metres a second. */
  missed: { what: string; who: string; speed: number }[];
  ranAway: boolean;
}

/** When a chain started over all runs. */
export interface SpreadOfChain {
  chain: string;
  /** The seconds of its first start, in ascending order: one for each run in which it started. */
  times: number[];
  /** The seeds of runs in which it did not start. */
  never: number[];
}

/** What was missed, in how many runs. */
interface SpreadOfMisses {
  what: string;
  seeds: number[];
  /** How often at each rate, of how many runs at that rate. */
  atRates: { rate: number; missed: number; runs: number }[];
  /** The slowest speed at which it was missed, in metres a second. */
  slowest: number;
}

export interface Spread {
  runs: number;
  chains: SpreadOfChain[];
  misses: SpreadOfMisses[];
  ranAway: number[];
}

const byRate = new WeakMap<Level, Map<number, Level>>();

/** A level at another rate; the same for each asking, so that it is arranged once. */
function atRate(level: Level, rate: number): Level {
  if (rate === level.rate) return level;
  let known = byRate.get(level);
  if (known === undefined) byRate.set(level, (known = new Map()));
  let found = known.get(rate);
  if (found === undefined) known.set(rate, (found = { ...level, rate }));
  return found;
}

/** The level and the walk of one run. The same seed gives the same, whatever other runs there are. */
function variedBy(
  level: Level,
  walk: Walk,
  { start, speed, path, rates }: Spreading,
  seed: number,
): { level: Level; walk: Walk } {
  const random = xoroshiro128plus(Math.imul(seed ^ 0x2545f491, 0x9e3779b1));
  const next = (): number => uniformFloat64(random);
  const rate = rates.length === 0 ? level.rate : rates[Math.floor(next() * rates.length)]!;
  const off = (): { x: number; y: number } => {
    const [angle, far] = [next() * 2 * Math.PI, Math.sqrt(next()) * path];
    return { x: Math.round(Math.cos(angle) * far * 1000) / 1000, y: Math.round(Math.sin(angle) * far * 1000) / 1000 };
  };
  const routes = walk.routes.map((route) => ({
    ...route,
    instructions: route.instructions.map((one) => {
      if (one.do !== 'go-to' || path === 0) return one;
      const by = off();
      return { ...one, to: { ...one.to, x: one.to.x + by.x, y: one.to.y + by.y } };
    }),
  }));
  return { level: atRate(level, rate), walk: { ...walk, jitter: { start, speed }, routes, expectations: [] } };
}

/** Rehearses one run of a spread, as it can be looked at. */
export function rehearseSpread(level: Level, walk: Walk, by: Spreading, seed: number): Rehearsal {
  const varied = variedBy(level, walk, by, seed);
  return rehearse(varied.level, varied.walk, { seed });
}

/** Runs a walk for each of some seeds, varied. */
export function spreadRuns(level: Level, walk: Walk, by: Spreading, seeds: readonly number[]): SpreadRun[] {
  return seeds.map((seed) => spreadRun(level, walk, by, seed));
}

function spreadRun(level: Level, walk: Walk, by: Spreading, seed: number): SpreadRun {
  const varied = variedBy(level, walk, by, seed);
  const { rate } = varied.level;
  const speeds = variations(varied.walk, seed, rate);
  const run: SpreadRun = { seed, rate, starts: {}, missed: [], ranAway: false };
  // Nobody reads the ledgers of a thousand runs: what is told of is noted as it happens.
  const entry: WorldListener['entry'] = (_number, tick, { kind, chain, what, who }) => {
    if (kind === 'chain-started') run.starts[chain!] ??= secondsOf(tick, rate);
    else if (kind === 'runaway') run.ranAway = true;
    else if (kind === 'missed') {
      const visitor = level.visitors.find(({ id }) => id === who);
      const route = walk.routes.findIndex((one) => one.visitor === who);
      run.missed.push({ what: what!, who: who!, speed: (visitor?.speed ?? 0) * (speeds[route]?.speed ?? 1) });
    }
  };
  letGo(runThrough(varied.level, varied.walk, { ...noopListener, entry }, { seed }).world);
  return run;
}

/** What the runs of a spread say together. Chains that started in none of them are left out. */
export function spreadOf(level: Level, runs: readonly SpreadRun[]): Spread {
  const chains = level.chains.flatMap(({ id }): SpreadOfChain[] => {
    const times = runs.flatMap(({ starts }) => starts[id] ?? []).sort((a, b) => a - b);
    if (times.length === 0) return [];
    return [{ chain: id, times, never: runs.flatMap(({ starts, seed }) => (starts[id] === undefined ? [seed] : [])) }];
  });
  const what = [...new Set(runs.flatMap(({ missed }) => missed.map((one) => one.what)))];
  const rates = [...new Set(runs.map(({ rate }) => rate))].sort((a, b) => a - b);
  const misses = what.map((id): SpreadOfMisses => {
    const missing = runs.filter(({ missed }) => missed.some((one) => one.what === id));
    const atRates = rates.map((rate) => ({
      rate,
      missed: missing.filter((run) => run.rate === rate).length,
      runs: runs.filter((run) => run.rate === rate).length,
    }));
    const speeds = missing.flatMap(({ missed }) => missed.flatMap((one) => (one.what === id ? one.speed : [])));
    return { what: id, seeds: missing.map(({ seed }) => seed), atRates, slowest: Math.min(...speeds) };
  });
  misses.sort((a, b) => b.seeds.length - a.seeds.length);
  return { runs: runs.length, chains, misses, ranAway: runs.flatMap(({ seed, ranAway }) => (ranAway ? [seed] : [])) };
}

/** The value at a part of a list in ascending order: 0.5 for the median (R. Hyndman and Y. Fan, 1996, type 7). */
export function quantile(sorted: readonly number[], part: number): number {
  const at = (sorted.length - 1) * part;
  const low = Math.floor(at);
  const [a, b] = [sorted[low]!, sorted[Math.min(sorted.length - 1, low + 1)]!];
  return a + (b - a) * (at - low);
}

/** What lets a zone be missed no more: to sense it as swept, or to be so much larger. */
export interface Remedy {
  says: string;
  edit: Edit;
}

/** The number of missed runs that are tried with every size. The others are tried only with the size found. */
const FULLY_TRIED_RUNS = 40;
/** Sizes are tried in such steps, in metres, up to so many of them. */
const GROWTH_STEP_M = 0.1;
const MAX_GROWTH_STEPS = 64;

/** What lets a zone be missed in none of some runs in which it was: each was tried on them. None for what is not a zone. */
export function remediesFor(level: Level, walk: Walk, by: Spreading, what: string, seeds: readonly number[]): Remedy[] {
  const found = lookup(level).get(what);
  if (found?.collection !== 'zones') return [];
  const zone = found.thing as Zone;
  const some = seeds.slice(0, FULLY_TRIED_RUNS);
  const helps = (edit: Edit, tried: readonly number[] = some): boolean => {
    const mended = applied(level, edit);
    return tried.every((seed) => !spreadRun(mended, walk, by, seed).missed.some((one) => one.what === what));
  };
  const remedies: Remedy[] = [];
  const swept = change('zones', zone, { swept: true });
  if (!zone.swept && helps(swept, seeds)) remedies.push({ says: 'Turn on swept detection.', edit: swept });
  const larger = (steps: number): Edit => change('zones', zone, { shape: grown(zone.shape, steps * GROWTH_STEP_M) });
  if (helps(larger(MAX_GROWTH_STEPS))) {
    let [low, high] = [0, MAX_GROWTH_STEPS];
    while (high - low > 1) {
      const middle = (low + high) >> 1;
      if (helps(larger(middle))) high = middle;
      else low = middle;
    }
    // What helps some of them has to help all.
    while (high < MAX_GROWTH_STEPS && !helps(larger(high), seeds)) high += 1;
    remedies.push({
      says: `Enlarge it by ${(high * GROWTH_STEP_M).toFixed(1)} m (smallest step of ${GROWTH_STEP_M} m without misses).`,
      edit: larger(high),
    });
  }
  return remedies;
}

/** A form that is so much larger across, in metres. */
function grown(shape: Zone['shape'], by: number): Zone['shape'] {
  if (shape.kind === 'box')
    return { ...shape, size: { ...shape.size, x: roundTo(shape.size.x + by, 3), y: roundTo(shape.size.y + by, 3) } };
  return { ...shape, radius: roundTo(shape.radius + by / 2, 3) };
}
