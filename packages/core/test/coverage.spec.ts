import { coverageOf, noiseIn, rehearse } from '../src/index';
import type { Covered, Level } from '../src/index';
import { cause, chain, door, fixture, flag, goTo, levelOf, step, visitor, wait, walk, zone } from './build';

const covered = (level: Level): Covered[] =>
  coverageOf(level, new Map(level.walks.map((one) => [one.id, rehearse(level, one).ledger])));

/** What was tried of a chain's gates: those that passed and held, by the number of the cause. */
function gatesOf(level: Level, thing: string): Record<string, boolean> {
  const { causes } = level.chains.find(({ id }) => id === thing)!;
  return Object.fromEntries(
    covered(level)
      .filter((one) => one.kind === 'gate' && one.thing === thing)
      .map(({ part, cause: of, tried }) => [
        `${of === null ? 'step' : causes.findIndex(({ id }) => id === of) + 1} ${part}`,
        tried,
      ]),
  );
}

const mill = {
  visitors: [visitor('Miller', -5, 0), visitor('Goose', -5, 3, { kind: 'creature', raisesOverlaps: false })],
  zones: [zone('Spot', 0, 0), zone('Shut', 0, 6, { enabled: false })],
  fixtures: [door('Gate', 5, 0), door('Hatch', 5, 3)],
  flags: [flag('Dark')],
};

it('a gate passed what a later gate held, though the chain never started', () => {
  const level = levelOf({
    ...mill,
    chains: [
      chain(
        'Opens',
        [cause('enter', 'spot', { filter: { kinds: ['player'] }, limit: 3, cooldown: 2 })],
        [step('open', { door: 'gate' })],
        {
          guard: 'flag("dark")',
        },
      ),
    ],
    walks: [walk({ miller: [goTo(0, 0)] })],
  });
  expect(gatesOf(level, 'opens')).toEqual({
    '1 silent-visitor passed': true,
    '1 silent-visitor held': false,
    '1 filtered passed': true,
    '1 filtered held': false,
    '1 used-up passed': true,
    '1 used-up held': false,
    '1 cooling passed': true,
    '1 cooling held': false,
    '1 condition-false passed': false,
    '1 condition-false held': true,
    '1 running passed': false,
    '1 running held': false,
  });
});

it('a cause that was never asked has tried none of its gates, whatever the other causes of its chain did', () => {
  const level = levelOf({
    ...mill,
    chains: [
      chain('Opens', [
        cause('enter', 'spot', { limit: 1 }),
        cause('enter', 'spot', { filter: { kinds: ['creature'] } }),
        cause('enter', 'shut', { limit: 1 }),
      ]),
    ],
    walks: [walk({ miller: [goTo(0, 0), goTo(-5, 0), goTo(0, 0), goTo(0, 6)], goose: [goTo(0, 3), goTo(0, 0)] })],
  });
  const gates = gatesOf(level, 'opens');
  expect([gates['1 used-up passed'], gates['1 used-up held']]).toEqual([true, true]);
  expect([gates['2 filtered passed'], gates['2 filtered held']]).toEqual([false, true]);
  expect([gates['1 silent-visitor passed'], gates['1 silent-visitor held']]).toEqual([true, true]);
  expect([gates['3 disabled passed'], gates['3 disabled held']]).toEqual([false, true]);
  expect([gates['3 used-up passed'], gates['3 used-up held']]).toEqual([false, false]);
});

it.each(['listing', 'reverse'] as const)(
  'two causes on one event are told apart where chains listen in %s order',
  (listeners) => {
    const level = levelOf({
      ...mill,
      rules: { listeners },
      chains: [
        chain('Opens', [
          cause('enter', 'spot', { filter: { kinds: ['player'] } }),
          cause('enter', 'spot', { filter: { kinds: ['creature'] } }),
        ]),
      ],
      walks: [walk({ miller: [goTo(0, 0)] })],
    });
    const gates = gatesOf(level, 'opens');
    expect([gates['1 filtered passed'], gates['1 filtered held']]).toEqual([true, false]);
    expect([gates['2 filtered passed'], gates['2 filtered held']]).toEqual([false, true]);
  },
);

it('a chain that a step starts has its gates tried by steps, and by its own causes apart', () => {
  const level = levelOf({
    ...mill,
    chains: [
      chain('Bell', [cause('enter', 'spot')], [step('start-chain', { chain: 'toll' })]),
      chain('Toll', [cause('leave', 'spot')], [step('wait', { seconds: 1 })], { whileRunning: 'ignore' }),
    ],
    walks: [walk({ miller: [goTo(0, 0), wait(2)] })],
  });
  const { '1 running passed': own, 'step running passed': bySteps, 'step running held': held } = gatesOf(level, 'toll');
  expect([own, bySteps, held]).toEqual([false, true, false]);
});

it('what is queued was let through, and counts once', () => {
  const level = levelOf({
    ...mill,
    chains: [
      chain(
        'Toll',
        [cause('enter', 'spot', { limit: 5 }), cause('enter', 'spot', { limit: 0 })],
        [step('wait', { seconds: 9 })],
        { whileRunning: 'queue' },
      ),
    ],
    walks: [walk({ miller: [goTo(0, 0), goTo(-5, 0), goTo(0, 0), wait(20)] })],
  });
  const gates = gatesOf(level, 'toll');
  expect([gates['1 used-up passed'], gates['1 used-up held']]).toEqual([true, false]);
  expect([gates['2 used-up passed'], gates['2 used-up held']]).toEqual([false, true]);
  expect(gates['1 running held']).toBeUndefined();
});

it('a fixture to which nothing happens is a gap, a door that a step opened is none', () => {
  const level = levelOf({
    ...mill,
    chains: [chain('Opens', [cause('enter', 'spot')], [step('open', { door: 'gate' })])],
    walks: [walk({ miller: [goTo(0, 0)] })],
  });
  const fixtures = covered(level).filter(({ kind }) => kind === 'fixture');
  expect(fixtures.map(({ thing, tried }) => [thing, tried])).toEqual([
    ['gate', true],
    ['hatch', false],
  ]);
});

it('leaving what was collected is in the ledger, and not in a table of it', () => {
  const level = levelOf({
    ...mill,
    fixtures: [fixture('collectible', 'Token', 0, 0)],
    chains: [chain('Falls', [cause('leave', 'token')])],
    walks: [walk({ miller: [goTo(5, 0)] })],
  });
  const { entries } = rehearse(level, level.walks[0]!);
  const left = entries.filter(({ kind, details }) => kind === 'held' && 'event' in details && details.event === 'leave');
  expect(left.map(({ details }) => details)).toEqual([{ event: 'leave', reason: 'disabled' }]);
  expect([...noiseIn(entries)]).toEqual(left.map(({ number }) => number));
});
