import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Entry } from '../src/index';
import {
  at as vec,
  carry,
  cause,
  chain,
  door,
  drop,
  fixture,
  flag,
  goTo,
  plate,
  run,
  sign,
  step,
  told,
  visitor,
  wait,
  said,
} from './build';
import { walk, zone } from './build';

/** The fine points of docs/order.md, one after the other: what a designer would otherwise have to guess. */

type Raw = Record<string, unknown>;
const box = (x: number, y: number, z: number): Raw => ({ kind: 'box', size: vec(x, y, z) });
const pad = zone('Pad', 1, 0, { shape: box(1, 1, 2) });
const lines = (parts: Raw, ...kinds: string[]): string[] => told(run(parts).entries, ...kinds);
const onPad = (steps: Raw[], more: Raw = {}, other: Raw[] = []): Raw => ({
  zones: [pad],
  flags: [flag('Lit')],
  visitors: [visitor('Ann', 0, 0)],
  chains: [chain('First', [cause('enter', 'pad')], steps, more), ...other],
  walks: [walk({ ann: [goTo(3, 0)] })],
});
const lights = (): Raw => step('set-flag', { flag: 'lit', to: true });
const named = (who: string): Raw => ({ who: { by: 'name', visitor: who } });

describe('One tick', () => {
  it('moves by a push that was told in Due at once, and by one told in Sense from the next', () => {
    const pushedAt = (delay: number): number | undefined => {
      const push = step('push', { velocity: vec(-10, 0), seconds: 0.1, delay });
      const { tracks } = run({ ...onPad([push]), walks: [walk({ ann: [goTo(0.9, 0), wait(1)] })] });
      const track = tracks.visitors.get('ann')!;
      return track.ticks.find((tick, i) => i > 0 && track.values[i * 3]! < track.values[i * 3 - 3]! - 0.5 && tick > 0);
    };
    expect(pushedAt(0)).toBe(4);
    expect(pushedAt(0.5)).toBe(8);
  });

  it('raises a watch that counts from the start in the Watch after the first Sense', () => {
    const watches = [{ id: 'dry', name: 'Dry', when: '!flag("lit")', fromStart: true }];
    const { entries } = run({ ...onPad([]), watches, zones: [zone('Pad', 0, 0)] });
    expect(told(entries).slice(1, 3)).toEqual(['0 enter pad by ann', '0 chain-started first pad by ann']);
    expect(told(entries)).toContain('0 became-true dry');
  });

  it('never ends in tick 0', () => {
    expect(lines({ visitors: [visitor('Ann', 0, 0)], walks: [walk({})] }, 'end')).toEqual(['1 end settled']);
  });

  it('says who was taken as inside before anybody hears of the teleport', () => {
    const ledger = lines({
      ...onPad([step('teleport', { to: vec(9, 0) })], {}, [chain('Hears', [cause('teleported', 'ann')])]),
      zones: [pad, zone('Yonder', 9, 0)],
    });
    const at = ledger.indexOf('3 arrived-inside yonder by ann');
    expect(ledger[at - 1]).toBe('3 teleported ann by ann');
    expect(ledger[at + 1]).toBe('3 chain-started hears ann by ann');
  });

  it('gives a dwell no cause, though a teleport brought the visitor', () => {
    const { entries } = run({
      ...onPad([step('teleport', { to: vec(9, 0), arrival: 'loud' })]),
      zones: [pad, zone('Yonder', 9, 0, { dwell: 0.5 })],
    });
    expect(entries.find((entry) => entry.kind === 'dwell')).toMatchObject({ what: 'yonder', cause: null });
  });

  it('asks nearest first by the distance between middles in space', () => {
    // On the ground the high one is nearer, in space the low one.
    const high = zone('High', 0.9, 0, { shape: box(2, 2, 20) });
    const low = zone('Low', 1.4, 0, { shape: box(3, 3, 2) });
    const parts = { rules: { pairs: 'nearest-first' }, zones: [high, low], visitors: [visitor('Ann', -9, 0)] };
    const jumps = chain('Jump', [cause('arrived', 'ann')], [step('teleport', { to: vec(0.9, 0), arrival: 'loud' })]);
    const ledger = lines({ ...parts, chains: [jumps], walks: [walk({ ann: [goTo(-8, 0)] })] }, 'enter');
    expect(ledger.map((line) => line.split(' ')[2])).toEqual(['low', 'high']);
  });
});

describe('Chains', () => {
  const queueing = (by: string): string[] =>
    lines({
      ...onPad([step('wait', { seconds: 2 })], { whileRunning: 'queue' }, [
        chain('Ends', [cause('leave', 'pad', { filter: { named: 'ben' } })], [step(by, { chain: 'first' })]),
      ]),
      visitors: [visitor('Ann', 0, 0), visitor('Ben', -0.4, 0)],
      walks: [walk({ ann: [goTo(3, 0)], ben: [goTo(3, 0)] })],
    }).filter((line) => line.includes('first'));

  it.each([
    ['stop-chain', 'stopped'],
    ['reset-chain', 'reset'],
  ])('that are told to %s drop what is queued without a word', (by, reason) => {
    const ledger = queueing(by);
    expect(ledger.filter((line) => line.includes('chain-started'))).toHaveLength(1);
    expect(ledger.find((line) => line.includes('gave-up'))).toContain(reason);
    if (by === 'reset-chain') expect(ledger.at(-1)).toContain('changed first');
  });

  it('forget their limits when they are reset', () => {
    const again = (steps: Raw[]): number =>
      lines(
        {
          ...onPad([]),
          chains: [chain('First', [cause('enter', 'pad', { limit: 1 })]), chain('Resets', [cause('leave', 'pad')], steps)],
          walks: [walk({ ann: [goTo(3, 0), goTo(0, 0)] })],
        },
        'chain-started',
      ).filter((line) => line.includes('first')).length;
    expect(again([step('reset-chain', { chain: 'first' })])).toBe(2);
    expect(again([])).toBe(1);
  });

  it('give up before anybody hears of the leave, also when the leave itself is held', () => {
    const ledger = lines({
      ...onPad([lights()], { delay: 3, givesUp: true }, [
        chain('Offs', [cause('dwell', 'pad')], [step('disable', { thing: 'pad' })]),
      ]),
      zones: [{ ...pad, dwell: 0.5 }],
    });
    const at = ledger.indexOf('18 held pad by ann disabled');
    expect(ledger[at + 1]).toBe('18 gave-up first pad by ann left');
  });

  it('see in conditions what is as of the last Sense, before the ledger tells it', () => {
    const counts = chain('Counts', [cause('enter', 'pad')], [], { guard: 'count("pad") == 2' });
    const ledger = lines(
      {
        ...onPad([]),
        chains: [counts],
        visitors: [visitor('Ann', 0, 0), visitor('Ben', 0, 0.2)],
        walks: [walk({ ann: [goTo(3, 0)], ben: [goTo(3, 0.2)] })],
      },
      'chain-started',
    );
    expect(ledger).toHaveLength(2);
  });

  it('give up a wait of 0 s through the queue, and go on in the same breath where the condition holds', () => {
    const kinds = (until: string): string[] =>
      lines(onPad([step('wait-until', { until, limit: 0 }), lights()]), 'gave-up', 'chain-finished', 'step');
    expect(kinds('flag("lit")').slice(1, 3)).toEqual(['3 gave-up first by ann time limit', '3 step first lit by ann']);
    expect(kinds('!flag("lit")').some((line) => line.includes('gave-up'))).toBe(false);
  });
});

describe('Signals and owners', () => {
  it('measure a radius in space', () => {
    const heard = (z: number): boolean =>
      lines({
        ...onPad([step('signal', { signal: 'call', address: { to: 'radius', metres: 5 } })], {}, [
          chain('Hears', [cause('signal', 'call', { hears: 'bell' })]),
        ]),
        signals: [{ id: 'call', name: 'Call' }],
        fixtures: [sign('Bell', 1, 0, { at: vec(1, 0, z) })],
      }).some((line) => line.includes('chain-started hears'));
    expect([heard(4.9), heard(5.2)]).toEqual([true, false]);
  });

  it('let anybody give up what another owns, and nobody claim it', () => {
    const ledger = lines(
      {
        ...onPad([]),
        fixtures: [sign('Board')],
        visitors: [visitor('Ann', 0, 0), visitor('Ben', -2, 0)],
        chains: [
          chain('Claims', [cause('enter', 'pad')], [step('claim', { thing: 'board' })]),
          chain('Gives', [cause('leave', 'pad', { filter: { named: 'ben' } })], [step('give-up', { thing: 'board' })]),
        ],
        walks: [walk({ ann: [goTo(3, 0)], ben: [goTo(3, 0)] })],
      },
      'claimed',
      'changed',
    );
    expect(ledger).toEqual(['3 claimed board by ann', '38 changed board by ben']);
  });
});

describe('Visitors', () => {
  it('arrive in the same tick on a way of no length, at the end of each go-to instruction', () => {
    const walks = [walk({ ann: [goTo(1, 0), goTo(1, 0), goTo(1, 0)] })];
    expect(lines({ visitors: [visitor('Ann', 0, 0)], walks }, 'arrived')).toEqual([
      '10 arrived ann by ann',
      '11 arrived ann by ann',
      '11 arrived ann by ann',
    ]);
  });

  it('that are held wait no longer meanwhile', () => {
    const steps = [step('hold-visitor', named('ben')), step('wait', { seconds: 1 }), step('release-visitor', named('ben'))];
    const ledger = lines({
      ...onPad(steps),
      visitors: [visitor('Ann', 0, 0), visitor('Ben', 9, 9)],
      walks: [walk({ ann: [goTo(1, 0)], ben: [wait(2), goTo(9, 8)] })],
    });
    expect(ledger.filter((line) => line.includes('arrived ben'))).toEqual(['39 arrived ben by ben']);
  });

  it('told to walk elsewhere end the first walk at once', () => {
    const away = (x: number, more: Raw = {}): Raw => step('walk-visitor', { ...named('ben'), to: vec(x, 9), ...more });
    const ledger = lines(
      {
        ...onPad([away(20)], {}, [chain('Second', [cause('leave', 'pad')], [away(8)])]),
        visitors: [visitor('Ann', 0, 0), visitor('Ben', 9, 9)],
      },
      'chain-finished',
    );
    expect(ledger[0]).toBe('18 chain-finished first by ann');
  });

  it('whose velocity is kept go on to where their instruction leads once a told walk has come between', () => {
    const steps = [step('teleport', { to: vec(1, 5), velocity: 'keep' }), step('walk-visitor', { to: vec(1, 6) })];
    const { tracks, entries } = run({ ...onPad(steps), walks: [walk({ ann: [goTo(3, 0)] })] });
    expect(told(entries, 'arrived')).toHaveLength(2);
    const { values } = tracks.visitors.get('ann')!;
    expect(values.slice(-3)).toEqual([3, 0, 0]);
  });

  it('are where a relative place says, by the thing’s own height', () => {
    const steps = [step('teleport', { to: { ...vec(0, 0, 1), of: 'shelf' } })];
    const shelf = fixture('barrier', 'Shelf', 9, 0, { at: vec(9, 0, 2), size: vec(1, 1, 1) });
    const { entries } = run({ ...onPad(steps), fixtures: [shelf] });
    expect(entries.find((entry) => entry.kind === 'teleported')!.details).toEqual({ x: 9, y: 0, z: 3, heading: 0 });
  });
});

describe('Machines', () => {
  const gate = (more: Raw): Raw => door('Gate', 9, 9, { timing: { by: 'seconds', seconds: 1 }, ...more });

  it('return because of who told them anew while they waited; told by who hears them open, because they opened', () => {
    const back = (on: string, of: string): string => {
      const again = chain('Again', [cause(on, of)], [step('open', { door: 'gate' })]);
      const { entries } = run({ ...onPad([step('open', { door: 'gate' })], {}, [again]), fixtures: [gate({ returnAfter: 2 })] });
      const closing = entries.find((entry) => said(entry)['to'] === 'closed')!;
      const reason = entries[closing.cause! - 1]!;
      return `${closing.tick} ${reason.kind} ${reason.chain}`;
    };
    expect(back('leave', 'pad')).toBe('38 step again');
    expect(back('opened', 'gate')).toBe('33 opened null');
  });

  it('travel in the axes of the room, whatever their heading', () => {
    const { tracks, entries } = run({
      ...onPad([step('open', { door: 'gate' })]),
      zones: [pad, zone('Beside', 11, 9, { shape: box(0.5, 0.5, 2), attachedTo: '' })],
      fixtures: [gate({ heading: 90, travel: vec(2, 0), solid: false })],
      visitors: [visitor('Ann', 0, 0), visitor('Ben', 11, 9)],
    });
    expect(tracks.doors.has('gate')).toBe(true);
    expect(told(entries, 'enter')).toContain('12 enter gate by ben');
  });

  it('count a keyframe from their place, not from the pose before', () => {
    const keyframes = [vec(2, 0), vec(2, 2)].map((by) => ({ by, turn: 0, seconds: 1 }));
    const cart = fixture('mover', 'Cart', 9, 0, { size: vec(0.2, 0.2, 1), solid: false, keyframes });
    const { entries } = run({
      ...onPad([step('play', { machine: 'cart' })]),
      fixtures: [cart],
      visitors: [visitor('Ann', 0, 0), visitor('Ben', 11, 2), visitor('Cat', 13, 2)],
    });
    expect(told(entries, 'enter')).toEqual(['3 enter pad by ann', expect.stringMatching(/enter cart by ben/)]);
  });
});

it('lists the fields of details of every entry that the worked examples bring about', () => {
  const page = readFileSync(join(__dirname, '../../../docs/order.md'), 'utf8');
  const table = page.slice(page.indexOf('| kind '), page.indexOf('## Fine points'));
  const everything: Entry[] = [
    ...run(onPad([step('open', { door: 'gate' })])).entries,
    ...run({
      ...onPad([lights(), step('teleport', { to: vec(9, 0) }), step('cue', { cue: 'bell' })]),
      fixtures: [fixture('cue', 'Bell', 0, 0), plate('Scale', 2, 0), fixture('switch', 'Lever', 0, 0)],
      visitors: [visitor('Ann', 0, 0), visitor('Sack', 0, 0.4, { kind: 'prop' })],
      walks: [walk({ ann: [carry('sack'), { id: 'u-1', do: 'use', fixture: 'lever' }, goTo(3, 0), drop('sack')] })],
    }).entries,
  ];
  const fields = new Set(everything.flatMap((entry) => Object.keys(entry.details)));
  expect(fields.size).toBeGreaterThan(12);
  for (const field of fields) expect(table).toContain(`\`${field}\``);
});
