import type { Chain } from '../document/chains';
import type { Level } from '../document/level';
import { lookup, nameOf } from '../document/lookup';
import { actedOn } from '../document/targets';
import { timeline } from '../document/timeline';
import { kindOfFixture } from '../kinds/fixtures';
import type { Fixture } from '../kinds/fixtures';
import { kindOfStep } from '../kinds/steps';
import type { Step } from '../kinds/steps';
import type { Ledger } from '../ledger/ledger';
import { reasonOf } from '../ledger/entry';
import type { Entry } from '../ledger/entry';
import { heardAs } from '../kinds/causes';
import type { HeldReason } from '../vocabulary/entries';
import type { CauseEvent } from '../vocabulary/events';
import { spoken } from '../vocabulary/phrase';

/** Stands among what is acted on for visitors who are only known when it comes to it: no thing has such an id. */
export const whoeverItIs = 'any visitor';

/** One step of a chain through which one thing acts on another; or what a passage does by itself. */
export interface Act {
  /** The chain and the step, by their ids; empty for what acts by itself. */
  chain: string;
  step: string;
  /** The events that set it off. */
  on: CauseEvent[];
  /** Its place among the steps of the chain, from 1. */
  place: number;
  /** Seconds from the start of the chain until it starts, if nothing turns back what it waits for. */
  after: number;
  /** What it does, without the name of what it acts on. */
  says: string;
}

/** What one visitor has tried; null stands for what happened without one. */
export interface TriedBy {
  who: string | null;
  fired: number;
  held: number;
}

/** Where one thing sets something off, and what that acts on: through which chains, and what came of it in the runs. */
export interface Cell {
  /** The chains that lead from the one to the other, in the order in which they are tried. */
  chains: string[];
  /** What is done, in the order of the chains and of their steps. */
  acts: Act[];
  /** How often they started by it, and at which tick of which run first. */
  fired: number;
  first: { walk: string; entry: number; tick: number } | null;
  /** What held them, by reason, with how often. */
  held: { reason: string; times: number; walk: string; entry: number }[];
  /** By whom, in the order in which they came. */
  by: TriedBy[];
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
  /** What is acted on, in listing order; last, if at all, any visitor. */
  columns: string[];
}

/** Runs by the id of their walk. */
export type Runs = ReadonlyMap<string, Ledger>;

/** What sets off against what acts: as wired, and as it came in some runs. `only` one visitor's doing is counted, if one is named. */
export function matrixOf(level: Level, runs: Runs, only?: string): Matrix {
  const things = lookup(level);
  const rows = new Map<string, Row>();
  const columns = new Set<string>();
  const row = (from: string): Row => {
    let found = rows.get(from);
    if (found === undefined) rows.set(from, (found = { from, raised: 0, unwired: true, cells: new Map() }));
    return found;
  };
  const add = (from: string, to: string, act: Act): void => {
    const one = row(from);
    one.unwired = false;
    columns.add(to);
    let cell = one.cells.get(to);
    if (cell === undefined) one.cells.set(to, (cell = { chains: [], acts: [], fired: 0, first: null, held: [], by: [] }));
    if (act.chain !== '' && !cell.chains.includes(act.chain)) cell.chains.push(act.chain);
    cell.acts.push(act);
  };
  const targets = new Map<string, readonly string[]>();
  for (const chain of level.chains) {
    const acts = actsOf(level, chain);
    targets.set(chain.id, [...new Set(acts.map(({ to }) => to))]);
    const sources = new Map<string, CauseEvent[]>();
    for (const { of, on } of chain.causes) if (things.has(of)) sources.set(of, [...(sources.get(of) ?? []), on]);
    for (const [from, on] of sources) {
      row(from).unwired = false;
      for (const { to, act } of acts) add(from, to, { ...act, on: [...new Set(on)] });
    }
  }
  for (const fixture of level.fixtures) {
    const takes = kindOfFixture(fixture.kind).takes?.(fixture).takes ?? 'nobody';
    if (takes === 'nobody') continue;
    const on: CauseEvent[] = [takes === 'who-enters' ? 'enter' : 'use'];
    add(fixture.id, whoeverItIs, { chain: '', step: '', on, place: 1, after: 0, says: 'takes them elsewhere' });
  }
  const cellsOf = (from: string, chain: string | null): Cell[] =>
    (chain === null ? [whoeverItIs] : (targets.get(chain) ?? [])).flatMap((to) => rows.get(from)?.cells.get(to) ?? []);
  const heldAt = (from: string, chain: string | null, reason: string): Cell[] =>
    // What nobody heard of set off nothing, whatever is wired to it.
    unheard.has(reason) ? [...(rows.get(from)?.cells.values() ?? [])] : cellsOf(from, chain);
  for (const [walk, ledger] of runs) {
    for (const entry of ledger) {
      const { what, who, chain, cause } = entry;
      if (only !== undefined && who !== only) continue;
      if (what !== null && heardAs(entry.kind)?.saidOf === 'visitor') row(what).raised++;
      if (entry.kind === 'held') {
        if (what !== null) for (const cell of heldAt(what, chain, reasonOf(entry)!)) beHeld(cell, walk, entry);
      } else if (entry.kind === 'chain-started' || (chain === null && isTaken(entry))) {
        const from = cause === null ? null : ledger.at(cause)!.what;
        for (const cell of from === null ? [] : cellsOf(from, chain)) {
          cell.fired++;
          cell.first ??= { walk, entry: entry.number, tick: entry.tick };
          triedBy(cell, who).fired++;
        }
      }
    }
  }
  for (const one of rows.values()) one.unwired &&= one.raised > 0 && !actsByItself(level, one.from);
  const order = new Map([...things.keys()].map((id, at) => [id, at]));
  const place = (id: string): number => order.get(id) ?? order.size;
  return {
    rows: [...rows.values()].sort((a, b) => place(a.from) - place(b.from)),
    columns: [...columns].sort((a, b) => place(a) - place(b)),
  };
}

/** What the steps of a chain do, and to what. */
function actsOf(level: Level, chain: Chain): { to: string; act: Omit<Act, 'on'> }[] {
  const spans = timeline(level, chain);
  return chain.steps.flatMap((step, at) => {
    const after = Math.round((spans[at]!.start + chain.delay) * 1000) / 1000;
    return [...new Set(actedOn(level, step))].map((id) => ({
      to: id ?? whoeverItIs,
      act: { chain: chain.id, step: step.id, place: at + 1, after, says: doing(level, step, id) },
    }));
  });
}

/** A step in words, less the name of what it acts on. */
function doing(level: Level, step: Step, target: string | null): string {
  const phrase = kindOfStep(step.kind)
    .phrase(step)
    .filter((part) => typeof part === 'string' || part.input.kind !== 'reference' || part.value !== target);
  return spoken(phrase, (id) => nameOf(level, id).trim());
}

/** Why an event is held before any chain is asked. */
const unheard: ReadonlySet<string> = new Set<HeldReason>(['disabled', 'silent-visitor', 'out-of-reach', 'not-carried']);

/** Whether an entry says that somebody was put elsewhere, or stayed behind. */
function isTaken({ kind }: Entry): boolean {
  return kind === 'teleported' || kind === 'warped' || kind === 'left-behind';
}

function beHeld(cell: Cell, walk: string, entry: Entry): void {
  triedBy(cell, entry.who).held++;
  const reason = reasonOf(entry)!;
  const known = cell.held.find((one) => one.reason === reason);
  if (known === undefined) cell.held.push({ reason, times: 1, walk, entry: entry.number });
  else known.times++;
}

function triedBy(cell: Cell, who: string | null): TriedBy {
  let found = cell.by.find((one) => one.who === who);
  if (found === undefined) cell.by.push((found = { who, fired: 0, held: 0 }));
  return found;
}

/** What acts by itself, as a collectible does, needs no chain. */
function actsByItself(level: Level, id: string): boolean {
  const found = lookup(level).get(id);
  if (found?.collection !== 'fixtures') return found?.collection !== 'zones';
  const { entered, used, bumped } = kindOfFixture((found.thing as Fixture).kind);
  return entered !== undefined || used !== undefined || bumped !== undefined;
}
