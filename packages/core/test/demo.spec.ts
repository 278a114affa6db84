import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { fixtureNames, parseLevelText, rehearse } from '../src/index';
import type { Entry } from '../src/index';
import { told, said } from './build';
import { naiveRehearsal } from './naive/kernel';

const parsed = parseLevelText(readFileSync(join(__dirname, '../../../demo/nettlewick.level.json'), 'utf8'));
if (!parsed.ok) throw new Error('The demo has faults');
const demo = parsed.level;
const [morning, goose] = demo.walks.map((walk) => rehearse(demo, walk).entries) as [Entry[], Entry[]];
const first = (entries: Entry[], kind: string, what: string): Entry =>
  entries.find((entry) => entry.kind === kind && entry.what === what)!;

describe('The morning round of the miller', () => {
  it('fires every chain but the one for shutting the sluice, and holds nothing', () => {
    expect(told(morning, 'chain-started').map((line) => line.split(' ')[2])).toEqual([
      'open-sluice',
      'landing-notice',
      'mill-door-opens',
    ]);
    expect(told(morning, 'held', 'blocked', 'missed')).toEqual([]);
  });

  it('lets the gate sink half a second after the sack and its carrier press the plate, and says so on the sign', () => {
    const press = first(morning, 'press', 'sack-plate');
    expect(said(press)['load']).toBe(82 + 25);
    expect(first(morning, 'moving', 'sluice-gate').seconds - press.seconds).toBeCloseTo(0.5, 6);
    expect(first(morning, 'opened', 'sluice-gate').seconds - press.seconds).toBeCloseTo(0.5 + 1.5, 6);
    expect(
      morning.filter((entry) => entry.what === 'gate-board' && entry.kind === 'changed').map((entry) => said(entry)['to']),
    ).toEqual(['Sluice sinking, stand clear', 'Sluice open', 'Race running, mind the edge']);
  });

  it('keeps the plate down with the sack alone when the miller has left it', () => {
    expect(told(morning, 'release')).toEqual([]);
    expect(first(morning, 'leave', 'sack-plate').who).toBe('miller');
  });

  it('closes the mill door again behind the miller, three seconds after it was open', () => {
    const opened = first(morning, 'opened', 'mill-door');
    const back = morning.find((entry) => entry.kind === 'moving' && entry.what === 'mill-door' && entry.number > opened.number)!;
    expect(back.cause).toBe(opened.number);
    expect(back.seconds - opened.seconds).toBeCloseTo(3, 6);
    expect(first(morning, 'closed', 'mill-door').seconds).toBeGreaterThan(first(morning, 'leave', 'doorstep').seconds);
  });
});

describe('The goose at the door', () => {
  it('enters the doorstep, and the filter holds it back with its reason', () => {
    const enter = first(goose, 'enter', 'doorstep');
    const held = goose.find((entry) => entry.kind === 'held')!;
    expect([held.cause, held.chain, said(held)['reason'], said(held)['part'], said(held)['found']]).toEqual([
      enter.number,
      'mill-door-opens',
      'filtered',
      'kinds',
      'creature',
    ]);
    expect(told(goose, 'chain-started', 'moving')).toEqual([]);
  });

  it('is too light for the plate', () => {
    expect(first(goose, 'enter', 'sack-plate').who).toBe('goose');
    expect(told(goose, 'press')).toEqual([]);
  });
});

it('meets every expectation of its walks', () => {
  for (const walk of demo.walks) {
    expect(walk.expectations.length).toBeGreaterThanOrEqual(2);
    expect(
      rehearse(demo, walk)
        .expectations.filter((one) => !one.passed)
        .map((one) => one.label),
    ).toEqual([]);
  }
});

it('shows every kind of fixture and zone at work in the stone loft', () => {
  const kinds = new Set(demo.fixtures.map((fixture) => fixture.kind));
  expect([...kinds].sort()).toEqual(fixtureNames.toSorted());
  expect(new Set(demo.zones.map((zone) => zone.shape.kind)).size).toBe(3);
  const loft = demo.walks[2]!;
  const { entries } = rehearse(demo, loft);
  const ledTo = demo.fixtures.flatMap((fixture) => ('to' in fixture ? [fixture.to.of] : []));
  const about = new Set([...entries.map((entry) => entry.what), ...ledTo]);
  const untouched = demo.fixtures.filter((fixture) => fixture.room === 'stone-loft' && !about.has(fixture.id));
  expect(untouched.map((fixture) => fixture.id)).toEqual([]);
});

it('is told the same by both kernels', () => {
  for (const walk of demo.walks) expect(naiveRehearsal(demo, walk)).toEqual(rehearse(demo, walk).entries);
});
