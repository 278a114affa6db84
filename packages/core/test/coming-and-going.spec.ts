import fc from 'fast-check';
import { kernel } from '../src/index';
import { toldByBoth } from './both';
import { at as vec, carry, cause, chain, door, drop, fixture, goTo, levelOf, plate, run, step, visitor, wait } from './build';
import { walk, zone } from './build';

/** Arriving exactly, bumping at a flat angle, being put down, starting over: what docs/order.md says, at every rate. */

type Raw = Record<string, unknown>;
const { rulePolicy, fromKey, stateKey, noopListener, compileLevel, start, tick } = kernel;
const centimetres = fc.integer({ min: -800, max: 800 }).map((n) => n / 100);
const named = (who: string): Raw => ({ who: { by: 'name', visitor: who } });
const yard = { id: 'yard', name: 'Yard', extents: { west: -50, south: -50, east: 50, north: 50 } };
const loft = { ...yard, id: 'loft', name: 'Loft' };

describe('Arriving', () => {
  const straight = fc.record({
    rate: fc.constantFrom(20, 30, 50, 60, 144),
    speed: fc.constantFrom(0.7, 1.4, 1.5, 3.1, 4),
    from: fc.tuple(centimetres, centimetres),
    to: fc.tuple(centimetres, centimetres),
  });

  it('ends every leg exactly where it was told to', () => {
    fc.assert(
      fc.property(straight, ({ rate, speed, from: [x, y], to: [u, v] }) => {
        const { tracks } = run({ rate, visitors: [visitor('Ann', x, y, { speed })], walks: [walk({ ann: [goTo(u, v)] })] });
        expect([...tracks.visitors.get('ann')!.values].slice(-3)).toEqual([u, v, 0]);
      }),
      { numRuns: 300 },
    );
  });

  it('leaves a visitor who came another way in the same world as one who was there', () => {
    fc.assert(
      fc.property(straight, ({ rate, speed, from: [x, y], to: [u, v] }) => {
        const keyAfter = (route: Raw[], at: [number, number]): string => {
          const level = levelOf({
            rate,
            visitors: [visitor('Ann', ...at, { speed })],
            walks: [walk({ ann: route }, { atMost: 60 })],
          });
          const plan = compileLevel(level);
          const world = start(plan, level.walks[0]!);
          while (tick(plan, world, rulePolicy(), noopListener) === null);
          return JSON.stringify(fromKey(plan, stateKey(plan, world)).visitors[0]!.at);
        };
        expect(keyAfter([goTo(u, v)], [x, y])).toBe(keyAfter([wait(0.1)], [u, v]));
      }),
      { numRuns: 60 },
    );
  });
});

describe('A bump', () => {
  // A wall along y = 0; Ann's side is a quarter of a metre south of her.
  const wall = (long: number): Raw => fixture('barrier', 'Wall', long / 2, -0.1, { size: vec(long, 0.2, 2) });
  const along = (rate: number, from: number, to: number, long = 12): string[] =>
    toldByBoth(
      {
        rate,
        fixtures: [wall(long)],
        visitors: [visitor('Ann', 0, 0.25 + from, { speed: 2 })],
        walks: [walk({ ann: [goTo(10, 0.25 + to)] })],
      },
      'bump',
    );

  it('comes where the gap is a centimetre, however flat the angle and whatever the rate', () => {
    for (const rate of [10, 20, 60, 120]) {
      const [bump = ''] = along(rate, 0.02, 0.003);
      // 0.02 - 0.0017 x is a centimetre at x = 5.88, after 2.94 seconds.
      expect(Number.parseInt(bump, 10) / rate).toBeCloseTo(2.94 + 0.5 / rate, 0.6);
      expect(bump).toContain('bump wall by ann');
    }
  });

  it('does not come of walking along a wall, nor of leaving it', () => {
    for (const rate of [10, 60]) {
      expect(along(rate, 0, 0)).toEqual([]);
      expect(along(rate, 0.005, 0.005)).toEqual([]);
      expect(along(rate, 0.004, 0.009)).toEqual([]);
    }
  });

  it('does not come of nearing a wall that is passed before it would be met', () => {
    expect(along(20, 0.012, 0.008, 4)).toEqual([]);
  });
});

describe('What is put down', () => {
  const toy = visitor('Toy', 0, 0, { kind: 'prop', body: { kind: 'box', size: vec(0.2, 0.2, 0.2) }, speed: 1 });
  const porter = visitor('Porter', 0.5, 0.5, { speed: 3 });

  it('walks on from the feet of its carrier', () => {
    const { tracks } = run({
      visitors: [toy, porter],
      walks: [walk({ toy: [goTo(6, 0)], porter: [wait(0.2), carry('toy'), goTo(0.4, 5), drop('toy')] })],
    });
    const { ticks, values } = tracks.visitors.get('toy')!;
    const at = ticks.map((_, i) => ({ x: values[i * 3]!, y: values[i * 3 + 1]! }));
    const jumps = at.filter(
      (to, i) => i > 0 && Math.hypot(to.x - at[i - 1]!.x, to.y - at[i - 1]!.y) / (ticks[i]! - ticks[i - 1]!) > 0.9,
    );
    // It is taken up once, into the arms; all else is walked or carried.
    expect(jumps.length).toBeLessThanOrEqual(1);
    expect(at.at(-1)).toEqual({ x: 6, y: 0 });
  });

  it('does so with a walk that a step told', () => {
    const windUp = [step('walk-visitor', { ...named('toy'), to: vec(6, 0) })];
    const ledger = toldByBoth(
      {
        zones: [zone('Feet', 0.4, 5, { shape: { kind: 'box', size: vec(0.6, 0.6, 2) } })],
        visitors: [toy, porter],
        chains: [chain('Wind up', [cause('arrived', 'porter', { limit: 1 })], windUp)],
        walks: [walk({ porter: [goTo(0.5, 0.4), wait(0.2), carry('toy'), goTo(0.4, 5), drop('toy')] })],
      },
      'leave',
      'missed',
      'arrived',
    );
    expect(ledger.filter((line) => line.includes('leave feet by toy')).length).toBe(1);
    expect(ledger.filter((line) => line.includes('missed'))).toEqual([]);
    expect(ledger.at(-1)).toContain('arrived toy by porter');
  });
});

describe('A room that starts over', () => {
  const shut: Raw = {
    rooms: [{ ...yard, leftEmpty: 'starts-over' }, loft],
    zones: [zone('Basket', 0, 5), zone('Bowl', 6, 5)],
    fixtures: [fixture('warp', 'Gate', 2, 0, { size: vec(0.5, 2, 2), to: { ...vec(0, 0), room: 'loft' }, velocity: 'stop' })],
  };
  const cat = visitor('Cat', 0, 5, { kind: 'creature' });
  const crate = visitor('Crate', 0, 0, { kind: 'prop' });
  const started = (ledger: string[]): string[] => ledger.filter((line) => line.includes('changed yard'));

  it('does not because a prop or a creature leaves it', () => {
    const parts = { ...shut, visitors: [cat, crate], walks: [walk({ crate: [goTo(3, 0)] })] };
    expect(started(toldByBoth(parts))).toEqual([]);
  });

  it('does when its last player leaves, is removed, or cannot come along', () => {
    const guest = (more: Raw): Raw => visitor('Guest', 0, 0, more);
    const leaves = { ...shut, visitors: [cat, guest({})], walks: [walk({ guest: [goTo(3, 0)] })] };
    expect(started(toldByBoth(leaves))).toHaveLength(1);
    expect(started(toldByBoth({ ...leaves, visitors: [cat, guest({ travels: false })] }))).toHaveLength(1);
    const removed = { ...leaves, chains: [chain('Out', [cause('arrived', 'guest')], [step('remove', named('guest'))])] };
    expect(started(toldByBoth({ ...removed, walks: [walk({ guest: [goTo(1, 0)] })] }))).toHaveLength(1);
    expect(started(toldByBoth({ ...leaves, visitors: [cat, guest({}), visitor('Other', -5, -5)] }))).toEqual([]);
  });

  it('puts back creatures that walk, by their route or as told, and they walk on from there', () => {
    const dog = visitor('Dog', 0, 5, { kind: 'creature' });
    const call = chain(
      'Call',
      [cause('arrived', 'guest', { limit: 1 })],
      [step('walk-visitor', { ...named('cat'), to: vec(6, 5) })],
    );
    const ledger = toldByBoth(
      {
        ...shut,
        visitors: [cat, dog, visitor('Guest', 0, 0)],
        chains: [call],
        walks: [walk({ guest: [goTo(0.1, 0), goTo(3, 0)], dog: [wait(0.1), goTo(6, 5)] })],
      },
      'enter',
      'missed',
    );
    const of = (who: string): string[] =>
      ledger.filter((line) => line.endsWith(`by ${who}`)).map((line) => line.replace(/ by .*/, ''));
    expect(of('cat')).toEqual(of('dog'));
    expect(of('cat').filter((line) => line.includes('enter basket'))).toHaveLength(2);
  });
});

describe('The beginning', () => {
  it('passes nothing on the way to where somebody stands', () => {
    const block = { id: 'block', name: 'Block', room: 'yard', at: vec(0, 0), size: vec(2, 2, 0.4) };
    const mat = (swept: boolean): Raw => zone('Mat', 0, 0, { swept, shape: { kind: 'box', size: vec(2, 2, 0.3) } });
    for (const swept of [false, true])
      expect(
        toldByBoth({ solids: [block], zones: [mat(swept)], visitors: [visitor('Ann', 0, 0)], walks: [walk({ ann: [wait(1)] })] }),
      ).toEqual(['0 start walk', '10 end settled']);
  });
});

describe('The cause of what is sensed', () => {
  it('is no door that vanishes where it stands, and no keyframe that is the one before', () => {
    const veil = door('Veil', 2, 0, {
      manner: 'vanish',
      solid: false,
      size: vec(0.4, 3, 2),
      timing: { by: 'seconds', seconds: 5 },
    });
    const lifts = chain('Lift', [cause('arrived', 'ann', { limit: 1 })], [step('open', { door: 'veil' })]);
    const ann = { visitors: [visitor('Ann', 0, 0)], walks: [walk({ ann: [goTo(0.5, 0), goTo(4, 0)] })] };
    toldByBoth({ ...ann, fixtures: [veil], chains: [lifts] });
    const causes = (parts: Raw): unknown[] =>
      run(parts)
        .entries.filter(({ kind }) => kind === 'enter' || kind === 'leave' || kind === 'bump')
        .map((entry) => entry.cause);
    expect(causes({ ...ann, fixtures: [veil], chains: [lifts] })).toEqual([null, null]);
    expect(causes({ ...ann, fixtures: [{ ...veil, solid: true }], chains: [lifts] })).toEqual([null]);

    const none = vec(0, 0);
    const keyframes = [
      { by: none, turn: 0, seconds: 4 },
      { by: vec(0, 0, 5), turn: 0, seconds: 1 },
    ];
    const wheel = fixture('mover', 'Wheel', 2, 0, { solid: false, size: vec(0.4, 3, 2), keyframes, running: true });
    toldByBoth({ ...ann, fixtures: [wheel] });
    expect(causes({ ...ann, fixtures: [wheel] })).toEqual([null, null]);
  });

  it('is the door all the same where it moves', () => {
    const gate = door('Gate', 2, 0, {
      solid: false,
      size: vec(0.4, 3, 2),
      travel: vec(0, 6),
      timing: { by: 'seconds', seconds: 5 },
    });
    const opens = chain('Open', [cause('arrived', 'ann', { limit: 1 })], [step('open', { door: 'gate' })]);
    const { entries } = run({
      fixtures: [gate],
      chains: [opens],
      visitors: [visitor('Ann', 0, 0)],
      walks: [walk({ ann: [goTo(0.5, 0), goTo(4, 0)] })],
    });
    const moving = entries.find(({ kind }) => kind === 'moving')!.number;
    expect(entries.filter(({ kind }) => kind === 'enter').map((entry) => entry.cause)).toEqual([moving]);
  });
});

describe('An elevator that was left', () => {
  const lift = fixture('elevator', 'Lift', 0, 0, {
    size: vec(2, 2, 0.2),
    stops: [vec(0, 0, 0), vec(0, 0, 1)],
    timing: { by: 'seconds', seconds: 1 },
    whenLeft: 'return',
  });
  const top = zone('Top', 0, 0, { at: vec(0, 0, 1), shape: { kind: 'box', size: vec(2, 2, 2) } });
  const up = chain('Up', [cause('arrived', 'ann', { limit: 1 })], [step('send', { elevator: 'lift', stop: 2 })]);
  const parts: Raw = {
    zones: [top],
    fixtures: [lift],
    chains: [up],
    visitors: [visitor('Ann', 0, 0, { at: vec(0, 0, 0.2) })],
    walks: [walk({ ann: [goTo(0.3, 0), wait(2), goTo(4, 0)] })],
  };

  it('is told to go back in Move, before Sense finds who has left', () => {
    const last = toldByBoth(parts, 'moving', 'leave').slice(-2);
    expect(last.map((line) => line.replace(/^\d+ /, ''))).toEqual(['moving lift', 'leave top by ann']);
    expect(last[0]!.split(' ')[0]).toBe(last[1]!.split(' ')[0]);
  });
});

describe('A push', () => {
  it('turns nobody, also not one who walks as a step told', () => {
    const facing = (delay: number): number | undefined => {
      const level = levelOf({
        visitors: [visitor('Ann', 0, 0, { heading: 90 })],
        zones: [zone('Pad', 1, 0, { shape: { kind: 'box', size: vec(1, 1, 2) } })],
        chains: [
          chain(
            'Away',
            [cause('enter', 'pad')],
            [
              step('walk-visitor', { ...named('ann'), to: vec(8, 0) }),
              step('push', { ...named('ann'), velocity: vec(0, 6), seconds: 1, start: 'with' }),
            ],
          ),
        ],
        walks: [walk({ ann: [goTo(1, 0)] })],
      });
      const plan = compileLevel(level);
      const world = start(plan, level.walks[0]!);
      const pushed = (): boolean => world.visitors[0]!.push !== null;
      while (!pushed()) tick(plan, world, rulePolicy(), noopListener);
      for (let i = 0; i < delay; i++) tick(plan, world, rulePolicy(), noopListener);
      return pushed() ? world.visitors[0]!.heading : undefined;
    };
    expect([facing(0), facing(5), facing(9)]).toEqual([0, 0, 0]);
  });
});

describe('A passage', () => {
  it('does not pause for whom it could not put elsewhere', () => {
    const hatch = fixture('warp', 'Hatch', 2, 0, { size: vec(0.5, 2, 2), to: vec(0, 0), cooldown: 5 });
    const held = toldByBoth(
      { fixtures: [hatch], visitors: [visitor('Ann', 0, 0)], walks: [walk({ ann: [goTo(4, 0), goTo(0, 0)] })] },
      'held',
    );
    expect(held.map((line) => line.replace(/^\d+ /, ''))).toEqual([
      'held hatch by ann impossible',
      'held hatch by ann impossible',
    ]);
  });

  it('that is a ball stands on its place, as a plate by heads counts nobody who is carried above it', () => {
    const orb = fixture('teleporter', 'Orb', 2, 0, { at: vec(2, 0, 2), form: 'ball', size: vec(2, 2, 2), to: vec(-3, 0) });
    const under = { visitors: [visitor('Ann', 0, 0)], walks: [walk({ ann: [goTo(4, 0)] })] };
    expect(toldByBoth({ ...under, fixtures: [orb] }, 'enter')).toEqual([]);
    const goose = visitor('Goose', 0.5, 0, { kind: 'prop', body: { kind: 'box', size: vec(0.3, 0.3, 0.3) } });
    const scale = plate('Scale', 2, 0, { by: 'heads', threshold: 2 });
    const carried = {
      fixtures: [scale],
      visitors: [visitor('Ann', 0, 0), goose],
      walks: [walk({ ann: [carry('goose'), goTo(2, 0)] })],
    };
    expect(toldByBoth(carried, 'press')).toEqual([]);
    expect(toldByBoth({ ...carried, walks: [walk({ ann: [goTo(2, 0)], goose: [goTo(2, 0)] })] }, 'press')).toHaveLength(1);
  });
});

describe('A step that is stopped', () => {
  it('goes on in the same tick from what it has stepped up on', () => {
    const sill = fixture('barrier', 'Sill', 1.5, 0, { size: vec(1, 3, 0.35) });
    const block = fixture('barrier', 'Block', 2.5, 0, { size: vec(1, 3, 0.7) });
    const parts = {
      fixtures: [sill, block],
      visitors: [visitor('Ann', 0, 0, { speed: 40 })],
      walks: [walk({ ann: [goTo(4, 0)] })],
    };
    expect(toldByBoth(parts, 'blocked', 'arrived')).toEqual(['1 arrived ann by ann']);
    expect(toldByBoth({ ...parts, fixtures: [block] }, 'blocked', 'arrived')).toEqual(['1 blocked block by ann']);
  });
});
