import { at as vec, cause, chain, door, fixture, flag, goTo, levelOf, run, step, visitor, wait, walk, zone } from './build';
import { toldByBoth as lines } from './both';
import { ledgerText, rehearse } from '../src/index';
import { naiveRehearsal } from './naive/kernel';
import { textOf } from './naive/world';

/** What no other story would have noticed, had it been otherwise: found by changing the kernel in small ways. */

type Raw = Record<string, unknown>;

const pad = zone('Pad', 2, 0);
const lit = flag('Lit');
const lights = (): Raw => step('set-flag', { flag: 'lit', to: true });

describe('A signal within a radius', () => {
  const heard = (board: Raw, metres: number): string[] =>
    lines(
      {
        rooms: [
          { id: 'yard', name: 'Yard', extents: { west: -50, south: -50, east: 50, north: 50 } },
          { id: 'loft', name: 'Loft', extents: { west: -50, south: -50, east: 50, north: 50 } },
        ],
        zones: [{ ...pad, room: 'yard' }],
        fixtures: [{ ...fixture('sign', 'Board', 2, 0), room: 'yard', ...board }],
        signals: [{ id: 'call', name: 'Call' }],
        flags: [lit],
        visitors: [{ ...visitor('Ann', 0, 0), room: 'yard' }],
        chains: [
          chain('Calls', [cause('enter', 'pad')], [step('signal', { signal: 'call', address: { to: 'radius', metres } })]),
          chain('Hears', [cause('signal', 'call', { hears: 'board' })], [lights()]),
        ],
        walks: [walk({ ann: [goTo(2, 0)] })],
      },
      'held',
      'changed',
    );

  it('is measured in space: what hangs too high does not hear it', () => {
    expect(heard({ at: vec(2, 0, 4) }, 5)).toEqual(['8 changed lit by ann']);
    expect(heard({ at: vec(2, 0, 5) }, 5)).toEqual(['8 held hears call by ann filtered']);
    expect(heard({ at: vec(2, 0, -5) }, 5)).toEqual(['8 held hears call by ann filtered']);
  });

  it('is not heard in another room, however near its numbers are', () => {
    expect(heard({ at: vec(2, 0, 0), room: 'loft' }, 5)).toEqual(['8 held hears call by ann filtered']);
  });
});

it('counts as the first one in who finds only such inside as do not count', () => {
  const parts = (kinds: string[]): Raw => ({
    zones: [pad],
    flags: [lit],
    visitors: [visitor('Ann', 0, 0), visitor('Goose', 2, 0, { kind: 'creature' })],
    chains: [chain('First', [cause('enter', 'pad', { counts: 'first-and-last', filter: { kinds } })], [lights()])],
    walks: [walk({ ann: [goTo(2, 0)], goose: [wait(1)] })],
  });
  expect(lines(parts(['player']), 'chain-started')).toEqual(['8 chain-started first pad by ann']);
  expect(lines(parts(['player', 'creature']), 'chain-started')).toEqual(['0 chain-started first pad by goose']);
});

it('lets those inside enter in listing order when a zone is enabled, and says why they do', () => {
  const { entries } = run({
    zones: [{ ...pad, enabled: false }, zone('Bell', 20, 0)],
    visitors: [visitor('Zoe', 2, 0), visitor('Ann', 2, 0), visitor('Ringer', 19, 0)],
    chains: [chain('On', [cause('enter', 'bell')], [step('enable', { thing: 'pad', insideEnter: true })])],
    walks: [walk({ ringer: [goTo(20, 0)] })],
  });
  const entered = entries.filter(({ kind, what }) => kind === 'enter' && what === 'pad');
  expect(entered.map(({ who, details }) => [who, details])).toEqual([
    ['zoe', { enabled: true }],
    ['ann', { enabled: true }],
  ]);
});

it('ends a rehearsal whose events run inside of each other without end, in a house that drains immediately', () => {
  const level = levelOf({
    rules: { draining: 'immediate' },
    zones: [pad],
    counters: [{ id: 'rounds', name: 'Rounds', value: 0, per: 'level' }],
    visitors: [visitor('Ann', 0, 0)],
    chains: [
      chain(
        'Round',
        [cause('enter', 'pad'), cause('changed', 'rounds')],
        [step('set-counter', { counter: 'rounds', how: 'add', value: 1 })],
        { whileRunning: 'overlap' },
      ),
    ],
    walks: [walk({ ann: [goTo(2, 0)] })],
  });
  const { entries } = rehearse(level, level.walks[0]!);
  expect(entries.at(-1)!.details).toEqual({ reason: 'runaway' });
  const rounds = entries.filter(({ kind }) => kind === 'changed').length;
  expect(rounds).toBeGreaterThan(150);
  expect(rounds).toBeLessThanOrEqual(200);
  expect(ledgerText(entries.slice(0, 300))).toBe(textOf(naiveRehearsal(level, level.walks[0]!).slice(0, 300)));
});

it('asks watches after each item in a house that does so at once, and only when all is done in one that does not', () => {
  const order = (watches: string): string[] =>
    lines(
      {
        rules: { watches },
        zones: [pad],
        flags: [lit, flag('Second')],
        watches: [{ id: 'is-lit', name: 'Is lit', when: 'flag("lit")', fromStart: false }],
        visitors: [visitor('Ann', 0, 0)],
        chains: [
          chain('Both', [cause('enter', 'pad')], [lights()]),
          chain('Then', [cause('changed', 'lit')], [step('set-flag', { flag: 'second', to: true })]),
        ],
        walks: [walk({ ann: [goTo(2, 0)] })],
      },
      'changed',
      'became-true',
    ).map((line) => line.split(' ').slice(1, 3).join(' '));
  expect(order('at-once')).toEqual(['changed lit', 'became-true is-lit', 'changed second']);
  expect(order('end-of-phase')).toEqual(['changed lit', 'changed second', 'became-true is-lit']);
});

it('turns a machine of many stops back to where its motion began, whichever way that is', () => {
  const lift = (startsAt: number, stop: number): string[] =>
    lines(
      {
        zones: [zone('Call', 30, 0)],
        fixtures: [
          fixture('elevator', 'Lift', 0, 0, {
            size: vec(2, 2, 0.2),
            stops: [vec(0, 0, 0), vec(6, 0, 0), vec(12, 0, 0)],
            startsAt,
            timing: { by: 'seconds', seconds: 2 },
            inTheWay: 'reverse',
          }),
        ],
        visitors: [visitor('Ann', 9, 0), visitor('Ben', 29, 0)],
        chains: [chain('Send', [cause('enter', 'call')], [step('send', { elevator: 'lift', stop })])],
        walks: [walk({ ben: [goTo(30, 0)], ann: [wait(20)] })],
      },
      'moving',
      'arrived',
    ).filter((line) => line.includes('lift'));
  expect(lift(1, 3).at(-1)).toMatch(/arrived lift by ben/);
  const ends = (startsAt: number, stop: number): string => {
    const parts = lift(startsAt, stop);
    return `${parts.length} ${parts.at(-1)!.split(' ')[1]}`;
  };
  // Sent, and turned back: two motions, and an arrival where it began.
  expect([ends(1, 3), ends(3, 1)]).toEqual(['3 arrived', '3 arrived']);
});

it('keeps a door open that returns when empty while somebody stands where it closes', () => {
  const ledger = (stays: number): string[] =>
    lines(
      {
        zones: [zone('Step', 3, 0)],
        fixtures: [
          door('Gate', 6, 0, {
            travel: vec(0, 4, 0),
            returnAfter: 5,
            returnWhen: 'empty',
            timing: { by: 'seconds', seconds: 0.5 },
            solid: true,
          }),
        ],
        visitors: [visitor('Ann', 0, 0), visitor('Ben', 5, 8)],
        chains: [chain('Open', [cause('enter', 'step', { limit: 1 })], [step('open', { door: 'gate' })])],
        walks: [walk({ ann: [goTo(6, 0), wait(stays), goTo(9, 0)] })],
      },
      'closed',
      'opened',
    );
  const closes = (stays: number): number => Number(ledger(stays).at(-1)!.split(' ')[0]);
  // Two seconds longer in the way, and it closes two seconds later.
  expect(closes(4) - closes(2)).toBe(20);
});

it('forgets what a stopped chain waited for: the condition comes true, and nothing goes on', () => {
  const parts = {
    zones: [pad, zone('Stop', 5, 0), zone('Light', 8, 0)],
    flags: [lit, flag('Done')],
    visitors: [visitor('Ann', 0, 0)],
    chains: [
      chain(
        'Waits',
        [cause('enter', 'pad')],
        [step('wait-until', { until: 'flag("lit")' }), step('set-flag', { flag: 'done', to: true })],
      ),
      chain('Stops', [cause('enter', 'stop')], [step('stop-chain', { chain: 'waits' })]),
      chain('Lights', [cause('enter', 'light')], [lights()]),
    ],
    walks: [walk({ ann: [goTo(9, 0)] })],
  };
  expect(lines(parts, 'changed', 'gave-up')).toEqual(['38 gave-up waits by ann stopped', '68 changed lit by ann']);
  const alone = { ...parts, chains: parts.chains.filter(({ id }) => id !== 'stops') };
  expect(lines(alone, 'changed')).toEqual(['68 changed lit by ann', '68 changed done by ann']);
});
