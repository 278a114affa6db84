import { applied, explain, explainStep, explainUnmet, parseLevel, rehearse } from '../src/index';
import type { Level, Reason } from '../src/index';
import { cause, chain, door, fixture, flag, goTo, levelOf, plate, step, visitor, wait, walk, zone } from './build';

/** Why what was expected is not met: back from condition to condition, down to what the designer can change. */

type Parts = Record<string, unknown>;
const miller = visitor('Miller', -5, 0);
const gate = door('Gate', 9, 9);
const pad = zone('Pad', 0, 0);
const expects = (more: Parts): Parts => ({ id: 'expected', label: '', ...more });
const happens = (kind: string, what: string): Parts => expects({ expect: 'happens', entry: { kind, what } });
const yard = (parts: Parts, expectations: Parts[], told: Parts[] = [goTo(0, 0)]): Level =>
  levelOf({
    visitors: [miller],
    zones: [pad],
    fixtures: [gate],
    walks: [walk({ miller: told }, { expectations })],
    ...parts,
  });
const asked = (level: Level, id = 'expected'): Reason[] => explain(level, rehearse(level, level.walks[0]!), id);
const says = (level: Level, id?: string): string[] => asked(level, id).map((one) => one.says);
const opens = (more: Parts = {}) => chain('Opens', [cause('enter', 'pad')], [step('open', { door: 'gate' })], more);
const isMet = (level: Level): boolean => rehearse(level, level.walks[0]!).expectations.every(({ passed }) => passed);

it('three tokens are asked for, and two were collected: the third is solid, and making it passable is the first answer', () => {
  const token = (i: number, more: Parts = {}) => fixture('collectible', `Token ${i}`, -4 + i, 0, { counter: 'tokens', ...more });
  const level = yard(
    {
      counters: [{ id: 'tokens', name: 'Tokens', value: 0 }],
      fixtures: [gate, token(1), token(2), fixture('collectible', 'North token', 2, 2, { counter: 'tokens', solid: true })],
      watches: [{ id: 'all', name: 'All tokens', when: 'counter("tokens") >= 3' }],
      chains: [chain('Opens', [cause('became-true', 'all')], [step('open', { door: 'gate' })])],
    },
    [happens('opened', 'gate')],
    [goTo(0, 0), goTo(2, 0), goTo(2, 4)],
  );
  const reasons = asked(level);
  expect(reasons[0]!.says).toBe('“North token” is solid, so nobody can enter it, but it works by being entered.');
  expect(isMet(applied(level, reasons[0]!.edit!))).toBe(true);
  expect(reasons.map((one) => one.says)).toEqual(
    expect.arrayContaining([
      '“All tokens” never becomes true.',
      'It asks that “Tokens” is at least 3: it is 2 at the end.',
      '“North token” was never collected.',
    ]),
  );
  // What was collected is not said to be missing.
  expect(reasons.some((one) => one.says.includes('“Token 1” was never'))).toBe(false);
  expect(new Set(reasons.map((one) => one.says)).size).toBe(reasons.length);
});

it('of very many that were not collected some are named, and the others are counted', () => {
  const tokens = Array.from({ length: 8 }, (_, i) => fixture('collectible', `Token ${i}`, 20 + i, 20, { counter: 'tokens' }));
  const counters = [{ id: 'tokens', name: 'Tokens', value: 0 }];
  const state = 'counter("tokens") >= 8';
  const all = says(yard({ counters, fixtures: [gate, ...tokens] }, [expects({ expect: 'at-end', state })]));
  expect(all.filter((one) => one.endsWith('was never collected.'))).toHaveLength(5);
  expect(all).toContain('3 more were never collected.');
});

it('a condition was false when it was asked: the part that was, what it was then, and who should have written it', () => {
  const sets = chain('Sets', [cause('enter', 'far')], [step('set-flag', { flag: 'dry', to: true })]);
  const level = yard(
    {
      zones: [pad, zone('Far', 0, 20)],
      flags: [flag('Dry'), flag('Lit', true)],
      chains: [opens({ guard: 'flag("dry") && flag("lit")' }), sets],
    },
    [happens('opened', 'gate')],
  );
  const all = says(level);
  expect(all).toEqual(expect.arrayContaining(['It asks that “Dry” is on: it was off then.']));
  expect(all.some((one) => one.startsWith('It asks that “Lit”'))).toBe(false);
  expect(all.find((one) => one.startsWith('Nobody entered “Far”'))).toContain('“Miller” came nearest');
  const unset = yard({ flags: [flag('Dry')], chains: [opens({ guard: 'flag("dry")' })] }, [happens('opened', 'gate')]);
  expect(says(unset)).toContain('No chain sets “Dry”.');
});

it('it was so only later: what was so when it was asked counts, not the end', () => {
  const sets = chain('Sets', [cause('leave', 'pad')], [step('set-flag', { flag: 'dry', to: true })]);
  const level = yard(
    { flags: [flag('Dry')], chains: [opens({ guard: 'flag("dry")' }), sets] },
    [happens('opened', 'gate')],
    [goTo(5, 0)],
  );
  expect(says(level)).toContain('It asks that “Dry” is on: it was off then.');
});

it('of what must not be so, what made it so is told; of two that would do, that either would', () => {
  const level = yard({ chains: [opens()] }, [expects({ expect: 'at-end', state: 'closed("gate")' })]);
  const all = says(level);
  expect(all).toContain('It asks that “Gate” is closed: it is open at the end.');
  expect(all.some((one) => one.startsWith('At 4.8 s Gate is open, because Gate starts to open at 3.8 s'))).toBe(true);
  const either = yard({ flags: [flag('Dry')] }, [expects({ expect: 'at-end', state: 'flag("dry") || open("gate")' })]);
  expect(says(either)).toEqual(
    expect.arrayContaining([
      'It would be enough that “Dry” is on: it is off at the end.',
      'It would be enough that “Gate” is open: it is closed at the end.',
    ]),
  );
});

it('a chain hangs at a wait: it is named, with what it waits for', () => {
  const waits = opens({
    steps: [step('wait-until', { until: 'pressed("scale")', limit: null }), step('open', { door: 'gate' })],
  });
  const level = yard({ fixtures: [gate, plate('Scale', 20, 0)], chains: [waits] }, [happens('opened', 'gate')]);
  const all = says(level);
  expect(all).toContain('“Opens” waits from 3.8 s on until Scale is pressed.');
  expect(all).toContain('It asks that “Scale” is pressed: it is not pressed at the end.');
  // One that goes on does not hang.
  const later = yard(
    { fixtures: [gate, plate('Scale', 2, 0)], chains: [waits] },
    [happens('opened', 'gate')],
    [goTo(2, 0), wait(2)],
  );
  expect(says(later, 'opens').some((one) => one.includes('waits from'))).toBe(false);
});

it.each([
  ['a switch that nobody used', 'on("lever")', '“Lever” is switched on: it is off'],
  ['a door that stayed closed', 'open("gate")', '“Gate” is open: it is closed'],
  ['something that is still shown', '!shown("post")', '“Post” is hidden: it is shown'],
  ['something that is still solid', '!solid("post")', '“Post” is passable: it is solid'],
  ['something that stayed enabled', '!enabled("pad")', '“Pad” is disabled: it is enabled'],
  ['somebody who is not there', 'inPlay("pia")', '“Pia” is in play: it is not in play'],
  ['a token that nobody took', 'collected("token")', '“Token” is collected: it is not collected'],
  ['a counter that is too high', 'counter("count") <= 3', '“Count” is at most 3: it is 7'],
])('at the end: %s', (_what, state, wanted) => {
  const level = yard(
    {
      visitors: [miller, visitor('Pia', 9, -9, { inPlay: false })],
      counters: [{ id: 'count', name: 'Count', value: 7 }],
      fixtures: [
        gate,
        fixture('switch', 'Lever', 20, 0),
        fixture('barrier', 'Post', 20, 5),
        fixture('collectible', 'Token', 20, 9),
      ],
    },
    [expects({ expect: 'at-end', state })],
  );
  expect(says(level)).toContain(`It asks that ${wanted} at the end.`);
  // The very opposite is met, and so is not explained.
  const met = yard({ fixtures: [gate] }, [expects({ expect: 'at-end', state: '!open("gate")' })]);
  expect(isMet(met)).toBe(true);
  expect(says(met).some((one) => one.startsWith('It asks'))).toBe(false);
});

it('that it happened, though it must not: from what the walk did, entry by entry', () => {
  const level = yard({ chains: [opens()] }, [expects({ expect: 'never', entry: { kind: 'opened', what: 'gate' } })]);
  const [found] = asked(level).filter((one) => one.says.startsWith('At '));
  expect(found!.says).toMatch(
    /^At 4.8 s Gate is open, because Gate starts to open at 3.8 s, because open Gate, because “Opens” starts, because Miller enters Pad\.$/,
  );
  expect(found!.entries).toHaveLength(5);
});

it('too late, or the other way round: when each happened, and through what', () => {
  const late = chain('Opens', [cause('enter', 'pad')], [step('wait', { seconds: 3 }), step('open', { door: 'gate' })]);
  const within = expects({
    expect: 'within',
    entry: { kind: 'opened', what: 'gate' },
    after: { kind: 'enter', what: 'pad' },
    seconds: 2,
  });
  const [found] = asked(yard({ chains: [late] }, [within])).filter((one) => one.says.startsWith('At '));
  expect(found!.says).toContain('because “Opens” starts at 3.8 s');
  const order = expects({ expect: 'before', entry: { kind: 'opened', what: 'gate' }, then: { kind: 'enter', what: 'pad' } });
  const both = asked(yard({ chains: [opens()] }, [order])).filter((one) => one.says.startsWith('At '));
  expect(both.map((one) => one.says.includes('enters Pad'))).toEqual([true, true]);
});

it('a visitor is not inside of what it should be: how it left, or that it never came', () => {
  const inside = [expects({ expect: 'at-end', state: 'inside("miller", "pad")' })];
  expect(says(yard({}, inside, [goTo(5, 0)])).some((one) => /^At 6.\d* s Miller leaves Pad/.test(one))).toBe(true);
  expect(says(yard({}, inside, [goTo(-3, 0)]))).toContain('“Miller” never entered “Pad”.');
});

it('the change with which it is met was tried, and is offered as an edit that does it', () => {
  const level = yard({ chains: [opens({ guard: 'open("gate")' })] }, [happens('opened', 'gate')]);
  const tried = asked(level).filter((one) => one.says.startsWith('With one change every expectation is met, as was tried.'));
  expect(tried.length).toBeGreaterThan(0);
  for (const { edit } of tried) {
    const after = applied(level, edit!);
    expect([parseLevel(JSON.parse(JSON.stringify(after))).ok, isMet(after)]).toEqual([true, true]);
  }
});

it('all that is not met is told at once, with what was found; what is met is not', () => {
  const level = yard({ flags: [flag('Dry')] }, [
    { ...happens('enter', 'pad'), id: 'met' },
    { ...happens('opened', 'gate'), label: 'the gate opens' },
    expects({ id: 'end', expect: 'at-end', state: 'flag("dry")', label: 'it is dry' }),
  ]);
  const all = explainUnmet(level, rehearse(level, level.walks[0]!)).map((one) => one.says);
  expect(all.filter((one) => one.includes('is not met'))).toEqual([
    '“the gate opens” is not met: it did not happen.',
    '“it is dry” is not met: flag("dry") = false.',
  ]);
  const right = yard({}, [happens('enter', 'pad')]);
  expect(explainUnmet(right, rehearse(right, right.walks[0]!))).toEqual([]);
});

it('an edit is offered once: what the walk says of the same mistake stays, without it', () => {
  const level = yard({ zones: [{ ...pad, enabled: false }], chains: [opens()] }, []);
  const reasons = asked(level, 'opens');
  expect(reasons.map(({ says: told, edit }) => [told, edit !== null])).toEqual([
    ['“Pad” is disabled at the start, and no step enables it. “Opens” waits for it.', true],
    [expect.stringMatching(/^Held at 3.8 s: .*Pad is disabled/), false],
  ]);
});

it('of a chain and of a step, the mistake that Check finds on the way comes first', () => {
  const level = yard({ chains: [opens({ causes: [cause('dwell', 'pad')] })] }, []);
  const told = '“Opens” waits until somebody has stayed in “Pad”, but it has no dwell time.';
  expect([says(level, 'opens')[0], says(level, 'gate')[0]]).toEqual([told, told]);
  const { id } = level.chains[0]!.steps[0]!;
  expect(explainStep(level, rehearse(level, level.walks[0]!), 'opens', id)[0]!.says).toBe(told);
  // A mistake elsewhere is none of this.
  const elsewhere = yard(
    {
      zones: [pad, zone('Other', 20, 20)],
      chains: [opens(), chain('Else', [cause('dwell', 'other')], [step('wait', { seconds: 1 })])],
    },
    [],
  );
  expect(says(elsewhere, 'opens').some((one) => one.includes('Other'))).toBe(false);
});
