import fc from 'fast-check';
import { Ledger, instruction, kernel, ledgerText, parseLevel, rehearse, valuesAt } from '../src/index';
import type { Entry, Level, Walk } from '../src/index';
import { anyLevel } from './any-level';
import { carry, cause, chain, door, endless, drop, goTo, levelOf, said, step, visitor, wait, walk, zone } from './build';

/** The kernel opened up: worlds that are stepped, copied, compared and told what to do from outside. */

const { copy, fromKey, give, rulePolicy, stateKey, lookAtAll, noopListener, compileLevel, start, tick, whereIs } = kernel;
type World = kernel.World;
const runs = Number(process.env['PROPERTY_RUNS'] ?? 60);

interface Case {
  level: Level;
  walk: Walk;
}

const anyCase: fc.Arbitrary<Case> = anyLevel.map((level) => {
  const parsed = parseLevel(level);
  if (!parsed.ok) throw new Error(JSON.stringify(parsed.faults));
  return { level: parsed.level, walk: parsed.level.walks[0]! };
});

/** A listener that keeps what it is told. */
function listener(rate: number): kernel.WorldListener & { ledger: Ledger } {
  const ledger = new Ledger(rate);
  return { ...noopListener, ledger, entry: (_number, at, writing) => void ledger.write(at, writing) };
}

/** Ticks a world one by one, so often at the most; gives what it told, and whether it is over. */
function run({ level }: Case, world: World, ticks: number): { entries: Entry[]; over: boolean } {
  const told = listener(level.rate);
  const orders = rulePolicy(level.rules);
  let over = false;
  for (let i = 0; i < ticks && !over; i++) over = tick(compileLevel(level), world, orders, told) !== null;
  return { entries: [...told.ledger], over };
}

const told = (entries: readonly Entry[]): string => ledgerText(entries);

type From = Pick<World, 'tick' | 'entries'>;

/**
 * Entries without their absolute times and numbers: those of what happened before are all alike, and like none. Nor is it said
 * where somebody faces: the key leaves that out where no level asks for it.
 */
function relative(entries: readonly Entry[], from: From): unknown[] {
  const number = (one: number | null): number | string => (one !== null && one > from.entries ? one - from.entries : 'before');
  return entries.map((entry, at) => ({
    ...entry,
    number: at,
    tick: entry.tick - from.tick,
    seconds: 0,
    cause: number(entry.cause),
    details: {
      ...entry.details,
      heading: 0,
      ...(Array.isArray(said(entry)['endsSteps']) ? { endsSteps: (said(entry)['endsSteps'] as number[]).map(number) } : {}),
    },
  }));
}

const numbered = (entries: readonly Entry[], from: number): Entry[] =>
  entries.map((entry, at) => ({ ...entry, number: from + at + 1 }));

it('that is ticked one by one keeps the ledger of a rehearsal, byte for byte', () => {
  fc.assert(
    fc.property(anyCase, (one) => {
      const whole = rehearse(one.level, one.walk);
      const { entries } = run(one, start(compileLevel(one.level), one.walk), whole.ticks + 1);
      const wanted = whole.entries.filter((entry) => entry.kind !== 'end');
      expect(told(entries).replace(/,"cycle":\[[^\]]*\]/, '')).toBe(told(wanted).replace(/,"cycle":\[[^\]]*\]/, ''));
    }),
    { numRuns: runs },
  );
});

it('is copied at any tick, and the copy goes on with the rest of the same ledger, while the first is left as it was', () => {
  fc.assert(
    fc.property(anyCase, fc.nat(400), (one, at) => {
      const first = start(compileLevel(one.level), one.walk);
      if (run(one, first, at).over) return;
      const second = copy(first);
      const key = stateKey(compileLevel(one.level), first);
      expect(stateKey(compileLevel(one.level), second)).toBe(key);
      const from = second.entries;
      const rest = run(one, second, 300);
      expect(stateKey(compileLevel(one.level), first)).toBe(key);
      const again = run(one, first, 300);
      expect(told(numbered(again.entries, from))).toBe(told(numbered(rest.entries, from)));
      expect(stateKey(compileLevel(one.level), first)).toBe(stateKey(compileLevel(one.level), second));
    }),
    { numRuns: runs },
  );
});

/** Runs a case three ways, tick by tick, passing over what can be passed over, and looking at everything: the keys are the same. */
function sameKeys(level: Level, walk: Walk): void {
  const plan = compileLevel(level);
  const orders = rulePolicy(level.rules);
  const [leaping, stepping, looking] = [start(plan, walk), start(plan, walk), start(plan, walk)];
  let over = false;
  while (!over && leaping.tick < 400) {
    over = tick(plan, leaping, orders, noopListener, 400) !== null;
    while (stepping.tick < leaping.tick) tick(plan, stepping, orders, noopListener);
    while (looking.tick < leaping.tick) {
      if (looking.tick >= 0) lookAtAll(plan, looking, noopListener);
      tick(plan, looking, orders, noopListener);
    }
    const [key, ...others] = [leaping, stepping, looking].map((world) => stateKey(plan, world));
    const other = others.find((one) => one !== key);
    if (other !== undefined) expect(other).toBe(key);
  }
}

it('has the same key however it was reached: tick by tick, passing over what can be passed over, or looking at everything', () => {
  fc.assert(
    fc.property(anyCase, ({ level, walk }) => sameKeys(level, walk)),
    { numRuns: runs },
  );
});

it('has the same key however it was reached, also when who was told to walk is picked up on the way', () => {
  const sack = visitor('Sack', 0.8, 0, { kind: 'prop', speed: 0.1, body: { kind: 'box', size: { x: 0.4, y: 0.4, z: 0.4 } } });
  const toWalk = step('walk-visitor', { who: { by: 'name', visitor: 'sack' }, to: { x: 6, y: 0, z: 0 } });
  const level = levelOf({
    visitors: [visitor('Miller', -3, 0), sack],
    zones: [zone('Spot', 0, 0), zone('Far', 9, 0)],
    chains: [chain('Go', [cause('enter', 'spot', { filter: { kinds: ['player'] } })], [toWalk])],
    walks: [walk({ miller: [goTo(0, 0), carry('sack'), wait(3), drop('sack'), goTo(9, 3)] })],
  });
  const kinds = rehearse(level, level.walks[0]!).entries.map(({ kind, details }) => ('use' in details ? details.use : kind));
  expect(kinds).toEqual(expect.arrayContaining(['step', 'carry', 'drop']));
  sameKeys(level, level.walks[0]!);
});

it('has the same future as another with the same key, but for the numbers of entries and how late it is', () => {
  let met = 0;
  fc.assert(
    fc.property(anyCase, fc.integer({ min: 1, max: 90 }), (one, late) => {
      const plan = compileLevel(one.level);
      const seen = new Map<string, World>();
      let compared = 0;
      // The same walk, begun as it is and begun later: where the level has come to rest before, they come to the same.
      for (const wait of [0, late]) {
        const pause = { id: 'pause', do: 'wait' as const, seconds: wait / one.level.rate };
        const routes = one.walk.routes.map((route) => ({ ...route, instructions: [pause, ...route.instructions] }));
        const world = start(plan, wait === 0 ? one.walk : { ...one.walk, routes });
        const orders = rulePolicy(one.level.rules);
        for (let i = 0; i < 300; i++) {
          if (tick(plan, world, orders, noopListener) !== null) break;
          const key = stateKey(plan, world);
          const same = seen.get(key);
          if (same === undefined) seen.set(key, copy(world));
          else if (compared < 4) {
            compared += 1;
            const [a, b] = [copy(same), copy(world)];
            const [from, to] = [
              { tick: a.tick, entries: a.entries },
              { tick: b.tick, entries: b.entries },
            ];
            const [later, earlier] = [run(one, b, 150), run(one, a, 150)];
            expect(later.over).toBe(earlier.over);
            expect(relative(numbered(later.entries, to.entries), to)).toEqual(
              relative(numbered(earlier.entries, from.entries), from),
            );
          }
        }
      }
      met += Math.min(1, compared);
    }),
    { numRuns: runs },
  );
  // Else nothing was shown.
  expect(met).toBeGreaterThan(runs / 10);
});

it('is read back from its key, and goes on as the one that had it', () => {
  fc.assert(
    fc.property(anyCase, fc.nat(400), (one, at) => {
      const plan = compileLevel(one.level);
      const first = start(plan, one.walk);
      if (run(one, first, at).over) return;
      const key = stateKey(plan, first);
      const second = fromKey(plan, key);
      expect(stateKey(plan, second)).toBe(key);
      if (first.tick < 0) second.walk = first.walk;
      const [then, now] = [first, second].map(({ tick, entries }) => ({ tick, entries })) as [From, From];
      const [rest, again] = [run(one, first, 300), run(one, second, 300)];
      expect(again.over).toBe(rest.over);
      expect(relative(numbered(again.entries, now.entries), now)).toEqual(relative(numbered(rest.entries, then.entries), then));
      expect(stateKey(plan, second)).toBe(stateKey(plan, first));
    }),
    { numRuns: runs },
  );
});

describe('Whoever is told what to do from outside', () => {
  const level = levelOf({
    zones: [zone('Threshold', 3, 0)],
    fixtures: [door('Gate', 6, 0)],
    visitors: [visitor('Alma', 0, 0)],
    chains: [chain('Open', [cause('enter', 'threshold')], [step('open', { door: 'gate' })])],
    walks: [walk({})],
  });
  const begin = (): { plan: kernel.CompiledLevel; world: World } => {
    const plan = compileLevel(level);
    return { plan, world: start(plan, level.walks[0]!) };
  };
  const to = (x: number) => instruction.parse(goTo(x, 0));

  it('goes on from where the level had come to rest, and fires what it enters', () => {
    const { plan, world } = begin();
    const heard = listener(level.rate);
    const orders = rulePolicy();
    let over = tick(plan, world, orders, heard);
    while (over === null) over = tick(plan, world, orders, heard);
    expect(over).toEqual({ reason: 'settled' });
    give(plan, world, 'alma', to(3));
    do over = tick(plan, world, orders, heard);
    while (over === null);
    expect(whereIs(plan, world, 'alma').at.x).toBeCloseTo(3, 6);
    expect([...heard.ledger].map((entry) => entry.kind)).toEqual(expect.arrayContaining(['enter', 'chain-started', 'opened']));
  });

  it('does it after what it was told before, or at once in place of it', () => {
    for (const [when, x] of [
      ['next', -1],
      ['at-once', -1],
    ] as const) {
      const { plan, world } = begin();
      const heard = listener(level.rate);
      give(plan, world, 'alma', to(2));
      for (let i = 0; i < 10; i++) tick(plan, world, rulePolicy(), heard);
      give(plan, world, 'alma', to(x), when);
      while (tick(plan, world, rulePolicy(), heard) === null);
      expect(whereIs(plan, world, 'alma').at.x).toBeCloseTo(x, 6);
      const arrivals = [...heard.ledger].filter((entry) => entry.kind === 'arrived').length;
      expect(arrivals).toBe(when === 'next' ? 2 : 1);
    }
  });

  it('has to be there', () => {
    const { plan, world } = begin();
    expect(() => give(plan, world, 'nobody', to(1))).toThrow('There is no visitor "nobody"');
  });
});

it('says what each visitor is at: a gate that never opens blocks one, a chain holds another, a third has done all', () => {
  const level = levelOf({
    zones: [zone('Step', 0, 5)],
    fixtures: [door('Gate', 3, 0)],
    visitors: [visitor('Alma', 0, 0), visitor('Miller', -3, 5), visitor('Otto', 0, -5), visitor('Pia', 9, 9, { inPlay: false })],
    chains: [chain('Hold', [cause('enter', 'step')], [step('hold-visitor', { who: { by: 'cause' } })])],
    walks: [walk({ alma: [wait(1), goTo(6, 0)], miller: [goTo(3, 5)], otto: [goTo(1, -5)] })],
  });
  const plan = compileLevel(level);
  const world = start(plan, { ...level.walks[0]!, routes: level.walks[0]!.routes });
  const at = (): string[] => ['alma', 'miller', 'otto', 'pia'].map((who) => kernel.activityIn(plan, world, who));
  while (world.tick < 2) tick(plan, world, rulePolicy(), noopListener);
  expect(at()).toEqual(['waiting', 'busy', 'busy', 'out-of-play']);
  let over = tick(plan, world, rulePolicy(), noopListener);
  while (over === null) over = tick(plan, world, rulePolicy(), noopListener);
  expect(over).toEqual({ reason: 'stuck', who: ['alma', 'miller'] });
  expect(at()).toEqual(['blocked', 'held-up', 'done', 'out-of-play']);
});

describe('A walk that is cut short', () => {
  /** A gate that slides for two seconds while the miller walks on; from tick 8 on, when he has come to its step. */
  const level = levelOf({
    zones: [zone('Step', 2, 0)],
    fixtures: [door('Gate', 10, 0, { travel: { x: 0, y: 2, z: 0 }, timing: { by: 'seconds', seconds: 2 } })],
    visitors: [visitor('Miller', 0, 0)],
    chains: [chain('Opens', [cause('enter', 'step')], [step('open', { door: 'gate' })])],
    walks: [walk({ miller: [goTo(8, 0)] }, { atMost: 1.5 })],
  });

  it('is told where everything is then, also in the middle of a motion and of a leg', () => {
    const { tracks, ticks, entries } = rehearse(level, level.walks[0]!);
    const began = entries.find(({ kind }) => kind === 'moving')!.tick;
    expect(ticks).toBe(15);
    expect(began).toBeLessThan(15);
    const gate = tracks.doors.get('gate')!;
    expect(gate.ticks.at(-1)).toBe(15);
    expect(valuesAt(gate, 15)[0]).toBeCloseTo((15 - began) / 20, 9);
    // It moved evenly all the while: half of the way was half of the way.
    expect(valuesAt(gate, began + 3)[0]).toBeCloseTo(3 / 20, 9);
    const miller = tracks.visitors.get('miller')!;
    expect(miller.ticks.at(-1)).toBe(15);
    expect(valuesAt(miller, 15)[0]).toBeCloseTo((15 * level.visitors[0]!.speed) / level.rate, 9);
  });

  it('has the same ways when everything is looked at in every tick', () => {
    const { tracks, ticks } = rehearse(level, level.walks[0]!);
    const looked = rehearse(level, level.walks[0]!, { everyTick: true });
    for (let at = 0; at <= ticks; at++) {
      expect(valuesAt(looked.tracks.doors.get('gate')!, at)[0]).toBeCloseTo(valuesAt(tracks.doors.get('gate')!, at)[0]!, 9);
      expect(valuesAt(looked.tracks.visitors.get('miller')!, at)[0]).toBeCloseTo(
        valuesAt(tracks.visitors.get('miller')!, at)[0]!,
        9,
      );
    }
  });
});

it('a world that ran away stays where it is, whatever it is told', () => {
  const level = endless({ zones: [zone('Step', 0, 0)], walks: [walk({ miller: [goTo(3, 0)] })] });
  const plan = compileLevel(level);
  const world = start(plan, level.walks[0]!);
  const heard = listener(level.rate);
  const orders = rulePolicy();
  let over = tick(plan, world, orders, heard);
  while (over === null) over = tick(plan, world, orders, heard);
  expect(over).toEqual({ reason: 'runaway' });
  const [at, said] = [world.tick, heard.ledger.length];
  give(plan, world, 'miller', instruction.parse(goTo(-3, 0)));
  expect(tick(plan, world, orders, heard)).toEqual({ reason: 'runaway' });
  expect([world.tick, heard.ledger.length]).toEqual([at, said]);
});
