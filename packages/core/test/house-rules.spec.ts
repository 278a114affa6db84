import { naiveRehearsal } from './naive/kernel';
import { ledgerText, rehearse } from '../src/index';
import type { Entry, HouseRules, Level } from '../src/index';
import { cause, chain, flag, goTo, levelOf, step, told, visitor, wait, walk, zone } from './build';

/** Rehearses a level under its own rules and under another; both kernels have to agree, and the two ledgers to differ. */
function compared(level: Level, other: Partial<HouseRules>, ...kinds: string[]): [string[], string[]] {
  const own = rehearse(level, level.walks[0]!).entries;
  const changed = rehearse(level, level.walks[0]!, { rules: other }).entries;
  expect(naiveRehearsal(level, level.walks[0]!, { rules: other })).toEqual(changed);
  expect(ledgerText(changed)).not.toBe(ledgerText(own));
  const brief = (entries: Entry[]): string[] => told(entries, ...kinds).map((line) => line.replace(/ by \w+$/, ''));
  return [brief(own), brief(changed)];
}

/** Alma crosses from one zone into the next in a single tick. */
const crossing = levelOf({
  rate: 1,
  zones: [zone('West', 0, 0), zone('East', 2.5, 0)],
  visitors: [visitor('Alma', 0, 0, { speed: 2.5 })],
  walks: [walk({ alma: [goTo(2.5, 0)] })],
});

it('leaves first, or enters first', () => {
  const [own, other] = compared(crossing, { sameTick: 'enters-first' }, 'enter', 'leave');
  expect(own).toEqual(['0 enter west', '1 leave west', '1 enter east']);
  expect(other).toEqual(['0 enter west', '1 enter east', '1 leave west']);
});

it('orders pairs by zone, by visitor, or by the nearest middles', () => {
  const level = levelOf({
    zones: [zone('Yard gate', 0, 0), zone('Doorstep', 0.4, 0)],
    visitors: [visitor('Alma', 0, 0), visitor('Wim', 0.4, 0)],
    walks: [walk({})],
  });
  const enters = (rules: Partial<HouseRules>): string[] =>
    rehearse(level, level.walks[0]!, { rules })
      .entries.filter((entry) => entry.kind === 'enter')
      .map((entry) => `${entry.what} ${entry.who}`);
  expect(enters({})).toEqual(['yard-gate alma', 'yard-gate wim', 'doorstep alma', 'doorstep wim']);
  expect(enters({ pairs: 'visitor-then-zone' })).toEqual(['yard-gate alma', 'doorstep alma', 'yard-gate wim', 'doorstep wim']);
  expect(enters({ pairs: 'nearest-first' })).toEqual(['yard-gate alma', 'doorstep wim', 'yard-gate wim', 'doorstep alma']);
  compared(level, { pairs: 'visitor-then-zone' });
  compared(level, { pairs: 'nearest-first' });
});

it('drains what a step raises at the end of the queue, or before the next step', () => {
  const level = levelOf({
    zones: [zone('Gate', 0, 0)],
    flags: [flag('Lamp'), flag('Bell')],
    visitors: [visitor('Alma', 0, 0)],
    chains: [
      chain(
        'Two flags',
        [cause('enter', 'gate')],
        [step('set-flag', { flag: 'lamp', to: true }), step('set-flag', { flag: 'bell', to: true })],
      ),
      chain('After the lamp', [cause('changed', 'lamp')]),
    ],
    walks: [walk({})],
  });
  const [own, other] = compared(level, { draining: 'immediate' }, 'step', 'chain-started');
  expect(own).toEqual([
    '0 chain-started two-flags gate',
    '0 step two-flags lamp',
    '0 step two-flags bell',
    '0 chain-started after-the-lamp lamp',
  ]);
  expect(other).toEqual([
    '0 chain-started two-flags gate',
    '0 step two-flags lamp',
    '0 chain-started after-the-lamp lamp',
    '0 step two-flags bell',
  ]);
});

it('tries listeners in listing order, or in reverse', () => {
  const level = levelOf({
    zones: [zone('Gate', 0, 0)],
    visitors: [visitor('Alma', 0, 0)],
    chains: [chain('First', [cause('enter', 'gate')]), chain('Second', [cause('enter', 'gate')])],
    walks: [walk({})],
  });
  const [own, other] = compared(level, { listeners: 'reverse' }, 'chain-started');
  expect(own).toEqual(['0 chain-started first gate', '0 chain-started second gate']);
  expect(other).toEqual(['0 chain-started second gate', '0 chain-started first gate']);
});

it('senses in the next tick after a teleport, or at once', () => {
  const to = { x: 9, y: 0, z: 0 };
  const level = levelOf({
    zones: [zone('Gate', 0, 0), zone('Loft', 9, 0)],
    visitors: [visitor('Alma', 0, 0)],
    chains: [chain('Up', [cause('enter', 'gate')], [step('teleport', { to, arrival: 'loud' }), step('wait', { seconds: 1 })])],
    walks: [walk({})],
  });
  const [own, other] = compared(level, { afterTeleport: 'sense-at-once' }, 'leave', 'enter', 'teleported');
  expect(own).toEqual(['0 enter gate', '0 teleported alma', '1 leave gate', '1 enter loft']);
  expect(other).toEqual(['0 enter gate', '0 teleported alma', '0 leave gate', '0 enter loft']);
});

it('enters the zones it starts inside of, or is taken as inside', () => {
  const [own, other] = compared(crossing, { startsInside: 'quiet' }, 'enter', 'arrived-inside');
  expect(own[0]).toBe('0 enter west');
  expect(other[0]).toBe('0 arrived-inside west');
});

it('keeps the state of a room that was left empty, or starts it over; a room may say so itself', () => {
  const extents = { west: -20, south: -20, east: 20, north: 20 };
  const parts = (leftEmpty: string) => ({
    rooms: [
      { id: 'yard', name: 'Yard', extents, leftEmpty },
      { id: 'loft', name: 'Loft', extents },
    ],
    zones: [zone('Gate', 5, 0)],
    fixtures: [{ id: 'lamp', name: 'Lamp', kind: 'barrier', room: 'yard', at: { x: 0, y: 5, z: 0 }, shown: false }],
    visitors: [visitor('Alma', 0, 0), visitor('Goose', 2, 2, { kind: 'creature' })],
    chains: [
      chain(
        'Away',
        [cause('enter', 'gate')],
        [step('show', { fixture: 'lamp' }), step('warp', { to: { x: 0, y: 0, z: 0, room: 'loft' } })],
      ),
    ],
    walks: [walk({ alma: [goTo(5, 0)], goose: [goTo(2, 9), wait(1)] })],
  });
  const level = levelOf(parts('by-house-rule'));
  const [own, other] = compared(level, { roomLeftEmpty: 'starts-over' }, 'changed');
  expect(own).toEqual(['38 changed lamp']);
  expect(other).toEqual(['38 changed lamp', '38 changed yard']);
  const asked = levelOf(parts('starts-over'));
  expect(told(rehearse(asked, asked.walks[0]!).entries, 'changed')).toHaveLength(2);
  const kept = levelOf(parts('keeps'));
  expect(told(rehearse(kept, kept.walks[0]!, { rules: { roomLeftEmpty: 'starts-over' } }).entries, 'changed')).toHaveLength(1);
});

it('asks watches at the end of a phase, or at once', () => {
  const level = levelOf({
    zones: [zone('Gate', 0, 0)],
    flags: [flag('Lamp')],
    watches: [{ id: 'lit', name: 'Lit', when: 'flag("lamp")' }],
    visitors: [visitor('Alma', 0, 0)],
    chains: [
      chain('On', [cause('enter', 'gate')], [step('set-flag', { flag: 'lamp', to: true })]),
      chain('Off again', [cause('changed', 'lamp', { limit: 1 })], [step('set-flag', { flag: 'lamp', to: false })]),
    ],
    walks: [walk({})],
  });
  const [own, other] = compared(level, { watches: 'at-once' }, 'became-true', 'became-false');
  expect(own).toEqual([]);
  expect(other).toEqual(['0 became-true lit', '0 became-false lit']);
});
