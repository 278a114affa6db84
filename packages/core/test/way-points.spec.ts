import { leapsOf, rehearse, stepDurations, timeline, wayPointsOf } from '../src/index';
import type { Level } from '../src/index';
import { at, carry, fixture, goTo, levelOf, solid, step, visitor, wait, walk, zone, cause, chain } from './build';

// What became of the way points of a walk: when each was come to, how fast, and what stopped whoever never came.

const pointsOf = (level: Level): [number | null, number | null, string | null][] =>
  wayPointsOf(level, rehearse(level, level.walks[0]!), level.walks[0]!).map(({ seconds, speed, stoppedBy }) => [
    seconds,
    speed === null ? null : Math.round(speed * 100) / 100,
    stoppedBy,
  ]);

it('each way point has its time and the speed on the way to it; waiting counts, too', () => {
  const told = [goTo(2, 0), wait(1), goTo(2, 3), goTo(2, 3)];
  expect(pointsOf(levelOf({ visitors: [visitor('Miller', 0, 0)], walks: [walk({ miller: told })] }))).toEqual([
    [2, 1, null],
    [6, 0.75, null],
    [6.1, null, null],
  ]);
});

it('one that nobody comes to says so, and what stood in the way; those after it are not come to either', () => {
  const level = levelOf({
    visitors: [visitor('Miller', -5, 0)],
    solids: [solid('Mill wall', -2, 0, { size: at(0.5, 104, 3) })],
    walks: [walk({ miller: [goTo(-4, 0), goTo(0, 0), goTo(-4, 0)] }, { atMost: 8 })],
  });
  expect(pointsOf(level)).toEqual([
    [1, 1, null],
    [null, null, 'mill-wall'],
    [null, null, 'mill-wall'],
  ]);
});

it('a way on which a step walks or puts a visitor is not taken for its own', () => {
  const level = levelOf({
    visitors: [visitor('Miller', 0, 0)],
    zones: [zone('Hatchway', 3, 0)],
    chains: [chain('Away', [cause('enter', 'hatchway')], [step('teleport', { to: at(10, 10) })])],
    walks: [walk({ miller: [goTo(3, 0), goTo(12, 10)] })],
  });
  const run = rehearse(level, level.walks[0]!);
  expect(pointsOf(level).map(([seconds]) => seconds)).toEqual([null, expect.any(Number)]);
  const [leap, ...more] = leapsOf(level, run);
  expect(more).toEqual([]);
  expect(leap).toMatchObject({ visitor: 'miller', kind: 'put', room: 'yard', to: at(10, 10) });
  expect(leap!.from.x).toBeLessThan(2);
});

it('what is thrown leaps from the hand to where it comes down', () => {
  const level = levelOf({
    visitors: [
      visitor('Miller', 0, 0),
      visitor('Sack', 0.5, 0, { kind: 'prop', body: { kind: 'box', size: at(0.3, 0.3, 0.3) } }),
    ],
    fixtures: [fixture('plate', 'Plate', 30, 30)],
    walks: [walk({ miller: [carry('sack'), { id: 'throw', do: 'throw', prop: 'sack', velocity: at(4, 0, 4) }, wait(4)] })],
  });
  const [leap] = leapsOf(level, rehearse(level, level.walks[0]!));
  expect(leap).toMatchObject({ visitor: 'sack', kind: 'thrown', room: 'yard' });
  expect(leap!.to.x - leap!.from.x).toBeGreaterThan(3);
  expect(leap!.to.z).toBeCloseTo(0);
});

it('a step that walks somebody takes as long as it took when it was rehearsed, and what follows comes after it', () => {
  const level = levelOf({
    visitors: [visitor('Miller', 0, 0), visitor('Guard', 10, 0, { kind: 'creature', speed: 2 })],
    zones: [zone('Gateway', 3, 0)],
    flags: [{ id: 'told', name: 'Told' }],
    chains: [
      chain(
        'Halt',
        [cause('enter', 'gateway', { filter: { kinds: ['player'] } })],
        [
          step('walk-visitor', { who: { by: 'name', visitor: 'guard' }, to: at(6, 0) }),
          step('set-flag', { flag: 'told', to: true, delay: 0.5 }),
        ],
      ),
    ],
    walks: [walk({ miller: [goTo(3, 0), wait(9)] })],
  });
  const [halt] = level.chains;
  const { ledger } = rehearse(level, level.walks[0]!);
  const took = stepDurations(ledger, halt!);
  expect([...took.values()]).toEqual([2]);
  expect(timeline(level, halt!).map(({ start, end }) => [start, end])).toEqual([
    [0, 0],
    [0.5, 0.5],
  ]);
  expect(timeline(level, halt!, took).map(({ start, end }) => [start, end])).toEqual([
    [0, 2],
    [2.5, 2.5],
  ]);
});
