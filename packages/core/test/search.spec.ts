import fc from 'fast-check';
import {
  applied,
  coverageOf,
  everySet,
  ledgerText,
  orderSafety,
  overTime,
  outcomesOf,
  parseLevel,
  quantile,
  rehearse,
  rehearseSpread,
  remediesFor,
  rulesInWords,
  spreadOf,
  spreadRuns,
  valuesOf,
  findCoveringWalk,
} from '../src/index';
import type { Covered, Level, Spreading } from '../src/index';
import { anyLevel } from './any-level';
import { cause, chain, door, fixture, flag, goTo, levelOf, sign, step, visitor, wait, walk, zone } from './build';

/** What holds beyond one rehearsal: under every set of house rules, and over many varied runs. */

const runs = Number(process.env['PROPERTY_RUNS'] ?? 60);

describe('Under every set of house rules', () => {
  it('a walk comes to what a rehearsal under each set says, and no set is left out', () => {
    fc.assert(
      fc.property(anyLevel, fc.array(fc.nat(383), { minLength: 6, maxLength: 6 }), (raw, some) => {
        const parsed = parseLevel(raw);
        if (!parsed.ok) throw new Error('The level is not valid');
        const { level } = parsed;
        const [one] = level.walks;
        const { outcomes, sets } = outcomesOf(level, one!);
        const all = new Map(outcomes.flatMap((outcome) => outcome.sets.map((set) => [JSON.stringify(set), outcome] as const)));
        expect([sets, all.size]).toEqual([384, 384]);
        const every = everySet(level.rules);
        for (const set of [level.rules, ...some.map((at) => every[at]!)]) {
          const alone = rehearse(level, one!, { rules: set });
          const together = all.get(JSON.stringify({ ...every[0], ...set }))!;
          expect(ledgerText(together.ledger)).toBe(ledgerText(alone.entries));
          expect(together.expectations).toEqual(alone.expectations);
        }
        expect(outcomes[0]!.sets).toContainEqual(level.rules);
      }),
      { numRuns: Math.ceil(runs / 3) },
    );
  });

  /** Two chains listen to the plate: the one writes the sign, the other is held once the flag is on. */
  const yard = (more: object = {}): Level =>
    levelOf({
      visitors: [visitor('Miller', 0, 0)],
      zones: [zone('Step', 4, 0)],
      fixtures: [door('Mill door', 9, 0), sign('Board')],
      flags: [flag('Seen')],
      chains: [
        chain('Open', [cause('enter', 'step')], [step('open', { door: 'mill-door' })], { guard: 'flag("seen") == false' }),
        chain('See', [cause('enter', 'step')], [step('set-flag', { flag: 'seen', to: true })]),
      ],
      walks: [walk({ miller: [goTo(4, 0), wait(1)] })],
      ...more,
    });

  it('an outcome that hangs on which chain is tried first is told, with the rule, and in words', () => {
    const level = yard({ rules: { draining: 'immediate' } });
    const { dependences } = orderSafety(level, level.walks[0]!);
    const gone = dependences.find(({ kind, says }) => kind === 'outcome' && says.includes('Open') && says.endsWith('happens'));
    expect(gone).toMatchObject({ rules: ['listeners'], from: { listeners: 'listing' }, to: { listeners: 'reverse' } });
    expect(rulesInWords(gone!).otherwise).toBe('Chains with the same trigger are evaluated from bottom to top');
    const [entry] = gone!.entries;
    expect(rehearse(level, level.walks[0]!).ledger.at(entry!)).toMatchObject({ chain: 'open' });
  });

  it('an order that hangs on it comes with an edit, after which it does not', () => {
    const level = levelOf({
      visitors: [visitor('Miller', 0, 0)],
      zones: [zone('Step', 4, 0)],
      fixtures: [sign('Board')],
      chains: [
        chain('First', [cause('enter', 'step')], [step('write-sign', { sign: 'board', text: 'one' })]),
        chain('Second', [cause('enter', 'step')], [step('write-sign', { sign: 'board', text: 'two' })]),
      ],
      walks: [walk({ miller: [goTo(4, 0)] })],
    });
    const before = orderSafety(level, level.walks[0]!);
    const [swap] = before.dependences;
    expect(swap).toMatchObject({ kind: 'order', rules: ['listeners'] });
    expect(swap!.says).toBe('“Board now says “one”” comes before “Board now says “two””');
    const mended = applied(level, swap!.edit!);
    // One tick later, and no longer: which of the two starts first, or finishes before the sign says it, is bookkeeping.
    const ticks = [...rehearse(mended, mended.walks[0]!).ledger].filter(({ kind }) => kind === 'changed').map(({ tick }) => tick);
    expect(ticks[1]! - ticks[0]!).toBe(1);
    const after = orderSafety(mended, mended.walks[0]!);
    expect([after.dependences, after.unsafe]).toEqual([[], []]);
    expect(after.collapsed).toBeGreaterThan(0);
    expect(after.ledgers).toBeGreaterThan(1);
  });

  it('an expectation that is met under some sets only is named', () => {
    const level = yard({
      rules: { draining: 'immediate' },
      walks: [
        walk(
          { miller: [goTo(4, 0), wait(2)] },
          { expectations: [{ id: 'e', label: 'the door opens', expect: 'happens', entry: { kind: 'opened' } }] },
        ),
      ],
    });
    const { unsafe } = orderSafety(level, level.walks[0]!);
    expect(unsafe).toEqual([{ id: 'e', label: 'the door opens', sets: 192, rules: ['listeners'] }]);
  });

  it('a level in which nothing hangs on the rules says so', () => {
    const level = levelOf({ visitors: [visitor('Miller', 0, 0)], walks: [walk({ miller: [goTo(1, 0)] })] });
    expect(orderSafety(level, level.walks[0]!)).toEqual({ sets: 384, ledgers: 1, dependences: [], collapsed: 0, unsafe: [] });
  });
});

describe('Over many varied runs', () => {
  const run: Spreading = { start: 0, speed: 0.2, path: 0, rates: [15, 60] };
  /** A thin zone across the yard, and one who runs through it. */
  const yard = (more: object = {}): Level =>
    levelOf({
      rate: 60,
      visitors: [visitor('Runner', -6, 0, { speed: 8, body: { kind: 'box', size: { x: 0.1, y: 0.4, z: 1.8 } } })],
      zones: [zone('Wire', 0, 0, { shape: { kind: 'box', size: { x: 0.1, y: 3, z: 2 } }, ...more })],
      fixtures: [fixture('sign', 'Board', 0, 3)],
      chains: [chain('Rings', [cause('enter', 'wire')], [step('write-sign', { sign: 'board', text: 'rings' })])],
      walks: [walk({ runner: [goTo(6, 0)] })],
    });
  const seeds = Array.from({ length: 200 }, (_, seed) => seed);

  it('a thin trigger is missed at 15 ticks a second and not at 60, and by whom how fast', () => {
    const level = yard();
    const { misses, chains } = spreadOf(level, spreadRuns(level, level.walks[0]!, run, seeds));
    const [wire] = misses;
    expect(wire).toMatchObject({ what: 'wire' });
    const [slow, fast] = wire!.atRates;
    expect(slow!.missed).toBeGreaterThan(slow!.runs / 4);
    expect(fast).toMatchObject({ rate: 60, missed: 0 });
    expect(wire!.slowest).toBeGreaterThan(0.2 * 15);
    expect(chains[0]!.times.length + chains[0]!.never.length).toBe(200);
    expect(chains[0]!.never).toEqual(wire!.seeds);
  });

  it('what misses none was tried: sensed between ticks too, or larger, and no larger than need be', () => {
    const level = yard();
    const [one] = level.walks;
    const [wire] = spreadOf(level, spreadRuns(level, one!, run, seeds)).misses;
    const remedies = remediesFor(level, one!, run, 'wire', wire!.seeds);
    expect(remedies.map(({ says }) => says.slice(0, 9))).toEqual(['Turn on s', 'Enlarge i']);
    for (const { edit } of remedies) {
      const mended = applied(level, edit);
      expect(spreadOf(mended, spreadRuns(mended, one!, run, wire!.seeds.slice(0, 40))).misses).toEqual([]);
    }
  });

  it('any run can be looked at alone, and is the same there', () => {
    const level = yard();
    const [one] = level.walks;
    fc.assert(
      fc.property(fc.nat(1000), (seed) => {
        const [alone] = spreadRuns(level, one!, { ...run, start: 2, path: 0.4 }, [seed]);
        const looked = rehearseSpread(level, one!, { ...run, start: 2, path: 0.4 }, seed);
        const first = [...looked.ledger].find(({ kind }) => kind === 'chain-started');
        expect(alone!.starts['rings'] ?? null).toBe(first?.seconds ?? null);
        expect(alone!.rate).toBe(looked.rate);
      }),
      { numRuns: 30 },
    );
  });

  it('quantiles lie between neighbours', () => {
    expect([0, 0.25, 0.5, 1].map((part) => quantile([1, 2, 4, 8], part))).toEqual([1, 1.75, 3, 8]);
    expect(quantile([3], 0.9)).toBe(3);
  });
});

describe('Over time', () => {
  const level = levelOf({
    visitors: [visitor('Miller', 0, 0, { mass: 80 })],
    zones: [zone('Step', 6, 0)],
    fixtures: [{ ...fixture('plate', 'Scales', 3, 0), threshold: 50 }],
    flags: [flag('Seen')],
    counters: [{ id: 'weighed', name: 'Weighed' }],
    chains: [
      chain(
        'Weigh',
        [cause('press', 'scales')],
        [step('set-counter', { counter: 'weighed', how: 'add', value: 1 }), step('set-flag', { flag: 'seen', to: true })],
      ),
    ],
    walks: [walk({ miller: [goTo(6, 0), goTo(3, 0)] })],
  });

  it('each value of the level can be asked for, and is what the ledger says', () => {
    const values = valuesOf(level);
    expect(values.map(({ of, what }) => `${of} ${what}`)).toEqual(['scales load', 'step inside', 'weighed value', 'seen on']);
    const told = (what: string): string[] =>
      overTime(level, level.walks[0]!, values.find((one) => one.what === what)!.text).map(
        ({ tick, read }) => `${tick} ${read.join()}`,
      );
    const entries = rehearse(level, level.walks[0]!).entries;
    const at = (kind: string, n = 0): number => entries.filter((one) => one.kind === kind)[n]!.tick;
    expect(told('load')).toEqual([
      '0 load("scales") = 0',
      `${at('press')} load("scales") = 80`,
      `${at('release')} load("scales") = 0`,
      `${at('press', 1)} load("scales") = 80`,
    ]);
    expect(told('value').map((one) => one.split(' = ')[1])).toEqual(['0', '1', '2']);
    expect(told('inside').map((one) => one.split(' = ')[1])).toEqual(['0', '1', '0']);
  });

  it('a condition holds from the tick in which it turns true, and one with a fault never does', () => {
    const [before, after] = overTime(level, level.walks[0]!, 'flag("seen") && counter("weighed") == 1');
    expect([before!.holds, after!.holds]).toEqual([false, true]);
    expect(overTime(level, level.walks[0]!, 'flag("nobody")').every(({ holds }) => !holds)).toBe(true);
  });
});

describe('A walk that tries what no walk has tried', () => {
  const level = levelOf({
    rooms: [
      { id: 'yard', name: 'Yard', extents: { west: -20, south: -20, east: 20, north: 20 } },
      { id: 'loft', name: 'Loft', extents: { west: -20, south: -20, east: 20, north: 20 } },
    ],
    visitors: [visitor('Miller', 0, 0), visitor('Goose', 0, 4, { kind: 'creature' })],
    zones: [zone('Step', 6, 0), zone('Attic', 0, 0, { room: 'loft' })],
    fixtures: [fixture('switch', 'Crank', -6, 0), sign('Board', 0, 9), fixture('door', 'Gate', 15, 15, { tags: ['gates'] })],
    chains: [
      chain(
        'Opens',
        [cause('enter', 'step', { filter: { kinds: ['player'] } })],
        [step('write-sign', { sign: 'board', text: 'one' })],
      ),
      chain(
        'Turns',
        [cause('use', 'crank')],
        [step('write-sign', { sign: 'board', text: 'two' }), step('open', { door: '', tagged: 'gates' })],
      ),
      chain('Swings', [cause('opened', 'gate')], [step('write-sign', { sign: 'board', text: 'four' })]),
      chain('Follows', [cause('chain-finished', 'turns')], [step('write-sign', { sign: 'board', text: 'three' })]),
      chain('Above', [cause('enter', 'attic')]),
      chain('Once', [cause('leave', 'step', { limit: 1 })]),
    ],
    walks: [walk({})],
  });
  const tries = (gap: { kind: 'zone' | 'chain' | 'gate'; thing: string; part: string }): string | null => {
    const isIt = (one: Covered): boolean => one.kind === gap.kind && one.thing === gap.thing && one.part === gap.part;
    const routes = findCoveringWalk(level, coverageOf(level, new Map()).find(isIt)!);
    if (routes === null) return null;
    // What it is for is tried by it: by the same measure that found the gap.
    const own = rehearse(level, { ...level.walks[0]!, routes }).ledger;
    const covered = coverageOf(level, new Map([['walk', own]]));
    expect(covered.find(isIt)!.tried).toBe(true);
    return routes.map(({ visitor: who, instructions }) => `${who}: ${instructions.map((one) => one.do).join(', ')}`).join();
  };

  it.each([
    [{ kind: 'zone', thing: 'step', part: '' } as const, 'miller: go-to, wait'],
    [{ kind: 'chain', thing: 'turns', part: '' } as const, 'miller: go-to, use'],
    [{ kind: 'chain', thing: 'follows', part: '' } as const, 'miller: go-to, use'],
    // Also over a gate that is opened by its tag.
    [{ kind: 'chain', thing: 'swings', part: '' } as const, 'miller: go-to, use'],
    [{ kind: 'gate', thing: 'opens', part: 'filtered held' } as const, 'goose: go-to, wait'],
    [{ kind: 'chain', thing: 'once', part: '' } as const, 'miller: go-to, wait, go-to'],
    [{ kind: 'chain', thing: 'above', part: '' } as const, null],
  ])('%j', (gap, way) => {
    expect(tries(gap)).toBe(way);
  });
});
