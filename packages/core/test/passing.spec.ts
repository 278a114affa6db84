import { at as vec, cause, chain, fixture, goTo, levelOf, run, step, told, visitor, walk, zone } from './build';
import { naiveRehearsal } from './naive/kernel';
import { ledgerText } from '../src/index';
import { textOf } from './naive/world';

/** Doors that let their owner through, what is half seen through, where one faces, and who speaks. */

type Raw = Record<string, unknown>;

/** The lines of a level of which both kernels tell the same. */
function lines(parts: Raw, ...kinds: string[]): string[] {
  const { entries } = run(parts);
  const level = levelOf(parts);
  expect(ledgerText(entries)).toBe(textOf(naiveRehearsal(level, level.walks[0]!)));
  return told(entries, ...kinds);
}

const threshold = zone('Threshold', 2, 0);
const wall = (letsThrough: Raw): Raw => fixture('barrier', 'Wall', 4, 0, { size: vec(0.4, 4, 2), letsThrough });
const claims = chain(
  'Claim',
  [cause('enter', 'threshold', { limit: 1 })],
  [step('claim', { thing: 'wall' }), step('make-see-through', { fixture: 'wall' })],
);
const two = (letsThrough: Raw): Raw => ({
  zones: [threshold],
  fixtures: [wall(letsThrough)],
  visitors: [visitor('Ann', 0, 0), visitor('Ben', 0, 1)],
  chains: [claims],
  walks: [walk({ ann: [goTo(7, 0)], ben: [goTo(7, 1)] })],
});

it('lets its owner through who claimed it first, and stops a second, who only sees through it', () => {
  const ledger = lines(two({ owner: true }), 'claimed', 'changed', 'enter', 'leave', 'blocked', 'bump', 'arrived', 'end');
  expect(ledger).toContain('8 claimed wall by ann');
  expect(ledger.filter((line) => line.includes(' wall'))).toEqual([
    '8 claimed wall by ann',
    '8 changed wall by ann',
    '36 blocked wall by ben',
    '36 enter wall by ann',
    '36 bump wall by ben',
    '45 leave wall by ann',
  ]);
  expect(ledger).toContain('70 arrived ann by ann');
  expect(ledger.some((line) => line.includes('arrived ben'))).toBe(false);
});

it('stops everybody where nobody was let through, owner or not', () => {
  const ledger = lines(two({}), 'arrived', 'bump');
  expect(ledger.filter((line) => line.includes('arrived'))).toEqual([]);
  expect(ledger).toHaveLength(2);
});

it('lets through who has one of its tags, letter by letter', () => {
  const parts = two({ tags: ['miller', 'cat'] });
  const arrived = (tags: string[]): boolean =>
    lines({ ...parts, visitors: [visitor('Ann', 0, 0, { tags }), visitor('Ben', 0, 1)] }, 'arrived').some((line) =>
      line.includes('arrived ann'),
    );
  expect([arrived(['cat']), arrived(['Cat']), arrived([])]).toEqual([true, false, false]);
});

it('drops through a floor whoever it lets through, and holds the others', () => {
  const floor = fixture('barrier', 'Floor', 0, 0, { size: vec(20, 20, 2), letsThrough: { tags: ['ghost'] } });
  const ghost = visitor('Ghost', 0, 0, { at: vec(0, 0, 2), tags: ['ghost'] });
  const miller = visitor('Miller', 2, 0, { at: vec(2, 0, 2) });
  const pad = zone('Cellar', 0, 0, { shape: { kind: 'box', size: vec(20, 20, 0.5) } });
  const parts = { zones: [pad], fixtures: [floor], visitors: [ghost, miller], walks: [walk({ miller: [goTo(3, 0)] })] };
  const ledger = lines(parts, 'enter');
  expect(ledger.map((line) => line.replace(/^\d+ /, ''))).toEqual(['enter floor by ghost', 'enter cellar by ghost']);
});

it('pushes and carries only those it does not let through', () => {
  const lift = fixture('elevator', 'Lift', 0, 0, {
    size: vec(4, 4, 0.2),
    stops: [vec(0, 0, 0), vec(0, 0, 3)],
    timing: { by: 'seconds', seconds: 1 },
    letsThrough: { tags: ['ghost'] },
  });
  const loft = zone('Loft', 0, 0, { at: vec(0, 0, 2.5), shape: { kind: 'box', size: vec(4, 4, 2) } });
  const ledger = lines(
    {
      zones: [loft, zone('Start', 1, 1)],
      fixtures: [lift],
      visitors: [visitor('Ghost', 0.5, 0, { tags: ['ghost'] }), visitor('Miller', -1, 0, { at: vec(-1, 0, 0.2) })],
      chains: [chain('Up', [cause('enter', 'start')], [step('send', { elevator: 'lift', stop: 2 })])],
      walks: [walk({ ghost: [goTo(1, 1)] })],
    },
    'enter',
  );
  expect(ledger.some((line) => line.endsWith('enter loft by miller'))).toBe(true);
  expect(ledger.some((line) => line.endsWith('enter loft by ghost'))).toBe(false);
});

it('says which way one faces who was taken elsewhere, and conditions may ask for it', () => {
  const parts = (degrees: number): Raw => ({
    zones: [zone('Pad', 1, 0), zone('Far', 5, 5)],
    fixtures: [fixture('marker', 'Arrival', 5, 5, { heading: degrees })],
    visitors: [visitor('Ann', 0, 0)],
    flags: [{ id: 'north', name: 'North', on: false, per: 'level' }],
    chains: [
      chain(
        'Jump',
        [cause('enter', 'pad')],
        [step('teleport', { to: { x: 0, y: 0, z: 0, of: 'arrival' }, arrivesFacing: 'take' })],
      ),
      chain('Faces', [cause('teleported', 'ann')], [step('set-flag', { flag: 'north', to: true })], {
        guard: 'heading("ann") == 90.0',
      }),
    ],
    walks: [walk({ ann: [goTo(1, 0)] })],
  });
  const ends = (degrees: number): unknown[] => {
    const { entries } = run(parts(degrees));
    const put = entries.find((entry) => entry.kind === 'teleported')!;
    return [put.details, entries.some((entry) => entry.kind === 'changed')];
  };
  expect(ends(90)).toEqual([{ x: 5, y: 5, z: 0, heading: 90 }, true]);
  expect(ends(-90)).toEqual([{ x: 5, y: 5, z: 0, heading: 270 }, false]);
  lines(parts(90));
});

it('watches the heading of who turns to walk another way', () => {
  const ledger = lines(
    {
      visitors: [visitor('Ann', 0, 0)],
      watches: [{ id: 'west', name: 'West', when: 'heading("ann") == 180.0', fromStart: false }],
      walks: [walk({ ann: [goTo(3, 0), goTo(0, 0), goTo(0, 2)] })],
    },
    'became-true',
    'became-false',
  );
  expect(ledger).toEqual(['31 became-true west', '61 became-false west']);
});

it('lets a guard speak: who says what, and for how long', () => {
  const halt = fixture('cue', 'Halt', 2, 0, { medium: 'speech', speaker: 'guard', line: 'Halt! Who goes there?', seconds: 2 });
  const parts = {
    zones: [threshold],
    fixtures: [halt],
    visitors: [visitor('Ann', 0, 0), visitor('Guard', 5, 0, { kind: 'creature' })],
    chains: [chain('Speak', [cause('enter', 'threshold')], [step('cue', { cue: 'halt' })])],
    walks: [walk({ ann: [goTo(2, 0)] })],
  };
  const { entries } = run(parts);
  expect(entries.find((entry) => entry.kind === 'cue-started')!.details).toEqual({
    medium: 'speech',
    ticks: 20,
    speaker: 'guard',
    line: 'Halt! Who goes there?',
  });
  lines(parts);
});
