import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { lanesOf, parseLevelText, rehearse } from '../src/index';
import type { Lane, Level } from '../src/index';
import { cause, chain, door, flag, goTo, levelOf, step, visitor, wait, walk, zone } from './build';

const lanes = (level: Level): Lane[] => {
  const { ledger, ticks } = rehearse(level, level.walks[0]!);
  return lanesOf(level, ledger, ticks);
};

it('says who was inside from when to when, what moved, what ran, and what was so', () => {
  const level = levelOf({
    visitors: [visitor('Miller', -5, 0), visitor('Goose', -3, 1, { kind: 'creature' })],
    zones: [zone('Spot', 0, 0, { shape: { kind: 'box', size: { x: 2, y: 4, z: 2 } } })],
    fixtures: [door('Gate', 5, 0, { timing: { by: 'seconds', seconds: 1 } })],
    flags: [flag('Seen')],
    chains: [
      chain(
        'Open it',
        [cause('enter', 'spot', { filter: { kinds: ['player'] } })],
        [step('open', { door: 'gate' }), step('set-flag', { flag: 'seen', to: true })],
      ),
    ],
    walks: [walk({ miller: [goTo(4, 0)], goose: [goTo(0, 1), wait(6)] })],
  });
  const found = lanes(level);
  expect(found.map(({ thing, group }) => `${group} ${thing}`)).toEqual([
    'visitors miller',
    'visitors goose',
    'zones spot',
    'fixtures gate',
    'chains open-it',
    'facts seen',
  ]);
  const spot = found.find(({ thing }) => thing === 'spot')!;
  // Two who are inside at once stand in two rows.
  expect(spot.rows.map((row) => row.map(({ says }) => says))).toEqual([['Goose inside'], ['Miller inside']]);
  const gate = found.find(({ thing }) => thing === 'gate')!;
  expect(gate.rows[0]!.map(({ says, from, to }) => [says, to - from > 0])).toEqual([
    ['moves to open', true],
    ['open', true],
  ]);
  expect(gate.rows[0]![0]!.to - gate.rows[0]![0]!.from).toBe(10);
  expect(found.find(({ thing }) => thing === 'open-it')!.instants.map(({ held }) => held)).toEqual([true]);
});

it('in every example: what lasts ends after it began, rows never overlap, and every entry named is there', () => {
  const folder = join(__dirname, '../../../demo/examples');
  for (const file of readdirSync(folder)) {
    const parsed = parseLevelText(readFileSync(join(folder, file), 'utf8'));
    if (!parsed.ok) throw new Error(file);
    const { ledger, ticks } = rehearse(parsed.level, parsed.level.walks[0]!);
    const lanes = lanesOf(parsed.level, ledger, ticks);
    const error = lanes.flatMap(({ rows, instants }) => [
      ...rows.flatMap((row) =>
        row.filter(({ from, to, entry }, i) => from < (row[i - 1]?.to ?? 0) || to < from || ledger.at(entry)!.tick !== from),
      ),
      ...instants.filter(({ tick, entry }) => ledger.at(entry)!.tick !== tick),
    ]);
    expect(error).toEqual([]);
  }
});
