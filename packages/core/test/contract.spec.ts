import { rehearse } from '../src/index';
import type { Entry } from '../src/index';
import { at as vec, carry, cause, chain, door, fixture, flag, goTo, levelOf, plate, run, sign, step, told, said } from './build';
import { visitor, wait, walk, zone } from './build';

/** Where docs/order.md and the kernel once said different things: first what an independent reader of the page found. */

type Raw = Record<string, unknown>;
const box = (x: number, y: number, z: number): Raw => ({ kind: 'box', size: vec(x, y, z) });
const pad = zone('Pad', 1, 0, { shape: box(1, 1, 2) });
const lines = (parts: Raw, ...kinds: string[]): string[] => told(run(parts).entries, ...kinds);
const entriesOf = (parts: Raw, kind: string): Entry[] => run(parts).entries.filter((entry) => entry.kind === kind);
const jump = (to: Raw, more: Raw = {}): Raw => chain('Jump', [cause('enter', 'pad')], [step('teleport', { to, ...more })]);

describe('cooldowns and queues', () => {
  const gong = (more: Raw): Raw => ({
    zones: [pad],
    visitors: ['Ann', 'Ben', 'Cat'].map((name) => visitor(name, 0, 0)),
    chains: [chain('Gong', [cause('enter', 'pad', more)], [step('wait', { seconds: 2.4 })], { whileRunning: 'queue' })],
    walks: [walk({ ann: [goTo(4, 0)], ben: [wait(1.1), goTo(4, 0)], cat: [wait(2.6), goTo(4, 0)] })],
  });

  it('counts the cooldown of a queued chain from when it begins', () => {
    const ledger = lines(gong({ cooldown: 1 }), 'held', 'chain-started');
    expect(ledger).toEqual([
      '3 chain-started gong pad by ann',
      '14 held gong pad by ben running',
      '27 chain-started gong pad by ben',
      '29 held gong pad by cat cooling',
    ]);
  });

  it('counts the limit when it is queued, so that no more are queued than may start', () => {
    expect(lines(gong({ limit: 2 }), 'held').at(-1)).toBe('29 held gong pad by cat used-up');
  });
});

it('never lets an empty watch become anything', () => {
  for (const fromStart of [false, true]) {
    const watches = [{ id: 'nothing', name: 'Nothing', when: ' ', fromStart }];
    const ledger = lines({ watches, visitors: [visitor('Ann', 0, 0)], walks: [walk({ ann: [goTo(1, 0)] })] });
    expect(ledger).toEqual(['0 start walk', '10 arrived ann by ann', '10 end settled']);
  }
});

describe('the end does not wait for what was called off', () => {
  it('nor a dwell of who was taken away and is held, although whoever stood in the way has just moved', () => {
    const parts = (delay: number): Raw => ({
      rules: { afterTeleport: 'sense-at-once' },
      zones: [{ ...pad, dwell: 30 }],
      visitors: [visitor('Ann', 0, 0, { blocks: true })],
      chains: [
        chain(
          'Away',
          [cause('enter', 'pad')],
          [step('hold-visitor'), step('teleport', { to: vec(-4, 0), arrival: 'loud', delay, start: 'after' })],
        ),
      ],
    });
    const [at] = lines({ ...parts(0.5), walks: [walk({ ann: [goTo(4, 0)] })] }, 'teleported');
    const moved = Number(at!.split(' ')[0]);
    expect(ends(parts(0.5), [goTo(4, 0), goTo(0, 0)])).toBe(`${moved + 1} end stuck`);
  });

  const ends = (parts: Raw, instructions = [goTo(4, 0)]): string | undefined =>
    lines({ visitors: [visitor('Ann', 0, 0)], walks: [walk({ ann: instructions }, { atMost: 50 })], ...parts }, 'end')[0];

  it('a dwell of who has left', () => expect(ends({ zones: [{ ...pad, dwell: 30 }] })).toBe('40 end settled'));
  it('the delay of a chain that gave up', () =>
    expect(
      ends({
        zones: [pad],
        chains: [chain('Late', [cause('enter', 'pad')], [step('wait', { seconds: 1 })], { delay: 30, givesUp: true })],
      }),
    ).toBe('40 end settled'));
  it('the limit of a wait that is over', () =>
    expect(
      ends({
        zones: [pad],
        flags: [flag('Lit')],
        chains: [
          chain('Waits', [cause('enter', 'pad')], [step('wait-until', { until: 'flag("lit")', limit: 30 })]),
          chain('Lights', [cause('leave', 'pad')], [step('set-flag', { flag: 'lit', to: true })]),
        ],
      }),
    ).toBe('40 end settled'));
  it('the delayed step of a chain that was stopped', () =>
    expect(
      ends({
        zones: [pad],
        chains: [
          chain('Slow', [cause('enter', 'pad')], [step('wait', { seconds: 0, delay: 30 })]),
          chain('Stops', [cause('leave', 'pad')], [step('stop-chain', { chain: 'slow' })]),
        ],
      }),
    ).toBe('40 end settled'));
  it('but for a door that still is to return', () =>
    expect(
      ends({
        zones: [pad],
        fixtures: [door('Gate', 9, 9, { returnAfter: 30 })],
        chains: [chain('Opens', [cause('enter', 'pad')], [step('open', { door: 'gate' })])],
      }),
    ).toBe('323 end settled'));
});

describe('quiet starts', () => {
  const rules = { startsInside: 'quiet', afterTeleport: 'sense-at-once' };

  it('take as inside who starts there, and nobody who is put elsewhere loudly in tick 0', () => {
    const ledger = lines({
      rules,
      zones: [zone('Yonder', 9, 0)],
      fixtures: [plate('Scale', 0, 0)],
      visitors: [visitor('Ann', 0, 0)],
      chains: [chain('Jump', [cause('press', 'scale')], [step('teleport', { to: vec(9, 0), arrival: 'loud' })])],
      walks: [walk({ ann: [goTo(10, 0)] })],
    });
    expect(ledger).toContain('0 enter yonder by ann');
    expect(ledger).not.toContain('0 arrived-inside yonder by ann');
  });

  it('are all caused by the start', () => {
    const inside = entriesOf(
      {
        rules,
        zones: [zone('West', -5, 0), zone('East', 5, 0)],
        visitors: [visitor('Ann', -5, 0), visitor('Ben', 5, 0)],
        walks: [walk({ ann: [goTo(-8, 0)] })],
      },
      'arrived-inside',
    );
    expect(inside.map(({ what, cause: from }) => [what, from])).toEqual([
      ['west', 1],
      ['east', 1],
    ]);
  });
});

describe('houses that drain immediately', () => {
  const gate = door('Gate', 9, 9, { timing: { by: 'seconds', seconds: 0 } });
  const parts = (seconds: number, hears: Raw): Raw => ({
    rules: { draining: 'immediate' },
    zones: [pad],
    flags: [flag('Lit')],
    fixtures: [{ ...gate, timing: { by: 'seconds', seconds } }],
    visitors: [visitor('Ann', 0, 0)],
    chains: [
      chain('Opens', [cause('enter', 'pad')], [step('open', { door: 'gate' }), step('set-flag', { flag: 'lit', to: true })]),
      hears,
    ],
    walks: [walk({ ann: [goTo(3, 0)] })],
  });

  it('let a step wait for a motion of 0 s until its end has been heard', () => {
    const hears = chain('Hears', [cause('opened', 'gate')], [step('wait', { seconds: 0 })]);
    const ledger = lines(parts(0, hears)).slice(2);
    expect(ledger.slice(1, 8)).toEqual([
      '3 step opens gate by ann',
      '3 moving gate by ann',
      '3 opened gate by ann',
      '3 chain-started hears gate by ann',
      '3 step hears by ann',
      '3 chain-finished hears by ann',
      '3 step opens lit by ann',
    ]);
  });

  it('know who waits for a motion that is turned back as soon as it is told', () => {
    const shuts = chain('Shuts', [cause('moving', 'gate')], [step('close', { door: 'gate' })]);
    const { entries } = run(parts(1.5, shuts));
    const opening = entries.find((entry) => entry.kind === 'step')!.number;
    expect(said(entries.find((entry) => said(entry)['turnedBack'] === true))['endsSteps']).toEqual([opening]);
    expect(told(entries, 'step')).toEqual(['3 step opens gate by ann', '3 step shuts gate by ann', '3 step opens lit by ann']);
  });

  it('drain what a step raises of the first thing before it touches the second', () => {
    const ledger = lines(
      {
        rules: { draining: 'immediate' },
        zones: [pad],
        fixtures: [sign('Near', 0, 0, { tags: ['lamp'], shown: false }), sign('Far', 9, 0, { tags: ['lamp'], shown: false })],
        visitors: [visitor('Ann', 0, 0)],
        chains: [
          chain('Shows', [cause('enter', 'pad')], [step('show', { fixture: '', tagged: 'lamp' })]),
          chain('Hears', [cause('changed', 'near')]),
        ],
        walks: [walk({ ann: [goTo(3, 0)] })],
      },
      'changed',
      'chain-started',
      'chain-finished',
    );
    expect(ledger.slice(1, 5)).toEqual([
      '3 changed near by ann',
      '3 chain-started hears near by ann',
      '3 chain-finished hears by ann',
      '3 changed far by ann',
    ]);
  });
});

describe('plates', () => {
  it('of threshold 0 are pressed while anybody is on them', () => {
    const ledger = lines(
      {
        fixtures: [plate('Scale', 3, 0, { threshold: 0 })],
        visitors: [visitor('Ann', 0, 0)],
        walks: [walk({ ann: [goTo(6, 0)] })],
      },
      'press',
      'release',
    );
    expect(ledger).toEqual(['23 press scale by ann', '38 release scale by ann']);
  });

  const twoHeads = (arrival: string, more: Raw = {}): Raw => ({
    zones: [pad],
    fixtures: [plate('Scale', 5, 0, { threshold: 2, by: 'heads' })],
    visitors: [visitor('Ann', 0, 0), visitor('Ben', 5, 0)],
    chains: [jump(vec(5, 0), { arrival }), chain('Bell', [cause('press', 'scale')], [step('teleport', { to: vec(20, 0) })])],
    walks: [walk({ ann: [goTo(3, 0)] })],
    ...more,
  });

  it('are pressed by who arrived on them, quietly or loudly, and because of the journey', () => {
    for (const arrival of ['quiet', 'loud']) {
      const { entries } = run(twoHeads(arrival));
      const press = entries.find((entry) => entry.kind === 'press')!;
      expect(press.who).toBe('ann');
      expect(entries[press.cause! - 1]!.kind).toBe('teleported');
    }
  });

  it('are released by who was taken from them, whichever way', () => {
    const { entries } = run(twoHeads('quiet'));
    const release = entries.find((entry) => entry.kind === 'release')!;
    expect([release.who, entries[release.cause! - 1]!.kind]).toEqual(['ann', 'teleported']);
  });

  it('hold the press of a silent visitor who arrives quietly, though another stands there', () => {
    const visitors = [visitor('Ann', 0, 0, { raisesOverlaps: false }), visitor('Ben', 5, 0)];
    const parts = { ...twoHeads('quiet'), visitors, fixtures: [plate('Scale', 5, 0, { threshold: 2, by: 'heads' })] };
    const chains = [chain('Jump', [cause('arrived', 'ann')], [step('teleport', { to: vec(5, 0) })])];
    expect(lines({ ...parts, chains }, 'held').map((line) => line.split(' ').slice(1).join(' '))).toContain(
      'held scale by ann silent-visitor',
    );
  });
});

describe('who was put elsewhere', () => {
  const runner = (arrival: string, swept: boolean, x = 21.5): string[] =>
    lines({
      zones: [zone('Beam', 23, 0, { shape: box(0.2, 4, 2), swept }), zone('Pad', 2, 0, { shape: box(0.5, 4, 2) })],
      visitors: [visitor('Runner', 0, 0, { speed: 20 })],
      chains: [jump(vec(x, 0), { velocity: 'keep', arrival })],
      walks: [walk({ runner: [goTo(10, 0)] })],
    }).filter((line) => line.includes('beam'));

  it('crosses what lies between there and where it is at the next Sense', () => {
    expect(runner('loud', true)).toEqual(['2 enter beam by runner', '2 leave beam by runner']);
    expect(runner('loud', false)).toEqual(['2 missed beam by runner']);
  });

  it('passes what it arrived inside of loudly and has left by then, and leaves it after a quiet arrival', () => {
    expect(runner('loud', true, 23)).toEqual(['2 enter beam by runner', '2 leave beam by runner']);
    expect(runner('quiet', true, 23)).toEqual(['1 arrived-inside beam by runner', '2 leave beam by runner']);
  });
});

it('who is put inside of something solid and pushed on bumps it in the second Sense that follows, and once', () => {
  expect(
    lines(
      {
        zones: [zone('Start', 0, 0)],
        fixtures: [fixture('bell-pull', 'Block', 20, 0, { size: vec(2, 2, 2), solid: true })],
        visitors: [visitor('Ann', 0, 0)],
        chains: [
          chain(
            'Sends',
            [cause('enter', 'start')],
            [step('teleport', { to: vec(20, 0), velocity: 'stop' }), step('push', { velocity: vec(1, 0), seconds: 0.2 })],
          ),
        ],
        walks: [walk({ ann: [wait(1)] })],
      },
      'teleported',
      'bump',
    ),
  ).toEqual(['0 teleported ann by ann', '2 bump block by ann']);
});

describe('a portal that draws its visitor in and then sends it', () => {
  const portal = (first: Raw[]): string[] =>
    lines(
      {
        zones: [zone('Portal', 4, 0)],
        visitors: [visitor('Ann', 0, 0)],
        chains: [
          chain(
            'Sends',
            [cause('enter', 'portal')],
            [step('hold-visitor'), ...first, step('teleport', { to: vec(0, 8), velocity: 'stop' }), step('release-visitor')],
          ),
        ],
        walks: [walk({ ann: [goTo(9, 0), goTo(0, 9)] }, { atMost: 20 })],
      },
      'teleported',
      'end',
    );

  it.each([
    ['walked', [step('walk-visitor', { to: vec(4, 0) })]],
    ['pushed', [step('push', { velocity: vec(1, 0), seconds: 0.5 })]],
    ['thrown', [step('push', { velocity: vec(0, 0, 2), seconds: 0.5 })]],
    ['walked and still walking', [step('walk-visitor', { to: vec(4, 5) }), step('wait', { start: 'with', seconds: 0 })]],
  ])('sends it once, for its leg is given up: %s', (_how, first) => {
    const ledger = portal(first as Raw[]);
    expect(ledger.filter((line) => line.includes('teleported'))).toHaveLength(1);
    expect(ledger.at(-1)).toContain('settled');
  });

  it('leaves a wait of the route alone', () => {
    const ledger = lines(
      {
        visitors: [visitor('Ann', 1, 0)],
        chains: [chain('Sends', [cause('dwell', 'pad')], [step('teleport', { to: vec(0, 8) })])],
        walks: [walk({ ann: [wait(2), goTo(0, 9)] })],
        zones: [{ ...pad, dwell: 1 }],
      },
      'arrived',
    );
    expect(ledger).toEqual(['30 arrived ann by ann']);
  });
});

describe('what is carried', () => {
  const sack = visitor('Sack', 0, 0.3, { kind: 'prop', body: box(0.3, 0.3, 0.3) });
  const carrying = (to: Raw[]): Raw => walk({ ann: [carry('sack'), ...to] }, { atMost: 15 });
  const causeKinds = (entries: readonly Entry[], what: string): (string | undefined)[] =>
    entries
      .filter((entry) => entry.who === 'sack' && entry.what === what && entry.cause !== null && entry.kind !== 'held')
      .map((entry) => `${entry.kind} by ${entries[entry.cause! - 1]!.kind}`);

  it('arrives as quietly as its carrier, and leaves because of the same journey', () => {
    const { entries } = run({
      zones: [pad, zone('Yonder', 9, 0)],
      visitors: [visitor('Ann', 0, 0), { ...sack, body: box(0.8, 0.8, 0.3) }],
      chains: [
        chain('Jump', [cause('enter', 'pad', { filter: { named: 'ann' } })], [step('teleport', { to: vec(9, 0) })]),
        chain('Hears', [cause('enter', 'yonder')]),
      ],
      walks: [carrying([goTo(3, 0)])],
    });
    expect(causeKinds(entries, 'pad')).toEqual(['leave by teleported']);
    expect(causeKinds(entries, 'yonder')).toEqual(['arrived-inside by teleported']);
    expect(told(entries, 'chain-started')).toHaveLength(1);
  });

  it('enters what it is teleported into loudly because of the teleport, in a house that senses at once too', () => {
    for (const afterTeleport of ['sense-next-tick', 'sense-at-once']) {
      const { entries } = run({
        rules: { afterTeleport },
        zones: [pad, zone('Yonder', 9, 0)],
        visitors: [visitor('Ann', 0, 0), sack],
        chains: [jump(vec(9, 0), { arrival: 'loud' })],
        walks: [carrying([goTo(3, 0)])],
      });
      expect(causeKinds(entries, 'yonder')).toEqual(['enter by teleported']);
    }
  });

  it('enters what it is carried up into because of the lift', () => {
    const { entries } = run({
      zones: [pad, zone('Loft', 1, 0, { at: vec(1, 0, 4) })],
      fixtures: [fixture('elevator', 'Lift', 1, 0, { at: vec(1, 0, -0.2) })],
      visitors: [visitor('Ann', 0, 0), sack],
      chains: [chain('Up', [cause('enter', 'pad', { filter: { named: 'ann' } })], [step('send', { elevator: 'lift', stop: 2 })])],
      walks: [carrying([goTo(1, 0)])],
    });
    expect(causeKinds(entries, 'loft')).toEqual(['enter by moving']);
  });

  it('goes nowhere by itself, and the ledger says so', () => {
    const { entries } = run({
      visitors: [visitor('Ann', 0, 0), sack],
      chains: [
        chain(
          'Sends',
          [cause('arrived', 'ann')],
          [
            step('teleport', { who: { by: 'name', visitor: 'sack' }, to: vec(9, 0) }),
            step('push', { who: { by: 'name', visitor: 'sack' }, velocity: vec(1, 0) }),
            step('walk-visitor', { who: { by: 'name', visitor: 'sack' }, to: vec(9, 0) }),
          ],
        ),
      ],
      walks: [carrying([goTo(3, 0)])],
    });
    const held = entries.filter((entry) => entry.kind === 'held');
    expect(held.map((one) => [one.what, said(one)['event'], said(one)['reason'], said(one)['problem']])).toEqual([
      ['sack', 'teleport', 'impossible', 'carried'],
      ['sack', 'push', 'impossible', 'carried'],
      ['sack', 'walk-visitor', 'impossible', 'carried'],
    ]);
  });
});

describe('nothing comes of it', () => {
  const problems = (steps: Raw[], more: Raw = {}): unknown[] =>
    entriesOf(
      {
        zones: [pad],
        visitors: [visitor('Ann', 0, 0), visitor('Ben', 9, 9, { inPlay: false })],
        chains: [chain('Tries', [cause('enter', 'pad', { filter: { named: 'ann' } })], steps)],
        walks: [walk({ ann: [goTo(3, 0)] })],
        ...more,
      },
      'held',
    ).map((one) => said(one)['problem']);
  const gone = { ...vec(0, 0), of: 'gone' };

  it.each([
    ['teleport', { to: gone }, 'no such place'],
    ['teleport', { to: { ...vec(0, 0), room: 'gone' } }, 'no such place'],
    ['teleport', { to: vec(0, 0), who: { by: 'name', visitor: 'ben' } }, 'not in play'],
    ['warp', { to: vec(0, 0) }, 'no room'],
    ['warp', { to: { ...vec(0, 0), room: 'gone' } }, 'no such place'],
    ['walk-visitor', { to: gone }, 'no such place in this room'],
    ['turn', { facing: gone }, 'no such place to face'],
    ['spawn', { visitor: 'ben', at: gone }, 'no such place'],
  ])('of a step: %s', (kind, fields, problem) => {
    expect(problems([step(kind, fields as Raw)])).toEqual([problem]);
  });

  it('of a teleporter and of a room warp that lead nowhere', () => {
    const fixtures = [fixture('teleporter', 'Portal', 1, 0, { to: gone }), fixture('warp', 'Hatch', 2, 0, { to: vec(0, 0) })];
    expect(problems([], { fixtures })).toEqual(['no such place', 'no room']);
  });
});

describe('bumps', () => {
  const lift = fixture('elevator', 'Lift', 0, 0, { at: vec(0, 0, -0.2), stops: [vec(0, 0), vec(0, 0, 3)] });
  const up = chain('Up', [cause('dwell', 'pad')], [step('send', { elevator: 'lift', stop: 2 })]);
  const parts = (more: Raw): Raw => ({
    zones: [zone('Pad', 0, 0, { dwell: 0.5 })],
    visitors: [visitor('Ann', 0, 0), visitor('Sack', 0.6, 0, { kind: 'prop', body: box(0.3, 0.3, 0.3) })],
    walks: [walk({ ann: [wait(3)] })],
    ...more,
  });

  it('are not what a rider and what lies beside it do to the lift that rises under them, nor to what stands on it', () => {
    const post = fixture('barrier', 'Post', -0.4, 0, { at: vec(-0.4, 0, 0), size: vec(0.29, 0.3, 2), attachedTo: 'lift' });
    expect(lines(parts({ fixtures: [lift, post], chains: [up] }), 'bump')).toEqual([]);
  });

  it('are what a rider does to a post that it is carried against', () => {
    const cart = fixture('mover', 'Cart', 0, 0, {
      at: vec(0, 0, -0.2),
      size: vec(2, 2, 0.2),
      keyframes: [{ by: vec(4, 0), seconds: 1 }],
    });
    const go = chain('Go', [cause('dwell', 'pad')], [step('play', { machine: 'cart' })]);
    const post = fixture('barrier', 'Post', 3, 0, { size: vec(0.2, 4, 2) });
    expect(lines(parts({ fixtures: [cart, post], chains: [go] }), 'bump')).toContain('12 bump post by ann');
  });

  it('are not what one can step up on, and are what is higher', () => {
    const walksInto = (height: number): string[] =>
      lines(
        {
          fixtures: [fixture('barrier', 'Sill', 2, 0, { size: vec(1, 2, height) })],
          visitors: [visitor('Ann', 0, 0)],
          walks: [walk({ ann: [goTo(4, 0)] })],
        },
        'bump',
      );
    expect(walksInto(0.4)).toEqual([]);
    expect(walksInto(0.6)).toEqual(['13 bump sill by ann']);
  });
});

describe('waits until a condition holds', () => {
  it.each(['end-of-phase', 'at-once'])('are asked again when their turn comes: watches %s', (watches) => {
    const takes = (name: string): Raw =>
      chain(
        name,
        [cause('enter', 'pad')],
        [
          step('wait-until', { until: '!flag("taken")' }),
          step('set-flag', { flag: 'taken', to: true }),
          step('wait', { seconds: 1 }),
          step('set-flag', { flag: 'taken', to: false }),
        ],
      );
    const ledger = lines(
      {
        rules: { watches },
        zones: [pad],
        flags: [flag('Taken', true)],
        visitors: [visitor('Ann', 0, 0)],
        chains: [
          takes('First'),
          takes('Second'),
          chain('Frees', [cause('leave', 'pad')], [step('set-flag', { flag: 'taken', to: false })]),
        ],
        walks: [walk({ ann: [goTo(3, 0)] })],
      },
      'changed',
    );
    // One after the other, though both were waiting when it became free.
    expect(ledger.map((line) => line.split(' ')[0])).toEqual(['18', '18', '28', '28', '38']);
  });
});

describe('pushes', () => {
  const pushed = (velocity: Raw, more: Raw = {}): Entry[] =>
    run({
      zones: [pad],
      visitors: [visitor('Ann', 0, 0)],
      chains: [chain('Back', [cause('enter', 'pad')], [step('push', { velocity, seconds: 0.5 })])],
      walks: [walk({ ann: [goTo(0.9, 0), wait(3)] })],
      ...more,
    }).entries;

  it.each([
    ['along', vec(-4, 0)],
    ['thrown', vec(-4, 0, 2)],
  ])('are the cause of what is left by them: %s', (_how, velocity) => {
    const entries = pushed(velocity);
    const leave = entries.find((entry) => entry.kind === 'leave')!;
    expect(entries[leave.cause! - 1]).toMatchObject({ kind: 'step', details: { do: 'push' } });
  });

  it('throw without an arrival where the flight lands', () => {
    const props = [visitor('Ann', 0, 0), visitor('Sack', 3, 0, { kind: 'prop', body: box(0.3, 0.3, 0.3) })];
    const kick = step('push', { who: { by: 'name', visitor: 'sack' }, velocity: vec(1, 0, 3) });
    const entries = pushed(vec(0, 0), { visitors: props, chains: [chain('Kick', [cause('enter', 'pad')], [kick])] });
    expect(told(entries, 'arrived')).toEqual(['9 arrived ann by ann']);
  });

  it('end with their time for the step, also if they were stopped before', () => {
    const steps = [step('push', { velocity: vec(1, 0), seconds: 1 }), step('stop-velocity', { start: 'with', delay: 0.2 })];
    const entries = pushed(vec(0, 0), { chains: [chain('Back', [cause('enter', 'pad')], steps)] });
    expect(told(entries, 'chain-finished')).toEqual(['13 chain-finished back by ann']);
  });

  it('stop velocity leaves the leg, a teleport that stops does not', () => {
    const ends = (last: Raw): string | undefined => {
      const steps = [step('push', { velocity: vec(1, 0), seconds: 0.5 }), last];
      const walks = [walk({ ann: [goTo(9, 0)] })];
      return told(pushed(vec(0, 0), { chains: [chain('Back', [cause('enter', 'pad')], steps)], walks }), 'arrived')[0];
    };
    expect(ends(step('stop-velocity'))).toMatch(/arrived ann/);
    expect(ends(step('teleport', { to: vec(5, 0) }))).toBeUndefined();
  });
});

describe('enabling', () => {
  it('lets those inside enter only if it was disabled', () => {
    const enters = (enabled: boolean): string[] =>
      lines(
        {
          zones: [pad, zone('Hall', 0, 0, { enabled })],
          visitors: [visitor('Ann', 0, 0)],
          chains: [chain('Wakes', [cause('enter', 'pad')], [step('enable', { thing: 'hall', insideEnter: true })])],
          walks: [walk({ ann: [goTo(0.9, 0)] })],
        },
        'enter',
      ).filter((line) => line.includes('hall'));
    expect(enters(false)).toEqual(['3 enter hall by ann']);
    expect(enters(true)).toEqual(['0 enter hall by ann']);
  });
});

describe('expectations', () => {
  const level = levelOf({
    fixtures: [fixture('barrier', 'Post', 3, 0, { size: vec(0.2, 9, 3) })],
    visitors: [visitor('Ann', 0, 0)],
    walks: [
      walk(
        { ann: [goTo(9, 0)] },
        {
          expectations: [
            { id: 'e-1', expect: 'happens', entry: { kind: 'end' } },
            { id: 'e-2', expect: 'never', entry: { kind: 'end', reason: 'stuck' } },
            { id: 'e-3', expect: 'never', entry: { kind: 'end', reason: 'settled' } },
          ],
        },
      ),
    ],
  });

  it('see the end, and its reason', () => {
    const { expectations, entries } = rehearse(level, level.walks[0]!);
    expect(expectations.map((one) => one.passed)).toEqual([true, false, true]);
    expect(expectations[0]!.entries).toEqual([entries.length]);
  });
});

describe('travel and timing', () => {
  const moves = (more: Raw, kind = 'door', to: Raw = step('open', { door: 'gate' })): Entry =>
    entriesOf(
      {
        zones: [pad],
        fixtures: [fixture(kind, 'Gate', 9, 9, more)],
        visitors: [visitor('Ann', 0, 0)],
        chains: [chain('Opens', [cause('enter', 'pad')], [to])],
        walks: [walk({ ann: [goTo(3, 0)] })],
      },
      'moving',
    )[0]!;
  const bySpeed = { timing: { by: 'speed', speed: 1 } };

  it.each([
    ['slide', { manner: 'slide', travel: vec(3, 4) }, 50],
    ['sink by the length of its travel', { manner: 'sink', travel: vec(3, 4) }, 50],
    ['rise by the length of its travel', { manner: 'rise', travel: vec(0, 0, -2) }, 20],
    ['swing along the arc of its far end', { manner: 'swing', size: vec(2, 0.2, 2), swing: { degrees: 90, hinge: 'west' } }, 32],
    ['vanish in no time', { manner: 'vanish', travel: vec(3, 4) }, 0],
  ])('doors %s', (_how, more, ticks) => expect(said(moves({ ...bySpeed, ...more }))['ticks']).toBe(ticks));

  it('counts the seconds of an elevator for each pair of stops', () => {
    const stops = [vec(0, 0), vec(0, 0, 1), vec(0, 0, 9)];
    const send = step('send', { elevator: 'gate', stop: 3 });
    expect(said(moves({ stops, timing: { by: 'seconds', seconds: 2 } }, 'elevator', send))['ticks']).toBe(40);
  });

  it('says that something moves when it is told, with the start delay', () => {
    const moving = moves({ startDelay: 1, timing: { by: 'seconds', seconds: 2 } });
    expect([moving.tick, said(moving)['ticks']]).toEqual([3, 30]);
  });
});

it('writes the end of a chain at once, before the changes that its steps have raised', () => {
  const ledger = lines(
    {
      zones: [pad],
      flags: [flag('Lit')],
      visitors: [visitor('Ann', 0, 0)],
      chains: [
        chain('Lights', [cause('enter', 'pad')], [step('set-flag', { flag: 'lit', to: true })]),
        chain('After', [cause('chain-finished', 'lights')]),
      ],
      walks: [walk({ ann: [goTo(3, 0)] })],
    },
    'chain-finished',
    'changed',
    'chain-started',
  );
  expect(ledger).toEqual([
    '3 chain-started lights pad by ann',
    '3 chain-finished lights by ann',
    '3 changed lit by ann',
    '3 chain-started after lights by ann',
    '3 chain-finished after by ann',
  ]);
});
