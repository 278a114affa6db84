import { applied, rehearse, warningsOf } from '../src/index';
import type { Warning } from '../src/index';
import { at, cause, chain, door, fixture, flag, goTo, levelOf, sign, solid, step, visitor, walk, zone } from './build';

/** What Check says of what nobody and nothing can fulfil. Each has a level that is right but for a hair beside it. */

type Parts = Record<string, unknown>;
const miller = visitor('Miller', -5, 0);
const gate = door('Gate', 9, 9);
const pad = zone('Pad', 0, 0);
const base: Parts = { visitors: [miller], zones: [pad], fixtures: [gate], walks: [walk({ miller: [goTo(0, 0)] })] };
const of = (kind: string, parts: Parts): Warning[] =>
  warningsOf(levelOf({ ...base, ...parts })).filter((one) => one.kind === kind);
/** The warnings of a kind after the first was mended. */
const mended = (kind: string, parts: Parts): Warning[] =>
  warningsOf(applied(levelOf({ ...base, ...parts }), of(kind, parts)[0]!.edit!)).filter((one) => one.kind === kind);
const opens = (on: string, what: string, more: Parts = {}) =>
  chain('Opens', [cause(on, what, more)], [step('open', { door: 'gate' })]);
/** Whether anybody gets through: whether the gate is open after the walk. */
const isOpen = (parts: Parts): boolean => {
  const level = levelOf({ ...base, ...parts });
  return rehearse(level, level.walks[0]!).entries.some(({ kind, what }) => kind === 'opened' && what === 'gate');
};

describe('A chain waits for what nothing brings about', () => {
  const waits = (on: string, what: string, parts: Parts = {}): Parts => ({ ...parts, chains: [opens(on, what)] });
  const fixtures = (more: Parts[]): Parts => ({ fixtures: [gate, ...more] });

  it('a dwell in an area without a dwell time; its mend gives it one, and then it happens', () => {
    const parts = waits('dwell', 'pad');
    expect(of('never-raised', parts).map(({ reason }) => reason)).toEqual([
      '“Opens” waits until somebody has stayed in “Pad”, but it has no dwell time.',
    ]);
    expect(isOpen(parts)).toBe(false);
    expect(mended('never-raised', parts)).toEqual([]);
    expect(isOpen({ ...parts, zones: [{ ...pad, dwell: 1 }] })).toBe(true);
    expect(of('never-raised', { ...parts, zones: [{ ...pad, dwell: 1 }] })).toEqual([]);
  });

  it('a bump into what is passable, unless a step makes it solid', () => {
    const post = (isSolid: boolean) => fixture('barrier', 'Post', 0, 0, { solid: isSolid });
    const parts = waits('bump', 'post', fixtures([post(false)]));
    expect(of('never-raised', parts)).toHaveLength(1);
    expect([isOpen(parts), isOpen({ ...parts, ...fixtures([post(true)]) })]).toEqual([false, true]);
    expect(mended('never-raised', parts)).toEqual([]);
    const hardens = chain('Hardens', [cause('enter', 'pad')], [step('make-solid', { fixture: 'post' })]);
    expect(of('never-raised', { ...parts, chains: [...(parts['chains'] as []), hardens] })).toEqual([]);
  });

  it('a door that nothing opens, or that is only opened and never closes', () => {
    const hatch = (more: Parts = {}) => door('Hatch', 4, 4, more);
    const tells = (kind: string) => chain('Tells', [cause('enter', 'pad')], [step(kind, { door: 'hatch' })]);
    const parts = (on: string, steps: string[], more: Parts = {}) => ({
      ...fixtures([hatch(more)]),
      chains: [opens(on, 'hatch'), ...steps.map(tells)],
    });
    expect(of('never-raised', parts('opened', [])).map(({ reason }) => reason)).toEqual([
      '“Opens” waits until “Hatch” has opened, but no step moves the door.',
    ]);
    expect(of('never-raised', parts('opened', ['open']))).toEqual([]);
    expect(of('never-raised', parts('opened', ['toggle']))).toEqual([]);
    expect(of('never-raised', parts('closed', ['open']))[0]!.reason).toContain('steps only open it, as “Tells” does');
    expect(of('never-raised', parts('closed', ['open'], { returnAfter: 2 }))).toEqual([]);
    expect(of('never-raised', parts('opened', ['close'], { open: true }))).toHaveLength(1);
    expect(of('never-raised', parts('moving', ['close'], { open: true }))).toEqual([]);
  });

  it('a mover that nobody plays, unless it runs by itself; a lift that nobody sends', () => {
    const cart = (running: boolean) => fixture('mover', 'Cart', 4, 4, { running });
    expect(of('never-raised', waits('arrived', 'cart', fixtures([cart(false)])))).toHaveLength(1);
    expect(of('never-raised', waits('arrived', 'cart', fixtures([cart(true)])))).toEqual([]);
    expect(of('never-raised', waits('arrived', 'lift', fixtures([fixture('elevator', 'Lift', 4, 4)])))).toHaveLength(1);
  });

  it('a switch that works once and starts so; a flag nobody sets; a counter nobody counts on; a token nobody may take', () => {
    const lever = (more: Parts) => fixtures([fixture('switch', 'Lever', 4, 4, { works: 'once', ...more })]);
    expect(of('never-raised', waits('off', 'lever', lever({})))).toHaveLength(1);
    expect(mended('never-raised', waits('off', 'lever', lever({})))).toEqual([]);
    expect(of('never-raised', waits('on', 'lever', lever({})))).toEqual([]);
    expect(of('never-raised', waits('on', 'lever', lever({ on: true })))).toHaveLength(1);
    expect(of('never-raised', waits('changed', 'dry', { flags: [flag('Dry')] }))).toHaveLength(1);
    const counters = [{ id: 'tokens', name: 'Tokens', value: 0 }];
    const token = (more: Parts) => fixtures([fixture('collectible', 'Token', 4, 4, more)]);
    expect(of('never-raised', waits('changed', 'tokens', { counters, ...token({}) }))).toHaveLength(1);
    expect(of('never-raised', waits('changed', 'tokens', { counters, ...token({ counter: 'tokens' }) }))).toEqual([]);
    expect(of('never-raised', waits('collected', 'token', token({ takenBy: [] })))).toHaveLength(1);
    expect(of('never-raised', waits('collected', 'token', token({})))).toEqual([]);
  });

  it('a signal nobody sends, a claim nobody makes, a cue nobody plays, a visitor nobody spawns', () => {
    const sends = chain('Sends', [cause('enter', 'pad')], [step('signal', { signal: 'call' })]);
    const signals = [{ id: 'call', name: 'Call' }];
    expect(of('never-raised', waits('signal', 'call', { signals }))).toHaveLength(1);
    expect(of('never-raised', { signals, chains: [opens('signal', 'call'), sends] })).toEqual([]);
    expect(of('never-raised', waits('claimed', 'gate'))).toHaveLength(1);
    expect(of('never-raised', waits('spawned', 'miller'))).toHaveLength(1);
    const bell = fixture('cue', 'Bell', 4, 4);
    expect(of('never-raised', waits('cue-finished', 'bell', fixtures([bell])))).toHaveLength(1);
    const portal = fixture('teleporter', 'Portal', 6, 6, { to: at(1, 1), before: { seconds: 1, cue: 'bell' } });
    expect(of('never-raised', waits('cue-finished', 'bell', fixtures([bell, portal])))).toEqual([]);
  });
});

describe('A filter that nobody of the level passes', () => {
  const asks = (filter: Parts): Parts => ({ chains: [opens('enter', 'pad', { filter })] });

  it('of a kind that nobody is: the mend lets the one count who is there', () => {
    const parts = asks({ kinds: ['prop'] });
    expect(of('nobody-passes', parts).map(({ reason, mend, also }) => [reason, mend, also])).toEqual([
      [
        '“Opens” asks for a visitor that is a prop, and this level has none.',
        'Let a player count, too, as “Miller” is.',
        ['miller'],
      ],
    ]);
    expect([isOpen(parts), mended('nobody-passes', parts)]).toEqual([false, []]);
    expect(of('nobody-passes', asks({ kinds: ['player'] }))).toEqual([]);
    expect(of('nobody-passes', { ...parts, visitors: [miller, visitor('Sack', 3, 3, { kind: 'prop' })] })).toEqual([]);
  });

  it('all of whose parts somebody passes, but nobody all of them', () => {
    const visitors = [{ ...miller, tags: ['guest'] }, visitor('Goose', 3, 3, { kind: 'creature', tags: ['bird'] })];
    const parts = { visitors, ...asks({ kinds: ['player'], anyOf: ['bird'] }) };
    expect(of('nobody-passes', parts)).toHaveLength(1);
    expect(of('nobody-passes', { visitors, ...asks({ kinds: ['creature'], anyOf: ['bird'] }) })).toEqual([]);
    expect(of('nobody-passes', { visitors, ...asks({ noneOf: ['guest', 'bird'] }) })).toHaveLength(1);
    expect(of('nobody-passes', { visitors, ...asks({ named: 'goose', kinds: ['player'] }) })).toHaveLength(1);
  });

  it('of a passage, and of the owner of what nobody claims', () => {
    const portal = (filter: Parts) => ({ fixtures: [gate, fixture('teleporter', 'Portal', 0, 0, { to: at(5, 5), filter })] });
    expect(of('nobody-passes', portal({ kinds: ['creature'] })).map(({ thing }) => thing)).toEqual(['portal']);
    expect(of('strange-tag', portal({ allOf: ['guest'] })).map(({ thing }) => thing)).toEqual(['portal']);
    expect(of('nobody-owns', portal({ ownerOnly: true })).map(({ also }) => also)).toEqual([['portal']]);
    const parts = asks({ ownerOnly: true });
    expect([isOpen(parts), mended('nobody-owns', parts)]).toEqual([false, []]);
    const claims = chain('Claims', [cause('enter', 'pad')], [step('claim', { thing: 'pad' })]);
    expect(of('nobody-owns', { chains: [...(parts['chains'] as []), claims] })).toEqual([]);
  });

  it('may start something no time at all', () => {
    const parts = { chains: [opens('enter', 'pad', { limit: 0 })] };
    expect([isOpen(parts), of('never-may-start', parts).length, mended('never-may-start', parts)]).toEqual([false, 1, []]);
    expect(of('never-may-start', { chains: [opens('enter', 'pad', { limit: 1 })] })).toEqual([]);
  });
});

describe('A step that changes nothing', () => {
  it('opens what is open, sends where it stands, sets what is set; unless something makes it otherwise', () => {
    const parts = { fixtures: [{ ...gate, open: true }], chains: [opens('enter', 'pad')] };
    expect(of('already-so', parts).map(({ thing, also }) => [thing, also])).toEqual([['gate', ['opens']]]);
    expect(mended('already-so', parts)).toEqual([]);
    const closes = chain('Closes', [cause('leave', 'pad')], [step('close', { door: 'gate' })]);
    expect(of('already-so', { ...parts, chains: [...parts.chains, closes] })).toEqual([]);
    expect(of('already-so', { ...parts, fixtures: [{ ...gate, open: true, returnAfter: 1 }] })).toEqual([]);
    const lift = fixture('elevator', 'Lift', 4, 4, { startsAt: 2 });
    const sends = (stop: number) => [chain('Sends', [cause('enter', 'pad')], [step('send', { elevator: 'lift', stop })])];
    expect(of('already-so', { fixtures: [lift], chains: sends(2) })).toHaveLength(1);
    expect(of('already-so', { fixtures: [lift], chains: sends(1) })).toEqual([]);
    const sets = (to: boolean) => [chain('Sets', [cause('enter', 'pad')], [step('set-flag', { flag: 'dry', to })])];
    expect(of('already-so', { flags: [flag('Dry', true)], chains: sets(true) })).toHaveLength(1);
    expect(of('already-so', { flags: [flag('Dry', true)], chains: sets(false) })).toEqual([]);
  });

  it('is undone in the same tick by another chain that the same event sets off', () => {
    const does = (name: string, kind: string, more: Parts = {}) =>
      chain(name, [cause('enter', 'pad')], [step(kind, { door: 'gate' })], more);
    const both = (more: Parts) => ({ chains: [does('Opens', 'open'), does('Closes', 'close', more)] });
    expect(of('contradicts', both({})).map(({ thing, also }) => [thing, also])).toEqual([['opens', ['closes', 'gate']]]);
    expect(of('contradicts', both({ delay: 1 }))).toEqual([]);
    expect(of('contradicts', both({ guard: 'open("gate")' }))).toEqual([]);
  });

  it('writes nothing where nothing is written; a line of speech without a line', () => {
    const board = (text: string) => ({ fixtures: [sign('Board', 4, 4, { text })] });
    const writes = (text: string) => chain('Writes', [cause('enter', 'pad')], [step('write-sign', { sign: 'board', text })]);
    expect(of('says-nothing', { ...board(''), chains: [writes('')] })).toHaveLength(1);
    expect(of('says-nothing', { ...board('Closed'), chains: [writes('')] })).toEqual([]);
    expect(of('says-nothing', { ...board(''), chains: [writes('Open')] })).toEqual([]);
    const line = (said: string) => ({ fixtures: [fixture('cue', 'Call', 4, 4, { medium: 'speech', line: said })] });
    expect(of('says-nothing', line('')).map(({ weight }) => weight)).toEqual(['remark']);
    expect(of('says-nothing', line('Halt!'))).toEqual([]);
  });
});

it('more is asked of a counter than there is to be collected', () => {
  const counters = [{ id: 'tokens', name: 'Tokens', value: 0 }];
  const tokens = [1, 2, 3].map((i) => fixture('collectible', `Token ${i}`, i * 2, 4, { counter: 'tokens' }));
  const asks = (number: number, more: Parts[] = []): Parts => ({
    counters,
    fixtures: [gate, ...tokens],
    chains: [{ ...opens('collected', 'token-1'), guard: `counter("tokens") >= ${number}` }, ...more],
  });
  expect(of('more-than-there-is', asks(4)).map(({ thing, also }) => [thing, also])).toEqual([
    ['opens', ['tokens', 'token-1', 'token-2', 'token-3']],
  ]);
  expect(of('more-than-there-is', asks(3))).toEqual([]);
  const adds = chain('Adds', [cause('enter', 'pad')], [step('set-counter', { counter: 'tokens' })]);
  expect(of('more-than-there-is', asks(4, [adds]))).toEqual([]);
});

describe('Where somebody stands, or should', () => {
  it('a visitor in the middle of a block, outside of its room, or below the ground', () => {
    const stands = (x: number, y: number, z = 0, more: Parts = {}): Warning[] =>
      of('starts-where-nobody-can', { visitors: [{ ...visitor('Miller', x, y), at: at(x, y, z) }], ...more });
    const block = { solids: [solid('Post', 3, 3)] };
    expect(stands(3.2, 3, 0, block).map(({ reason }) => reason)).toEqual(['“Miller” starts inside of “Post”.']);
    // On top of it, and right beside it.
    expect([stands(3, 3, 2, block), stands(3.75, 3, 0, block)]).toEqual([[], []]);
    expect(stands(0, 0, -1).map(({ reason }) => reason)).toEqual(['“Miller” starts 1 m below the ground of “Yard”.']);
    const outside = { visitors: [visitor('Miller', 60, 0)] };
    expect(of('starts-where-nobody-can', outside)).toHaveLength(1);
    expect(mended('starts-where-nobody-can', outside)).toEqual([]);
    // A door that stands there may open, and one that lets its owner through is in nobody's way.
    expect(stands(9, 9)).toEqual([]);
  });

  it('an area in a block, below the ground or outside of its room, that something waits for', () => {
    const waiting = (more: Parts, parts: Parts = {}): Warning[] =>
      of('nobody-can-be-in', { zones: [{ ...pad, ...more }], chains: [opens('enter', 'pad')], ...parts });
    const block = (size: object) => ({ solids: [solid('Stack', 0, 0, { size })] });
    expect(waiting({}, block(at(3, 3, 3))).map(({ reason }) => reason)).toEqual([
      'Nobody can be in “Pad”: it lies inside of “Stack”.',
    ]);
    expect(waiting({}, block(at(3, 1.5, 3)))).toEqual([]);
    expect(waiting({}, block(at(3, 3, 1.5)))).toEqual([]);
    expect(waiting({ at: at(0, 0, -3) }).map(({ reason }) => reason)).toEqual([
      'Nobody can be in “Pad”: it ends 1 m below the ground.',
    ]);
    expect(mended('nobody-can-be-in', { zones: [{ ...pad, at: at(0, 0, -3) }], chains: [opens('enter', 'pad')] })).toEqual([]);
    expect(waiting({ at: at(0, 0, -1) })).toEqual([]);
    expect(waiting({ at: at(60, 0) })).toHaveLength(1);
    expect(of('nobody-can-be-in', { zones: [{ ...pad, at: at(60, 0) }] })).toEqual([]);
  });

  it('nobody at all', () => {
    const away = { visitors: [{ ...miller, inPlay: false }], chains: [opens('enter', 'pad')] };
    expect(of('nobody-in-play', away)).toHaveLength(1);
    expect(mended('nobody-in-play', away)).toEqual([]);
    const spawns = chain('Spawns', [cause('opened', 'gate')], [step('spawn', { visitor: 'miller' })]);
    expect(of('nobody-in-play', { ...away, chains: [...away.chains, spawns] })).toEqual([]);
  });
});

it('a door that nothing opens, beside one that two chains open: the second was meant for the first', () => {
  const other = door('Wicket', 12, 9);
  const by = (name: string, what: string, target: string) =>
    chain(name, [cause('enter', what)], [step('open', { door: target })]);
  const zones = [pad, zone('Step', 5, 5)];
  const twice = (target: string, more: Parts = {}): Parts => ({
    zones,
    fixtures: [gate, { ...other, ...more }],
    chains: [by('North', 'pad', 'gate'), by('South', 'step', target)],
  });
  expect(of('wired-twice', twice('gate')).map(({ thing, also, mend }) => [thing, also, mend])).toEqual([
    ['south', ['wicket', 'gate', 'north'], 'Let “South” act on “Wicket”.'],
  ]);
  expect(mended('wired-twice', twice('gate'))).toEqual([]);
  expect(of('wired-twice', twice('wicket'))).toEqual([]);
  expect(of('wired-twice', twice('gate', { at: at(40, 9) }))).toEqual([]);
  // One trigger that opens it in two ways is no second trigger.
  expect(of('wired-twice', { ...twice('gate'), chains: [by('North', 'pad', 'gate'), by('South', 'pad', 'gate')] })).toEqual([]);
});
