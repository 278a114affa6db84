import type { Level } from '../document/level';
import { lookup, nameOf } from '../document/lookup';
import type { Entry } from '../ledger/entry';
import type { Ledger } from '../ledger/ledger';

/** Something that lasts: from a tick to a tick, with the entry that began it; still going on where `to` is the end of the run. */
export interface Lasting {
  from: number;
  to: number;
  entry: number;
  /** What it is, in few words: who is inside, to where it moves, what it is. */
  says: string;
}

/** What one thing, visitor or chain was, along the time axis. */
export interface Lane {
  thing: string;
  group: 'visitors' | 'zones' | 'fixtures' | 'chains' | 'facts';
  /** Rows of what lasts: what overlaps in time stands in rows of its own. */
  rows: Lasting[][];
  /** What is over at once. */
  instants: { tick: number; entry: number; held: boolean }[];
}

const groups: Partial<Record<string, Lane['group']>> = {
  visitors: 'visitors',
  zones: 'zones',
  fixtures: 'fixtures',
  chains: 'chains',
  flags: 'facts',
  counters: 'facts',
  texts: 'facts',
  watches: 'facts',
  signals: 'facts',
};

const order: readonly Lane['group'][] = ['visitors', 'zones', 'fixtures', 'chains', 'facts'];

/**
 * The lanes of a run, in listing order by group: each visitor's overlaps, each motion, each run of a chain, each state that
 * was changed, from entry to entry. `ticks` is the last tick of the run.
 */
export function lanesOf(level: Level, ledger: Ledger, ticks: number): Lane[] {
  const things = lookup(level);
  const lanes = new Map<string, Lane>();
  const lasting = new Map<string, Lasting>();
  const laneOf = (id: string): Lane | null => {
    const group = groups[things.get(id)?.collection ?? ''];
    if (group === undefined) return null;
    let lane = lanes.get(id);
    if (lane === undefined) lanes.set(id, (lane = { thing: id, group, rows: [], instants: [] }));
    return lane;
  };
  const begin = (id: string, what: string, entry: Entry, says: string): void => {
    end(id, what, entry.tick);
    const span: Lasting = { from: entry.tick, to: ticks, entry: entry.number, says };
    lasting.set(`${id} ${what}`, span);
    const lane = laneOf(id);
    const row = lane?.rows.find((one) => one.every((other) => other.to <= entry.tick));
    if (row === undefined) lane?.rows.push([span]);
    else row.push(span);
  };
  function end(id: string, what: string, tick: number): void {
    const span = lasting.get(`${id} ${what}`);
    if (span === undefined) return;
    span.to = tick;
    lasting.delete(`${id} ${what}`);
  }
  const instant = (id: string | null, entry: Entry, held = false): void => {
    if (id !== null) laneOf(id)?.instants.push({ tick: entry.tick, entry: entry.number, held });
  };
  const name = (id: string | null): string => (id === null ? '' : nameOf(level, id).trim());

  for (const entry of ledger) {
    const { kind, who, what, chain, tick } = entry;
    switch (kind) {
      case 'enter':
      case 'arrived-inside':
        if (what !== null) begin(what, `in ${who}`, entry, `${name(who)} inside`);
        if (who !== null) begin(who, `in ${what}`, entry, `in ${name(what)}`);
        break;
      case 'leave':
        if (what !== null) end(what, `in ${who}`, tick);
        if (who !== null) end(who, `in ${what}`, tick);
        break;
      case 'moving':
        if (what !== null) begin(what, 'motion', entry, `moves to ${entry.details.to}`);
        break;
      case 'opened':
      case 'closed':
        if (what === null) break;
        end(what, 'motion', tick);
        begin(what, 'motion', entry, kind === 'opened' ? 'open' : 'closed');
        break;
      case 'arrived':
        if (what === null) break;
        if (things.get(what)?.collection === 'fixtures') begin(what, 'motion', entry, `at ${entry.details.at ?? 'its place'}`);
        else instant(what, entry);
        break;
      case 'press':
        if (what !== null) begin(what, 'pressed', entry, 'pressed');
        break;
      case 'release':
        if (what !== null) end(what, 'pressed', tick);
        break;
      case 'cue-started':
        if (what !== null) begin(what, 'cue', entry, 'plays');
        break;
      case 'cue-finished':
        if (what !== null) end(what, 'cue', tick);
        break;
      case 'chain-started':
        if (chain !== null) begin(chain, `run ${who ?? ''}`, entry, who === null ? 'runs' : `runs for ${name(who)}`);
        break;
      case 'chain-finished':
      case 'gave-up':
        // A step that has waited too long gives up alone: the chain goes on.
        if (chain !== null && entry.step === null) end(chain, `run ${who ?? ''}`, tick);
        if (kind === 'gave-up') instant(chain, entry, true);
        break;
      case 'changed': {
        const { field, to } = entry.details;
        if (what === null) break;
        end(what, field, tick);
        if (to !== false && to !== null) begin(what, field, entry, to === true ? field : `${field} ${String(to)}`);
        else instant(what, entry);
        break;
      }
      case 'held':
        instant(chain ?? what, entry, true);
        break;
      case 'start':
      case 'end':
      case 'step':
        break;
      default:
        instant(what ?? who, entry);
    }
  }
  const listed = [...things.keys()];
  const at = new Map(listed.map((id, i) => [id, i]));
  return [...lanes.values()].sort(
    (a, b) => order.indexOf(a.group) - order.indexOf(b.group) || at.get(a.thing)! - at.get(b.thing)!,
  );
}
