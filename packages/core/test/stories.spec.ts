import { rehearse, valuesAt } from '../src/index';
import type { Level } from '../src/index';
import {
  at as vec,
  carry,
  cause,
  chain,
  door,
  fixture,
  flag,
  goTo,
  levelOf,
  plate,
  run,
  sign,
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

/** What fixtures and visitors do, told as short stories; each is told the same by both kernels. */

type Raw = Record<string, unknown>;

function play(parts: Raw, ...kinds: string[]): string[] {
  const level: Level = levelOf(parts);
  const { entries } = rehearse(level, level.walks[0]!);
  expect(naiveRehearsal(level, level.walks[0]!)).toEqual(entries);
  return told(entries, ...kinds);
}
const heights = (parts: Raw, who: string, ...ticks: number[]): number[] => {
  const level = levelOf(parts);
  const track = rehearse(level, level.walks[0]!).tracks.visitors.get(who)!;
  return ticks.map((tick) => Math.round(valuesAt(track, tick)[2]! * 1000) / 1000);
};

describe('Standing and falling', () => {
  it('goes up a stair of half-metre steps, and falls off the far side as a parabola', () => {
    const parts = {
      solids: [1, 2, 3].map((n) => solid(`Step ${n}`, n, 0, { size: vec(1, 4, 0.5 * n) })),
      visitors: [visitor('Alma', -1, 0)],
      walks: [walk({ alma: [goTo(6, 0, 0)] })],
    };
    expect(play(parts, 'arrived', 'blocked')).toEqual(['76 arrived alma by alma']);
    // Its feet leave the last step (3.5 m, and half a body more) at tick 48, and are down 0.55 s later.
    expect(heights(parts, 'alma', 0, 10, 30, 47, 48, 50, 53, 54)).toEqual([0, 0, 1, 1.5, 1.5, 1.304, 0.274, 0]);
  });

  it('starts in the air and lands on what is below', () => {
    const parts = {
      solids: [solid('Loft', 0, 0, { size: vec(2, 2, 1) })],
      visitors: [visitor('Alma', 0, 0, { at: vec(0, 0, 4) })],
      walks: [walk({ alma: [wait(2)] })],
    };
    expect(heights(parts, 'alma', 0, 5, 20)).toEqual([4, 2.774, 1]);
  });

  it('takes the stairs around the corner to a place upstairs', () => {
    const steps = [1, 2, 3, 4].map((n) => solid(`Step ${n}`, 4, 3 - n, { size: vec(2, 1, 0.5 * n) }));
    const loft = solid('Loft', 1, -2, { size: vec(4, 3, 2) });
    const parts = { solids: [...steps, loft], visitors: [visitor('Alma', 0, 4)], walks: [walk({ alma: [goTo(0, -2, 2)] })] };
    expect(play(parts, 'blocked')).toEqual([]);
    const level = levelOf(parts);
    const { tracks, ticks } = rehearse(level, level.walks[0]!);
    expect(valuesAt(tracks.visitors.get('alma')!, ticks).map((metres) => Math.round(metres * 100) / 100)).toEqual([0, -2, 2]);
  });

  it('goes around a mill by the shorter side', () => {
    const parts = {
      solids: [solid('Mill', 3, 0.5, { size: vec(2, 4, 3) })],
      visitors: [visitor('Alma', 0, 0)],
      walks: [walk({ alma: [goTo(6, 0)] })],
    };
    expect(play(parts, 'blocked', 'arrived')).toEqual(['76 arrived alma by alma']);
    const level = levelOf(parts);
    const { tracks } = rehearse(level, level.walks[0]!);
    expect(Math.min(...[20, 30, 40].map((tick) => valuesAt(tracks.visitors.get('alma')!, tick)[1]!))).toBeCloseTo(-1.76, 2);
  });
});

describe('Things in the way', () => {
  const closing = (inTheWay: string): string[] =>
    play(
      {
        fixtures: [
          door('Gate', 0, 0, {
            size: vec(1, 0.2, 2),
            open: true,
            travel: vec(2, 0, 0),
            timing: { by: 'seconds', seconds: 2 },
            inTheWay,
          }),
        ],
        zones: [zone('Near', 0, 3)],
        visitors: [visitor('Alma', 0, 0), visitor('Wim', 0, 6)],
        chains: [chain('Close', [cause('enter', 'near')], [step('close', { door: 'gate' })])],
        walks: [walk({ wim: [goTo(0, 3)], alma: [wait(4), goTo(0, -3)] }, { atMost: 12 })],
      },
      'blocked',
      'closed',
      'opened',
      'moving',
    ).map((line) => line.replace(/ by \w+$/, ''));

  it('stop a door until they are gone', () => {
    expect(closing('stop')).toEqual(['18 moving gate', '31 blocked gate', '52 closed gate']);
  });

  it('turn a door back', () => {
    expect(closing('reverse')).toEqual(['18 moving gate', '31 blocked gate', '31 moving gate', '43 opened gate']);
  });

  it('are pushed by it', () => {
    expect(closing('push')).toEqual(['18 moving gate', '38 closed gate', '42 blocked gate']);
  });
});

describe('Elevators and movers', () => {
  const lift = (more: Raw = {}) =>
    fixture('elevator', 'Lift', 0, 0, {
      size: vec(2, 2, 0.2),
      stops: [vec(0, 0), vec(0, 0, 2), vec(0, 0, 4)],
      timing: { by: 'seconds', seconds: 1 },
      ...more,
    });

  it('carry who stands on them, past a stop, and come back when they are left', () => {
    const parts = {
      fixtures: [lift({ whenLeft: 'return' }), fixture('switch', 'Lever', 0.5, 0.5, { attachedTo: 'lift', reach: 2 })],
      solids: [solid('Loft', 3, 0, { at: vec(3, 0, 4), size: vec(4, 4, 0.2) })],
      visitors: [visitor('Alma', 0, 0)],
      chains: [chain('Up', [cause('on', 'lever')], [step('send', { elevator: 'lift', stop: 3 })])],
      walks: [walk({ alma: [{ id: 'use', do: 'use', fixture: 'lever' }, wait(2.5), goTo(3, 0, 4.2)] })],
    };
    expect(play(parts, 'on', 'moving', 'arrived')).toEqual([
      '1 on lever by alma',
      '1 moving lift by alma',
      '21 arrived lift by alma',
      '34 moving lift',
      '54 arrived lift',
      '56 arrived alma by alma',
    ]);
    expect(heights(parts, 'alma', 0, 11, 21, 56)).toEqual([0.2, 2.2, 4.2, 4.2]);
  });

  it('wait to return until nobody is on them', () => {
    const parts = {
      fixtures: [lift({ returnAfter: 0.5, returnWhen: 'empty', startsAt: 1, startDelay: 0.3 })],
      zones: [zone('Aboard', 0, 0)],
      visitors: [visitor('Alma', 0, 0)],
      chains: [chain('Up', [cause('enter', 'aboard')], [step('send', { elevator: 'lift', stop: 2 })])],
      walks: [walk({ alma: [wait(3), goTo(9, 0)] })],
    };
    // Told at 0, starts at 3, up at 13; she is off its edge at 43, and it goes.
    expect(play(parts, 'moving', 'arrived')).toEqual([
      '0 moving lift by alma',
      '13 arrived lift by alma',
      '44 moving lift by alma',
      '57 arrived lift by alma',
      '127 arrived alma by alma',
    ]);
  });

  it('turn what is attached to them, and who stands on them', () => {
    const parts = {
      fixtures: [
        fixture('mover', 'Turntable', 0, 0, {
          size: vec(6, 6, 0.2),
          keyframes: [{ by: vec(0, 0), turn: 90, seconds: 1 }],
          running: true,
        }),
        plate('Rim', 2, 0, { attachedTo: 'turntable', at: vec(2, 0, 0.2) }),
      ],
      visitors: [visitor('Alma', 2, 0), visitor('Wim', 0, 9)],
      walks: [walk({})],
    };
    expect(play(parts, 'enter', 'leave', 'press')).toEqual(['0 enter rim by alma', '0 press rim by alma']);
    const level = levelOf(parts);
    const { tracks, ticks } = rehearse(level, level.walks[0]!);
    expect(valuesAt(tracks.visitors.get('alma')!, ticks).map((metres) => Math.round(metres * 1e6) / 1e6 + 0)).toEqual([
      0, 2, 0.2,
    ]);
  });
});

describe('Hands', () => {
  it('throw a prop in a parabola, which arrives with its thrower in hand', () => {
    const parts = {
      visitors: [
        visitor('Alma', 0, 0),
        visitor('Float', 0.6, 0, { kind: 'prop', body: { kind: 'pillar', radius: 0.2, height: 0.4 } }),
      ],
      zones: [zone('Pond', 6, 0, { shape: { kind: 'pillar', radius: 3, height: 1 } })],
      walks: [walk({ alma: [carry('float'), { id: 't', do: 'throw', prop: 'float', velocity: vec(5, 0, 4) }] })],
    };
    // From 0.9 m up: 0.9 + 4t - 4.905t² = 0 at t = 1.0 s.
    expect(play(parts, 'use', 'enter', 'arrived')).toEqual([
      '1 use float by alma',
      '2 use float by alma',
      '10 enter pond by float',
      '12 arrived float by alma',
    ]);
  });

  it('use a switch only within its reach, once if it works once', () => {
    const use = (id: string): Raw => ({ id, do: 'use', fixture: 'lever' });
    const parts = {
      fixtures: [fixture('switch', 'Lever', 3, 0, { works: 'once', reach: 1.5 })],
      visitors: [visitor('Alma', 0, 0)],
      walks: [walk({ alma: [use('u1'), goTo(1.5, 0), use('u2'), use('u3')] })],
    };
    expect(play(parts, 'on', 'off', 'held')).toEqual([
      '1 held lever by alma out-of-reach',
      '17 on lever by alma',
      '18 held lever by alma used-up',
    ]);
  });
});

it('dwells for as long as it was told, and is too late to leave in that very tick', () => {
  const parts = (seconds: number) => ({
    zones: [zone('Sill', 2, 0, { dwell: 1 })],
    visitors: [visitor('Alma', 0, 0)],
    walks: [walk({ alma: [goTo(2, 0), wait(seconds), goTo(-3, 0)] })],
  });
  // In at tick 8; due at 18, before Sense; from 2 m it is out 13 ticks after it starts.
  expect(play(parts(0), 'enter', 'dwell', 'leave')).toEqual([
    '8 enter sill by alma',
    '18 dwell sill by alma',
    '33 leave sill by alma',
  ]);
});

it('gives up a delayed start when the visitor leaves first, restarts, queues and overlaps', () => {
  const parts = (more: Raw, second = 3) => ({
    zones: [zone('Sill', 2, 0)],
    visitors: [visitor('Alma', 0, 0), visitor('Wim', -second, 0)],
    chains: [chain('Ring', [cause('enter', 'sill')], [step('wait', { seconds: 4 })], more)],
    walks: [walk({ alma: [goTo(6, 0)], wim: [goTo(2, 0)] })],
  });
  const kinds = ['chain-started', 'gave-up', 'chain-finished', 'held'];
  expect(play(parts({ delay: 3, givesUp: true, whileRunning: 'overlap' }), ...kinds)).toEqual([
    '8 chain-started ring sill by alma',
    '33 gave-up ring sill by alma left',
    '38 chain-started ring sill by wim',
    '108 chain-finished ring by wim',
  ]);
  expect(play(parts({ whileRunning: 'restart' }, 1), ...kinds)[1]).toBe('18 gave-up ring by alma restarted');
  expect(play(parts({ whileRunning: 'queue' }, 1), ...kinds)).toEqual([
    '8 chain-started ring sill by alma',
    '18 held ring sill by wim running',
    '48 chain-finished ring by alma',
    '48 chain-started ring sill by wim',
    '88 chain-finished ring by wim',
  ]);
  expect(play(parts({ whileRunning: 'overlap' }, 1), 'chain-finished')).toHaveLength(2);
});

it('sends signals to all, to a tag, or within a radius, and says why they were not heard', () => {
  const parts = (address: Raw) => ({
    zones: [zone('Sill', 2, 0)],
    signals: [{ id: 'call', name: 'Call' }],
    fixtures: [sign('Near bell', 3, 0, { tags: ['bells'] }), sign('Far bell', 30, 0)],
    visitors: [visitor('Alma', 0, 0)],
    chains: [
      chain('Caller', [cause('enter', 'sill')], [step('signal', { signal: 'call', address })]),
      ...['near-bell', 'far-bell', ''].map((hears, i) => chain(`Answer ${i}`, [cause('signal', 'call', { hears })])),
    ],
    walks: [walk({ alma: [goTo(2, 0)] })],
  });
  const answers = (address: Raw): string[] =>
    play(parts(address), 'chain-started')
      .slice(1)
      .map((line) => line.split(' ')[2]!);
  expect(answers({ to: 'all' })).toEqual(['answer-0', 'answer-1', 'answer-2']);
  expect(answers({ to: 'tag', tag: 'bells' })).toEqual(['answer-0']);
  expect(answers({ to: 'radius', metres: 5 })).toEqual(['answer-0']);
  const level = levelOf(parts({ to: 'radius', metres: 5 }));
  const held = rehearse(level, level.walks[0]!).entries.filter((entry) => entry.kind === 'held');
  expect(held.map((entry) => [said(entry)['part'], said(entry)['found']])).toEqual([
    ['hearing radius', '29.2 m'],
    ['hearing', 'nothing'],
  ]);
});

it('waits until a condition, and no longer than its limit', () => {
  const parts = (limit: number | null) => ({
    zones: [zone('Sill', 2, 0), zone('Far sill', 6, 0)],
    flags: [flag('Far')],
    visitors: [visitor('Alma', 0, 0)],
    chains: [
      chain('Wait', [cause('enter', 'sill')], [step('wait-until', { until: 'flag("far")', limit })]),
      chain('Reach', [cause('enter', 'far-sill')], [step('set-flag', { flag: 'far', to: true })]),
    ],
    walks: [walk({ alma: [goTo(7, 0)] })],
  });
  expect(play(parts(null), 'chain-finished', 'gave-up')).toEqual([
    '48 chain-finished reach by alma',
    '48 chain-finished wait by alma',
  ]);
  expect(play(parts(2), 'chain-finished', 'gave-up')[0]).toBe('28 gave-up wait by alma time limit');
});

it('varies starts and speeds by the seed alone', () => {
  const level = levelOf({
    visitors: [visitor('Alma', 0, 0)],
    walks: [walk({ alma: [goTo(9, 0)] }, { jitter: { start: 2, speed: 0.3 } })],
  });
  const end = (seed: number): number => rehearse(level, level.walks[0]!, { seed }).ticks;
  expect(end(3)).toBe(end(3));
  const ends = Array.from({ length: 40 }, (_, seed) => end(seed));
  expect(new Set(ends).size).toBeGreaterThan(10);
  expect(Math.min(...ends)).toBeGreaterThanOrEqual(Math.floor(90 / 1.3));
  expect(Math.max(...ends)).toBeLessThanOrEqual(Math.ceil(90 / 0.7) + 20);
  expect(ends.slice(0, 5).map((_, seed) => naiveRehearsal(level, level.walks[0]!, { seed }).at(-1)!.tick)).toEqual(
    ends.slice(0, 5),
  );
});

it('answers expectations with what shows it, and failures with what came nearest', () => {
  const { expectations } = run({
    zones: [zone('Sill', 2, 0)],
    visitors: [visitor('Alma', 0, 0)],
    chains: [chain('Ring', [cause('enter', 'sill', { filter: { anyOf: ['keeper'] } })], [])],
    walks: [
      walk(
        { alma: [goTo(2, 0)] },
        {
          expectations: [
            { id: 'e1', expect: 'happens', entry: { kind: 'enter', what: 'sill' } },
            { id: 'e2', expect: 'happens', entry: { kind: 'chain-started', chain: 'ring' } },
            { id: 'e3', expect: 'within', entry: { kind: 'arrived' }, after: { kind: 'enter' }, seconds: 1 },
            { id: 'e4', expect: 'exactly', entry: { kind: 'enter' }, times: 2 },
            { id: 'e5', expect: 'never', entry: { kind: 'held', reason: 'filtered' } },
            { id: 'e6', expect: 'at-end', state: 'inside("alma", "sill")' },
            { id: 'e7', expect: 'before', entry: { kind: 'arrived' }, then: { kind: 'enter' } },
          ],
        },
      ),
    ],
  });
  expect(expectations.map(({ id, passed, entries, because }) => [id, passed, entries, because])).toEqual([
    ['e1', true, [2], 'it happened'],
    ['e2', false, [3], 'it did not happen'],
    ['e3', false, [2, 4], 'it took 1.2 s'],
    ['e4', false, [2], 'it happened 1 time'],
    ['e5', false, [3], 'it happened'],
    ['e6', true, [], 'inside("alma", "sill") = true'],
    ['e7', false, [2, 4], 'the other way round'],
  ]);
});
