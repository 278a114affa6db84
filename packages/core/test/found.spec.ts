import { ledgerText, rehearse, valuesAt } from '../src/index';
import {
  at as vec,
  carry,
  cause,
  chain,
  fixture,
  goTo,
  levelOf,
  solid,
  step,
  told,
  visitor,
  wait,
  walk,
  zone,
  said,
} from './build';
import { naiveRehearsal } from './naive/kernel';
import { textOf } from './naive/world';

/** What random levels have found: each was a difference between the two kernels once, cut down to the least that shows it. */

type Raw = Record<string, unknown>;

function both(parts: Raw, seed = 0): string[] {
  const level = levelOf(parts);
  const { entries } = rehearse(level, level.walks[0]!, { seed });
  expect(ledgerText(entries)).toBe(textOf(naiveRehearsal(level, level.walks[0]!, { seed })));
  return told(entries);
}

it('looks again at who has climbed, for more is within a step from there', () => {
  const heap = solid('Heap', 1, 0, { size: vec(1, 1, 0.4) });
  const crate = fixture('barrier', 'Crate', 1.1, 0, { size: vec(0.8, 0.8, 0.8) });
  expect(
    both({ solids: [heap], fixtures: [crate], visitors: [visitor('Alma', 0, 0)], walks: [walk({ alma: [goTo(3, 0)] })] }),
  ).toContain('35 arrived alma by alma');
});

it('looks again at who was put before a post and walks on towards it', () => {
  const ledger = both({
    zones: [zone('Gate', 0, 0)],
    fixtures: [fixture('barrier', 'Post', 9, 0, { size: vec(0.5, 9, 2) })],
    visitors: [visitor('Alma', 0, 0), visitor('Wim', 0, 9)],
    chains: [chain('Over', [cause('enter', 'gate')], [step('teleport', { to: vec(8.495, 0), velocity: 'keep' })])],
    walks: [walk({ alma: [goTo(12, 0)], wim: [wait(1)] })],
  });
  expect(ledger.filter((line) => line.includes('post'))).toEqual(['1 blocked post by alma', '2 bump post by alma']);
});

it('sees those whom a mover passes when it begins again at its beginning', () => {
  const ledger = both({
    fixtures: [
      fixture('mover', 'Bucket', -3, 0, {
        size: vec(0.4, 0.4, 1),
        solid: false,
        running: true,
        atEnd: 'again',
        keyframes: [{ by: vec(6, 0), seconds: 0.5 }],
      }),
    ],
    visitors: [visitor('Alma', 0, 0)],
    walks: [walk({ alma: [wait(1)] }, { atMost: 1.2 })],
  });
  expect(ledger.filter((line) => line.includes('missed')).map((line) => line.split(' ')[0])).toEqual(['3', '6', '8', '11']);
});

it('forgets nobody who was taken to another room after its turn', () => {
  const extents = { west: -20, south: -20, east: 20, north: 20 };
  const ledger = both({
    rooms: [
      { id: 'yard', name: 'Yard', extents },
      { id: 'loft', name: 'Loft', extents },
    ],
    zones: [zone('Gate', 3, 0), zone('Whole yard', 0, 0, { shape: { kind: 'box', size: vec(30, 30, 5) } })],
    visitors: [visitor('Alma', 0, 0)],
    chains: [chain('Up', [cause('enter', 'gate')], [step('warp', { to: { ...vec(0, 0), room: 'loft' } })])],
    walks: [walk({ alma: [goTo(9, 0)] })],
  });
  expect(ledger.filter((line) => line.includes('leave'))).toEqual(['19 leave gate by alma', '19 leave whole-yard by alma']);
});

it('lets those stand, or fall, whose route begins late', () => {
  const late = {
    solids: [solid('Shelf', 0, 0, { size: vec(2, 2, 3) })],
    fixtures: [
      fixture('mover', 'Broom', -3, 0, {
        at: vec(-3, 0, 3),
        size: vec(1, 2, 1),
        running: true,
        inTheWay: 'push',
        keyframes: [{ by: vec(5, 0), seconds: 1 }],
      }),
    ],
    visitors: [visitor('Alma', 0, 0, { at: vec(0, 0, 3) }), visitor('Wim', 9, 9)],
    walks: [walk({ alma: [goTo(9, 0)], wim: [] }, { jitter: { start: 20, speed: 0 }, atMost: 40 })],
  };
  for (const seed of [1, 2, 3]) expect(both(late, seed).some((line) => line.includes('arrived alma'))).toBe(true);
});

it('does not wait for the late start of a route that has nothing to do', () => {
  const ledger = both({ visitors: [visitor('Alma', 0, 0)], walks: [walk({ alma: [] }, { jitter: { start: 30, speed: 0 } })] }, 5);
  expect(ledger).toEqual(['0 start walk', '1 end settled']);
});

it('lets who was stopped go on from where it has been put, also when it lands there', () => {
  const ledger = both({
    zones: [zone('Bell rope', 0, 9)],
    solids: ['n', 's', 'e', 'w'].map((id, i) =>
      solid(id, [0, 0, 2, -2][i]!, [2, -2, 0, 0][i]!, { size: vec(i < 2 ? 5 : 1, i < 2 ? 1 : 5, 3) }),
    ),
    visitors: [visitor('Alma', 0, 0), visitor('Wim', -3, 9)],
    chains: [
      chain(
        'Out',
        [cause('enter', 'bell-rope')],
        [vec(5, 5, 3), vec(6, 5)].map((to, i) =>
          step('teleport', { who: { by: 'name', visitor: 'alma' }, to, velocity: 'keep', delay: i / 10 }),
        ),
      ),
    ],
    walks: [walk({ alma: [goTo(9, 0)], wim: [goTo(0, 9)] })],
  });
  expect(ledger.filter((line) => line.includes('alma') && !line.includes('step'))).toEqual([
    '13 blocked e by alma',
    '18 teleported alma by wim',
    '19 teleported alma by wim',
    '98 arrived alma by alma',
  ]);
});

it('sees what a prop flies past in the tick after its throw, also if its turn comes before that of who throws it', () => {
  const throwing = { id: 'throw', do: 'throw', prop: 'sack', velocity: vec(40, 0, 1) };
  const ledger = both({
    zones: [zone('Wire', 2, 0, { shape: { kind: 'box', size: vec(0.1, 4, 4) } })],
    visitors: [visitor('Sack', 0, 0.5, { kind: 'prop' }), visitor('Alma', 0, 0)],
    walks: [walk({ alma: [carry('sack'), wait(0.5), throwing] })],
  });
  expect(ledger).toContain('8 missed wire by sack');
});

it('gives up what waits for its delay in the order in which it was started', () => {
  const late = { delay: 5, givesUp: true, whileRunning: 'overlap' };
  const ledger = both({
    zones: [zone('Gate', 3, 0)],
    visitors: [visitor('Alma', 0, 0), visitor('Wim', 3, 0)],
    chains: [
      chain('First', [cause('enter', 'gate', { filter: { named: 'alma' } })], [], late),
      chain('Second', [cause('enter', 'gate')], [], late),
    ],
    walks: [walk({ alma: [goTo(3, 0), goTo(0, 0)] }, { atMost: 8 })],
  });
  // The second chain runs for Wim already when Alma comes.
  expect(ledger.filter((line) => line.includes('gave-up'))).toEqual([
    '43 gave-up first gate by alma left',
    '43 gave-up second gate by alma left',
  ]);
});

it('asks a watch over a load again when somebody on the plate picks up or throws', () => {
  const throwing = { id: 'throw', do: 'throw', prop: 'sack', velocity: vec(9, 0, 1) };
  const ledger = both({
    fixtures: [fixture('plate', 'Scale', 0, 0, { size: vec(1, 1, 0.1), threshold: 1000 })],
    visitors: [visitor('Alma', 0, 0, { mass: 70 }), visitor('Sack', 1.2, 0, { kind: 'prop', mass: 20 })],
    watches: [{ id: 'heavy', name: 'Heavy', when: 'load("scale") > 80.0' }],
    walks: [walk({ alma: [wait(1), carry('sack'), wait(1), throwing] })],
  });
  expect(ledger.filter((line) => line.includes('heavy'))).toEqual(['11 became-true heavy', '22 became-false heavy']);
});

it('keeps what is left of a late start for who is taken out of play and comes back', () => {
  const alma = { who: { by: 'name', visitor: 'alma' } };
  const late = {
    zones: [zone('Gate', 0, 9)],
    visitors: [visitor('Alma', 0, 0), visitor('Wim', 0, 9)],
    chains: [chain('Away', [cause('enter', 'gate')], [step('remove', alma), step('spawn', { visitor: 'alma', delay: 5 })])],
    walks: [walk({ alma: [goTo(3, 0)] }, { jitter: { start: 4, speed: 0 } })],
  };
  for (const seed of [1, 2, 3]) expect(both(late, seed).some((line) => line.includes('arrived alma'))).toBe(true);
});

it('leaves behind who stood on a mover that begins again at its beginning', () => {
  const ledger = both({
    rate: 30,
    fixtures: [
      fixture('mover', 'Bucket', -3, 0, {
        size: vec(1, 0.5, 0.5),
        running: true,
        atEnd: 'again',
        keyframes: [{ by: vec(0, -4), seconds: 0.2 }],
      }),
    ],
    visitors: [visitor('Alma', -3, -0.25)],
    walks: [walk({}, { atMost: 0.5 })],
  });
  // It comes back upon her where it has left her.
  expect(ledger).toContain('12 blocked bucket');
});

it('is at a keyframe exactly when it is told to turn back there, whatever fractions add up to', () => {
  const level = levelOf({
    rate: 30,
    fixtures: [
      fixture('mover', 'Wheel', 0, 0, {
        running: true,
        startDelay: 0.3,
        keyframes: [0.9, 0.2, 0.2].map((seconds, i) => ({ by: vec(i, i + 1), seconds })),
      }),
      fixture('switch', 'Lever', 5, 0),
    ],
    visitors: [visitor('Alma', 5, 1)],
    chains: [chain('Back', [cause('on', 'lever')], [step('play', { machine: 'wheel', way: 'backwards' })])],
    walks: [1.2, 1.3, 1.4].map((seconds, i) => ({
      ...walk({ alma: [wait(seconds - 1 / 30), { id: `use-${i}`, do: 'use', fixture: 'lever' }] }),
      id: `walk-${i}`,
      name: `Walk ${i}`,
    })),
  });
  for (const one of level.walks) {
    const { entries, tracks } = rehearse(level, one);
    expect(ledgerText(entries)).toBe(textOf(naiveRehearsal(level, one)));
    const turned = entries.find((entry) => said(entry)['turnedBack'] === true)!;
    if (one.id === 'walk-0') expect(valuesAt(tracks.doors.get('wheel')!, turned.tick)).toEqual([1]);
  }
});
