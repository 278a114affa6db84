import { LEVEL_VERSION, parseLevel, reasonOf, rehearse } from '../src/index';
import type { Entry, Level, Rehearsal } from '../src/index';

/** Builders for small levels that tell a story: only what matters is written down, the schema fills in the rest. */

type Raw = Record<string, unknown>;

export const at = (x: number, y: number, z = 0) => ({ x, y, z });
const own = (name: string): Raw => ({ id: name.toLowerCase().replace(/[^a-z0-9]+/g, '-'), name, room: 'yard' });
const body = (x: number, y: number, z: number) => ({ kind: 'box', size: at(x, y, z) });

export const zone = (name: string, x: number, y: number, more: Raw = {}): Raw => ({
  ...own(name),
  at: at(x, y),
  shape: body(2, 2, 2),
  ...more,
});
export const plate = (name: string, x: number, y: number, more: Raw = {}): Raw => ({
  ...own(name),
  kind: 'plate',
  at: at(x, y),
  ...more,
});
export const door = (name: string, x: number, y: number, more: Raw = {}): Raw => ({
  ...own(name),
  kind: 'door',
  at: at(x, y),
  ...more,
});
export const sign = (name: string, x = 0, y = 0, more: Raw = {}): Raw => ({ ...own(name), kind: 'sign', at: at(x, y), ...more });
export const fixture = (kind: string, name: string, x: number, y: number, more: Raw = {}): Raw => ({
  ...own(name),
  kind,
  at: at(x, y),
  ...more,
});
export const solid = (name: string, x: number, y: number, more: Raw = {}): Raw => ({
  ...own(name),
  at: at(x, y),
  size: at(1, 1, 2),
  ...more,
});
export const flag = (name: string, on = false): Raw => ({ id: name.toLowerCase().replace(/[^a-z0-9]+/g, '-'), name, on });

export const visitor = (name: string, x: number, y: number, more: Raw = {}): Raw => ({
  ...own(name),
  kind: 'player',
  at: at(x, y),
  body: body(0.5, 0.5, 1.8),
  speed: 1,
  ...more,
});

let made = 0;
const fresh = (what: string): string => `${what}-${(made += 1)}`;

export const cause = (on: string, of: string, more: Raw = {}): Raw => ({ id: fresh('cause'), on, of, ...more });
export const step = (kind: string, more: Raw = {}): Raw => ({ id: fresh('step'), kind, ...more });
export const chain = (name: string, causes: Raw[], steps: Raw[] = [], more: Raw = {}): Raw => ({
  id: name.toLowerCase().replace(/[^a-z0-9]+/g, '-'),
  name,
  causes,
  steps,
  ...more,
});

export const goTo = (x: number, y: number, z = 0): Raw => ({ id: fresh('go'), do: 'go-to', to: at(x, y, z) });
export const wait = (seconds: number): Raw => ({ id: fresh('wait'), do: 'wait', seconds });
export const carry = (prop: string): Raw => ({ id: fresh('carry'), do: 'carry', prop });
export const drop = (prop: string): Raw => ({ id: fresh('drop'), do: 'drop', prop });
export const walk = (routes: Record<string, Raw[]>, more: Raw = {}): Raw => ({
  id: 'walk',
  name: 'Walk',
  routes: Object.entries(routes).map(([id, instructions]) => ({ visitor: id, instructions })),
  ...more,
});

/** A level in one yard; ten ticks a second unless it says otherwise, so that times are easy to read. */
export function levelOf(parts: Raw): Level {
  const parsed = parseLevel({
    format: 'nettlewick-level',
    version: LEVEL_VERSION,
    name: 'Nettlewick test yard',
    rate: 10,
    rooms: [{ id: 'yard', name: 'Yard', extents: { west: -50, south: -50, east: 50, north: 50 } }],
    ...parts,
  });
  if (!parsed.ok) throw new Error(parsed.faults.map((fault) => `${fault.path}: ${fault.message}`).join('\n'));
  return parsed.level;
}

export function run(parts: Raw): Rehearsal {
  const level = levelOf(parts);
  return rehearse(level, level.walks[0]!);
}

/** The ledger in short: `tick kind what` with who, chain or reason where there is one. */
export function told(entries: readonly Entry[], ...kinds: string[]): string[] {
  return entries
    .filter((entry) => kinds.length === 0 || kinds.includes(entry.kind))
    .map((entry) => ({ ...entry, reason: reasonOf(entry) }))
    .map(({ tick, kind, who, what, chain: inChain, reason }) =>
      [tick, kind, inChain, what, who === null ? null : `by ${who}`, reason]
        .filter((part) => part !== null && part !== undefined)
        .join(' '),
    );
}

/** What an entry says beside who, what, chain, step and cause, whatever its kind. */
export const said = (entry: Entry | undefined): Record<string, unknown> =>
  (entry?.details ?? {}) as unknown as Record<string, unknown>;

/** A level in which whoever enters the step sets off two chains that set off each other, without end. */
export function endless(parts: Raw): Level {
  return levelOf({
    visitors: [visitor('Miller', 0, 0)],
    flags: [{ id: 'seen', name: 'Seen', on: false }],
    chains: [
      chain('On', [cause('enter', 'step'), cause('chain-finished', 'off')], [step('set-flag', { flag: 'seen', to: true })]),
      chain('Off', [cause('chain-finished', 'on')], [step('set-flag', { flag: 'seen', to: false })]),
    ],
    ...parts,
  });
}
