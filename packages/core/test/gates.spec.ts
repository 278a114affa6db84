import { cause, chain, flag, goTo, plate, run, step, told, visitor, wait, walk, zone, said } from './build';

/** A visitor that goes in and out of the doorstep `times` times, two seconds each way. */
const inAndOut = (times: number) => Array.from({ length: times }, () => [goTo(2, 0), goTo(0, 0)]).flat();

const doorstep = (
  causes: Record<string, unknown>[],
  more: Record<string, unknown> = {},
  who: Record<string, unknown> = {},
  times = 1,
) => ({
  zones: [zone('Doorstep', 3, 0, more['zone'] as Record<string, unknown>)],
  flags: [flag('Open', more['flag'] === true)],
  visitors: [visitor('Miller', 0, 0, { tags: ['miller'], ...who })],
  chains: [
    chain(
      'Welcome',
      causes,
      (more['steps'] as Record<string, unknown>[] | undefined) ?? [],
      more['chain'] as Record<string, unknown>,
    ),
  ],
  walks: [walk({ miller: inAndOut(times) })],
});
const enter = (more: Record<string, unknown> = {}) => [cause('enter', 'doorstep', more)];
const reasons = (parts: Record<string, unknown>) => run(parts).entries.filter((entry) => entry.kind === 'held');

it('holds the event itself, once, at a disabled zone, whoever listens', () => {
  const parts = doorstep([...enter(), ...enter()], { zone: { enabled: false } });
  expect(told(run(parts).entries, 'enter', 'held', 'chain-started')).toEqual([
    '18 held doorstep by miller disabled',
    '23 held doorstep by miller disabled',
  ]);
});

it('holds what a visitor that raises no overlaps sets off', () => {
  expect(told(reasons(doorstep(enter(), {}, { raisesOverlaps: false })))).toEqual([
    '18 held doorstep by miller silent-visitor',
    '23 held doorstep by miller silent-visitor',
  ]);
});

it('holds the press of a plate by a silent prop too', () => {
  const { entries } = run({
    fixtures: [plate('Plate', 0, 0)],
    visitors: [visitor('Sack', 0, 0, { kind: 'prop', mass: 50, raisesOverlaps: false })],
    walks: [walk({})],
  });
  expect(entries.filter((entry) => entry.kind === 'held').map((entry) => entry.details)).toEqual([
    { event: 'enter', reason: 'silent-visitor' },
    { event: 'press', reason: 'silent-visitor', load: 50, threshold: 20 },
  ]);
});

describe('the filter says which part failed', () => {
  it.each([
    [{ kinds: ['creature'] }, 'kinds', 'creature', 'player'],
    [{ anyOf: ['Miller', 'baker'] }, 'any of the tags', 'Miller, baker', 'miller'],
    [{ allOf: ['miller', 'baker'] }, 'all of the tags', 'miller, baker', 'miller'],
    [{ noneOf: ['miller'] }, 'none of the tags', 'miller', 'miller'],
  ])('%j', (filter, part, asked, found) => {
    const [held] = reasons(doorstep(enter({ filter })));
    expect(held).toMatchObject({ chain: 'welcome', details: { event: 'enter', reason: 'filtered', part, asked, found } });
  });

  it('and lets through whom it asks for', () => {
    const filter = { kinds: ['player'], anyOf: ['baker', 'miller'], allOf: ['miller'], noneOf: ['goose'] };
    expect(told(run(doorstep(enter({ filter }))).entries, 'chain-started', 'held')).toEqual([
      '18 chain-started welcome doorstep by miller',
    ]);
  });
});

it('holds a chain that is switched off', () => {
  expect(told(reasons(doorstep(enter(), { chain: { enabled: false } })))).toEqual([
    '18 held welcome doorstep by miller chain-off',
  ]);
});

it('counts enters and leaves apart', () => {
  const parts = doorstep([...enter({ limit: 1 }), cause('leave', 'doorstep', { limit: 2 })], {}, {}, 3);
  expect(told(run(parts).entries, 'chain-started', 'held').map((line) => line.split(' ').slice(1).join(' '))).toEqual([
    'chain-started welcome doorstep by miller',
    'chain-started welcome doorstep by miller',
    'held welcome doorstep by miller used-up',
    'chain-started welcome doorstep by miller',
    'held welcome doorstep by miller used-up',
    'held welcome doorstep by miller used-up',
  ]);
});

it('never starts with a limit of none', () => {
  expect(reasons(doorstep(enter({ limit: 0 })))[0]!.details).toEqual({ event: 'enter', reason: 'used-up', limit: 0, used: 0 });
});

it('cools down from the tick of the start, and says for how long still', () => {
  const held = reasons(doorstep(enter({ cooldown: 6 }), {}, {}, 3));
  // In at tick 18, 58 and 98: sixty ticks of cooldown hold the second only.
  expect(held.map((entry) => [entry.tick, entry.details])).toEqual([
    [58, { event: 'enter', reason: 'cooling', ticks: 20, seconds: 2 }],
  ]);
});

it('asks the guard when the chain would start, and says what it read', () => {
  const guard = { guard: 'flag("open")' };
  expect(reasons(doorstep(enter(), { chain: guard }))[0]!.details).toEqual({
    event: 'enter',
    reason: 'condition-false',
    read: ['flag("open") = false'],
  });
  expect(reasons(doorstep(enter(), { chain: guard, flag: true }))).toEqual([]);
  expect(said(reasons(doorstep(enter(), { chain: { guard: 'flag("opne")' } }))[0])['read']).toEqual([
    'error at 6: Nothing in the level has the id "opne"; a flag is needed here (did you mean "open"?)',
  ]);
});

it('ignores what would start a chain that runs already', () => {
  const parts = doorstep(enter(), { steps: [step('wait', { seconds: 5 })] }, {}, 2);
  expect(told(run(parts).entries, 'chain-started', 'held', 'chain-finished')).toEqual([
    '18 chain-started welcome doorstep by miller',
    '58 held welcome doorstep by miller running',
    '68 chain-finished welcome by miller',
  ]);
});

it('tries the gates in their order: the filter before the switch, the count before the cooldown', () => {
  const both = doorstep(enter({ filter: { kinds: ['prop'] } }), { chain: { enabled: false } });
  expect(said(reasons(both)[0])['reason']).toBe('filtered');
  const spent = doorstep(enter({ limit: 1, cooldown: 100 }), {}, {}, 2);
  expect(said(reasons(spent)[0])['reason']).toBe('used-up');
});

it('starts a chain when a visitor has arrived', () => {
  const parts = {
    visitors: [visitor('Miller', 0, 0)],
    chains: [chain('Speaks', [cause('arrived', 'miller')], [])],
    walks: [walk({ miller: [goTo(1, 0), wait(1)] })],
  };
  expect(told(run(parts).entries, 'arrived', 'chain-started')).toEqual([
    '10 arrived miller by miller',
    '10 chain-started speaks miller by miller',
  ]);
});
