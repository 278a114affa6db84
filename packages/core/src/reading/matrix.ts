import type { Chain } from '../document/chains';
import type { Level } from '../document/level';
import { lookup } from '../document/lookup';
import { targetsOf } from '../document/targets';
import { kindOfFixture } from '../kinds/fixtures';
import type { Fixture } from '../kinds/fixtures';
import type { Ledger } from '../ledger/ledger';
import { reasonOf } from '../ledger/entry';
import { heardAs } from '../kinds/causes';

/** Where one thing sets something off, and what that acts on: through which chains, and what came of it in the runs. */
export interface Cell {
  /** The chains that lead from the one to the other, in the order in which they are tried. */
  chains: string[];
  /** How often they started by it, and at which tick of which run first. */
  fired: number;
  first: { walk: string; entry: number; tick: number } | null;
  /** What held them, by reason, with how often. */
  held: { reason: string; times: number; walk: string; entry: number }[];
}

/** One thing that can be overlapped, used, pressed, bumped or listened to. */
export interface Row {
  from: string;
  /** How often it raised anything in the runs. */
  raised: number;
  /** Whether it raised something although no chain listens to it. */
  unwired: boolean;
  /** By what is acted on. */
  cells: Map<string, Cell>;
}

export interface Matrix {
  rows: Row[];
  /** What is acted on, in listing order. */
  columns: string[];
}

/** Runs by the id of their walk. */
export type Runs = ReadonlyMap<string, Ledger>;

/** What sets off against what acts: as wired, and as it came in some runs. */
export function matrixOf(level: Level, runs: Runs): Matrix {
  const things = lookup(level);
  const rows = new Map<string, Row>();
  const columns = new Set<string>();
  const row = (from: string): Row => {
    let found = rows.get(from);
    if (found === undefined) rows.set(from, (found = { from, raised: 0, unwired: true, cells: new Map() }));
    return found;
  };
  const targets = new Map(level.chains.map((chain) => [chain.id, actedOn(level, chain)]));
  for (const chain of level.chains) {
    for (const { of } of chain.causes) {
      if (!things.has(of)) continue;
      const from = row(of);
      from.unwired = false;
      for (const to of targets.get(chain.id)!) {
        columns.add(to);
        const cell = from.cells.get(to);
        if (cell === undefined) from.cells.set(to, { chains: [chain.id], fired: 0, first: null, held: [] });
        else if (!cell.chains.includes(chain.id)) cell.chains.push(chain.id);
      }
    }
  }
  const cellsOf = (from: string, chain: string): Cell[] =>
    (targets.get(chain) ?? []).flatMap((to) => rows.get(from)?.cells.get(to) ?? []);
  for (const [walk, ledger] of runs) {
    for (const entry of ledger) {
      if (entry.what !== null && heardAs(entry.kind)?.saidOf === 'visitor') row(entry.what).raised++;
      if (entry.chain === null) continue;
      if (entry.kind === 'chain-started') {
        const from = entry.cause === null ? null : ledger.at(entry.cause)!.what;
        for (const cell of from === null ? [] : cellsOf(from, entry.chain)) {
          cell.fired++;
          cell.first ??= { walk, entry: entry.number, tick: entry.tick };
        }
      } else if (entry.kind === 'held' && entry.what !== null) {
        const reason = reasonOf(entry)!;
        for (const cell of cellsOf(entry.what, entry.chain)) {
          const known = cell.held.find((one) => one.reason === reason);
          if (known === undefined) cell.held.push({ reason, times: 1, walk, entry: entry.number });
          else known.times++;
        }
      }
    }
  }
  // What acts by itself, as a passage does, needs no chain.
  for (const one of rows.values()) one.unwired &&= one.raised > 0 && !actsByItself(level, one.from);
  const order = new Map([...things.keys()].map((id, at) => [id, at]));
  const place = (id: string): number => order.get(id) ?? order.size;
  return {
    rows: [...rows.values()].sort((a, b) => place(a.from) - place(b.from)),
    columns: [...columns].sort((a, b) => place(a) - place(b)),
  };
}

function actsByItself(level: Level, id: string): boolean {
  const found = lookup(level).get(id);
  if (found?.collection !== 'fixtures') return found?.collection !== 'zones';
  const { entered, used, bumped } = kindOfFixture((found.thing as Fixture).kind);
  return entered !== undefined || used !== undefined || bumped !== undefined;
}

function actedOn(level: Level, chain: Chain): string[] {
  return [...new Set(chain.steps.flatMap((step) => targetsOf(level, step)))];
}

/** One thing that runs should have tried. */
export interface Covered {
  kind: 'zone' | 'chain' | 'step' | 'gate';
  /** The zone or fixture, or the chain. */
  thing: string;
  /** What of it: the step's id, or the gate and its answer. */
  part: string;
  tried: boolean;
}

/** What all runs together have tried: places that were reached, chains that started, steps that were done, both answers of gates. */
export function coverageOf(level: Level, runs: Runs): Covered[] {
  const reached = new Set<string>();
  const started = new Set<string>();
  const done = new Set<string>();
  const held = new Set<string>();
  for (const ledger of runs.values()) {
    for (const { kind, what, chain, step, ...entry } of ledger) {
      if (what !== null && heardAs(kind)?.saidOf === 'visitor') reached.add(what);
      if (chain === null) continue;
      if (kind === 'chain-started') started.add(chain);
      if (kind === 'step' && step !== null) done.add(step);
      if (kind === 'held' && 'reason' in entry.details) held.add(`${chain} ${entry.details.reason}`);
    }
  }
  const found: Covered[] = [];
  for (const { id } of level.zones) found.push({ kind: 'zone', thing: id, part: '', tried: reached.has(id) });
  for (const chain of level.chains) {
    found.push({ kind: 'chain', thing: chain.id, part: '', tried: started.has(chain.id) });
    for (const { id } of chain.steps) found.push({ kind: 'step', thing: chain.id, part: id, tried: done.has(id) });
    for (const [gate, asked] of gatesOf(chain)) {
      if (!asked) continue;
      found.push({ kind: 'gate', thing: chain.id, part: `${gate} passed`, tried: started.has(chain.id) });
      found.push({ kind: 'gate', thing: chain.id, part: `${gate} held`, tried: held.has(`${chain.id} ${gate}`) });
    }
  }
  return found;
}

/** The gates of a chain that can hold something, by the reason they give. */
function gatesOf({ causes, guard }: Chain): [string, boolean][] {
  const asks = ({ filter }: Chain['causes'][number]): boolean =>
    filter.kinds.length + filter.anyOf.length + filter.allOf.length + filter.noneOf.length > 0 ||
    filter.named !== '' ||
    filter.ownerOnly;
  return [
    ['filtered', causes.some(asks)],
    ['condition-false', guard.trim() !== ''],
    ['used-up', causes.some(({ limit }) => limit !== null)],
    ['cooling', causes.some(({ cooldown }) => cooldown > 0)],
  ];
}

/** How much of what could be tried was, from 0 to 100; 100 where there is nothing to try. */
export function percentage(covered: readonly Covered[]): number {
  return covered.length === 0 ? 100 : (100 * covered.filter(({ tried }) => tried).length) / covered.length;
}
