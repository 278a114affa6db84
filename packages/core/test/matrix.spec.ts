import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { coverageOf, matrixOf, parseLevelText, percentage, rehearse, whoeverItIs } from '../src/index';
import type { Level } from '../src/index';
import { at, cause, chain, door, fixture, goTo, levelOf, step, visitor, wait, walk, zone } from './build';

const runsOf = (level: Level) => new Map(level.walks.map((one) => [one.id, rehearse(level, one).ledger]));

const level = levelOf({
  visitors: [visitor('Miller', -5, 0), visitor('Goose', -5, 3, { kind: 'creature' })],
  zones: [zone('Spot', 0, 0), zone('Bare', 0, 6), zone('Far', 20, 20)],
  fixtures: [door('Gate', 5, 0), door('Hatch', 5, 3)],
  chains: [
    chain(
      'Open both',
      [cause('enter', 'spot', { filter: { kinds: ['player'] }, limit: 1 })],
      [step('open', { door: 'gate' }), step('open', { door: 'hatch' })],
    ),
    chain('Far away', [cause('enter', 'far')], [step('open', { door: 'gate' })]),
  ],
  walks: [walk({ miller: [goTo(0, 0), goTo(-5, 0), goTo(0, 0), goTo(0, 6)], goose: [goTo(0, 0)] })],
});

it('a cell says what is wired, how often it fired and first when, and what held it', () => {
  const { rows, columns } = matrixOf(level, runsOf(level));
  expect(columns).toEqual(['gate', 'hatch']);
  const spot = rows.find(({ from }) => from === 'spot')!.cells.get('hatch')!;
  expect(spot).toMatchObject({ chains: ['open-both'], fired: 1, first: { walk: 'walk' } });
  expect(spot.held.map(({ reason }) => reason).sort()).toEqual(['filtered', 'used-up']);
  const entry = rehearse(level, level.walks[0]!).ledger.at(spot.first!.entry)!;
  expect([entry.kind, entry.chain]).toEqual(['chain-started', 'open-both']);
});

it('wired and never tried, and reached with nothing wired to it, are told apart', () => {
  const { rows } = matrixOf(level, runsOf(level));
  const far = rows.find(({ from }) => from === 'far')!;
  expect([far.raised, far.unwired, far.cells.get('gate')!.fired]).toEqual([0, false, 0]);
  expect(rows.find(({ from }) => from === 'bare')).toMatchObject({ unwired: true, cells: new Map() });
});

it('a cell says what is done in which order, by which event, and by whom it was tried', () => {
  const { rows } = matrixOf(level, runsOf(level));
  const cell = rows.find(({ from }) => from === 'spot')!.cells.get('hatch')!;
  expect(cell.acts).toMatchObject([{ chain: 'open-both', on: ['enter'], place: 2, says: 'open' }]);
  // The gate takes a second, and the hatch waits for it.
  expect(cell.acts[0]!.after).toBe(1);
  expect(cell.by).toEqual([
    { who: 'miller', fired: 1, held: 1 },
    { who: 'goose', fired: 0, held: 1 },
  ]);
  const goose = matrixOf(level, runsOf(level), 'goose')
    .rows.find(({ from }) => from === 'spot')!
    .cells.get('hatch')!;
  expect([goose.fired, goose.first, goose.held.map(({ reason }) => reason)]).toEqual([0, null, ['filtered']]);
});

it('who is put elsewhere is acted on, not what the place is counted from; a pad acts by itself', () => {
  const pads = levelOf({
    visitors: [visitor('Miller', -5, 0)],
    zones: [zone('Hatchway', 0, 0), zone('Shut', 0, 6, { enabled: false })],
    fixtures: [
      door('Gate', 5, 0),
      fixture('teleporter', 'Pad', -3, 0, { to: at(-2, 8), cooldown: 60 }),
      fixture('teleporter', 'Dead pad', 9, 9, { to: at(0, 9), takes: 'nobody' }),
    ],
    chains: [
      chain('Away', [cause('enter', 'hatchway')], [step('teleport', { to: { ...at(1, 1), of: 'gate' } })]),
      chain('Never', [cause('enter', 'shut')], [step('open', { door: 'gate' })]),
    ],
    walks: [walk({ miller: [goTo(-3, 0), goTo(-3, 0), wait(1), goTo(0, 6), goTo(0, 0)] })],
  });
  const { rows, columns } = matrixOf(pads, runsOf(pads));
  const cellOf = (from: string, to: string) => rows.find((row) => row.from === from)?.cells.get(to);
  expect(columns).toEqual(['gate', whoeverItIs]);
  expect(cellOf('hatchway', 'gate')).toBeUndefined();
  expect(cellOf('hatchway', whoeverItIs)!.fired).toBe(1);
  expect(cellOf('pad', whoeverItIs)).toMatchObject({
    chains: [],
    fired: 1,
    held: [{ reason: 'cooling' }],
    acts: [{ on: ['enter'] }],
  });
  expect(rows.find(({ from }) => from === 'dead-pad')).toBeUndefined();
  // A zone that is disabled holds whatever is wired to it.
  expect(cellOf('shut', 'gate')!.held.map(({ reason }) => reason)).toEqual(['disabled']);
});

it('coverage names what no walk has tried, both answers of each gate among it', () => {
  const covered = coverageOf(level, runsOf(level));
  const gaps = covered.filter(({ tried }) => !tried).map(({ kind, thing, part }) => `${kind} ${thing} ${part}`.trim());
  expect(gaps.filter((gap) => !gap.startsWith('step'))).toEqual([
    'zone far',
    'gate open-both running held',
    'chain far-away',
    'gate far-away running passed',
    'gate far-away running held',
  ]);
  expect(percentage(covered)).toBeCloseTo((100 * (covered.length - gaps.length)) / covered.length);
  expect(percentage([])).toBe(100);
});

it('what fired in the cells of the demo is what its ledgers say', () => {
  const parsed = parseLevelText(readFileSync(join(__dirname, '../../../demo/nettlewick.level.json'), 'utf8'));
  if (!parsed.ok) throw new Error('The demo has faults');
  const runs = runsOf(parsed.level);
  const fired = new Map<string, number>();
  for (const { cells } of matrixOf(parsed.level, runs).rows)
    for (const { chains, fired: times } of cells.values())
      if (chains.length === 1) fired.set(chains[0]!, Math.max(fired.get(chains[0]!) ?? 0, times));
  for (const [id, times] of fired) {
    let counted = 0;
    for (const ledger of runs.values())
      for (const entry of ledger) if (entry.kind === 'chain-started' && entry.chain === id) counted++;
    expect([id, times]).toEqual([id, counted]);
  }
  expect(fired.size).toBeGreaterThan(3);
});
