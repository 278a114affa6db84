import fc from 'fast-check';
import { orderInTick, parseLevel, rehearse } from '../src/index';
import type { HouseRules, Level } from '../src/index';
import { anyLevel } from './any-level';
import { cause, chain, door, flag, goTo, levelOf, sign, step, visitor, walk, zone } from './build';

/** What happens in one tick, in its order: which part of the tick each comes from, and the house rule that put it there. */

const ordered = (level: Level, kind: string, rules: Partial<HouseRules> = {}): string[] => {
  const { ledger, entries } = rehearse(level, level.walks[0]!, { rules });
  const { tick } = entries.find((one) => one.kind === kind && one.tick > 0)!;
  return orderInTick(ledger, tick).map(
    ({ entry, phase, rule }) =>
      `${entry.kind} ${(entry.kind.startsWith('chain') ? entry.chain : entry.what) ?? ''}: ${phase}, ${rule}`,
  );
};

const banks = levelOf({
  rate: 1,
  visitors: [visitor('Alma', 0, 0, { speed: 3 })],
  zones: [zone('West', 0, 0), zone('East', 3, 0)],
  fixtures: [sign('Board')],
  flags: [flag('Seen')],
  chains: [
    chain('One', [cause('enter', 'east')], [step('write-sign', { sign: 'board', text: 'one' })]),
    chain('Two', [cause('enter', 'east')], [step('set-flag', { flag: 'seen', to: true })]),
  ],
  watches: [{ id: 'sees', name: 'Sees', when: 'flag("seen")' }],
  walks: [walk({ alma: [goTo(3, 0)] })],
});

it('says that leaving comes before entering, and which chain is tried first, and when a watch is asked, by rules of the house', () => {
  expect(ordered(banks, 'leave')).toEqual([
    'arrived alma: move, null',
    'leave west: sense, null',
    'enter east: sense, sameTick',
    'chain-started one: in turn, null',
    'step board: in turn, null',
    'chain-finished one: in turn, null',
    'chain-started two: in turn, listeners',
    'step seen: in turn, null',
    'chain-finished two: in turn, null',
    'changed board: in turn, draining',
    'changed seen: in turn, draining',
    'became-true sees: watch, watches',
    'end : outside, null',
  ]);
});

it('where a house drains at once, what a step raises comes right after it', () => {
  const order = ordered(banks, 'leave', { draining: 'immediate' });
  const step = order.indexOf('step board: in turn, null');
  expect(order[step + 1]).toBe('changed board: in turn, draining');
});

it('two who are sensed in one tick stand in the order of pairs', () => {
  const level = levelOf({
    rate: 1,
    visitors: [visitor('Alma', 0, 0, { speed: 3 }), visitor('Goose', 0, 1, { speed: 3, kind: 'creature' })],
    zones: [zone('East', 3, 0)],
    fixtures: [door('Gate', 9, 0)],
    walks: [walk({ alma: [goTo(3, 0)], goose: [goTo(3, 1)] })],
  });
  expect(ordered(level, 'enter').filter((one) => one.startsWith('enter'))).toEqual([
    'enter east: sense, null',
    'enter east: sense, pairs',
  ]);
});

it('has every entry of a tick, once, in the order of the ledger', () => {
  fc.assert(
    fc.property(anyLevel, (raw) => {
      const parsed = parseLevel(raw);
      if (!parsed.ok) throw new Error('The level is not valid');
      const { ledger, entries, ticks } = rehearse(parsed.level, parsed.level.walks[0]!);
      const all = Array.from({ length: ticks + 1 }, (_, tick) => orderInTick(ledger, tick)).flat();
      expect(all.map(({ entry }) => entry.number)).toEqual(entries.map(({ number }) => number));
      expect(all[0]).toMatchObject({ rule: null });
    }),
    { numRuns: 20 },
  );
});
