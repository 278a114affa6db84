import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { applied, emptyLevel, parseLevel, parseLevelText, placePiece, setPieces, documentErrors, warningsOf } from '../src/index';
import type { Level, Warning } from '../src/index';
import { at, cause, chain, door, fixture, flag, goTo, levelOf, solid, step, visitor, walk, zone } from './build';

const folder = join(__dirname, '../../../demo/examples');
const files = readdirSync(folder).sort();
function example(file: string): Level {
  const parsed = parseLevelText(readFileSync(join(folder, file), 'utf8'));
  if (!parsed.ok) throw new Error(`${file} has faults`);
  return parsed.level;
}
const warned = (level: Level): Warning[] => warningsOf(level).filter(({ weight }) => weight === 'warning');
const kinds = (level: Level): string[] => [...new Set(warned(level).map(({ kind }) => kind))];

it('no worked example is warned of: what is right is left in peace', () => {
  const right = files.filter((file) => !file.includes('.broken'));
  expect(right.length).toBeGreaterThan(20);
  for (const file of right) expect([file, warned(example(file)).map(({ reason }) => reason)]).toEqual([file, []]);
});

/** What is said of the broken twins before anybody walks; the rest shows only on a walk, or is a broken reference. */
const told: Record<string, string> = {
  'clear-landing.broken-mid-air': 'bad-arrival',
  'clear-landing.broken-outside': 'bad-arrival',
  'clear-landing.broken': 'bad-arrival',
  'door-manners.broken-unheard': 'unheard-signal',
  'door-manners.broken': 'strange-tag',
  'elevator-called.broken': 'nothing-brings-it-back',
  'elevator-rider.broken': 'area-stays-behind',
  'fast-cart.broken-silent': 'silent-visitor',
  'fast-cart.broken': 'thinner-than-a-tick',
  'guard.broken': 'slips-past',
  'map-markers.broken': 'idle-tail',
  'maze-walls.broken': 'there-from-the-start',
  'owner-door.broken-no-limit': 'claimed-again',
  'owner-door.broken': 'opens-to-anybody',
  'portal-manners.broken': 'skids-on',
  'portal-pair.broken-solid': 'bad-arrival',
  'portal-pair.broken': 'sent-straight-back',
  'portal-twins.broken': 'sent-straight-back',
  'raft.broken': 'area-too-wide',
  'room-warps.broken': 'left-behind',
  'sack-plate.broken': 'too-light',
  'sinking-gate.broken': 'too-much-showing',
  'thrown-float.broken': 'never-disarmed',
  'tokens.broken': 'gathered-by-others',
  'watch-elsewhere.broken': 'never-changes',
};

describe('A broken twin is warned of before it is played', () => {
  it.each(Object.entries(told))('%s: %s', (name, kind) => {
    const level = example(`${name}.level.json`);
    expect(kinds(level)).toContain(kind);
  });
});

it('every mend that is offered mends: the warning is gone, and the level is whole', () => {
  let mended = 0;
  for (const file of files) {
    const level = example(file);
    for (const { edit, kind, thing, path } of warningsOf(level)) {
      if (edit === null) continue;
      mended++;
      const after = applied(level, edit);
      expect(parseLevel(JSON.parse(JSON.stringify(after)))).toMatchObject({ ok: true });
      expect(documentErrors(after).length).toBeLessThanOrEqual(documentErrors(level).length);
      const same = warningsOf(after).filter((one) => one.kind === kind && one.thing === thing && one.path === path);
      expect([file, kind, same.map(({ reason }) => reason)]).toEqual([file, kind, []]);
    }
  }
  expect(mended).toBeGreaterThan(25);
});

it.each(setPieces.map((piece) => [piece.title, piece] as const))('“%s” is placed without a warning', (_title, piece) => {
  const level = emptyLevel('Mill yard');
  const where = { room: level.rooms[0]!.id, at: { x: 0, y: 0 } };
  let made = 0;
  const after = applied(level, placePiece(level, piece, where, {}, (prefix) => `p-${prefix}-${(made += 1)}`).edit);
  expect(warned(after).map(({ reason }) => reason)).toEqual([]);
});

describe('What goes wrong is said with its reason', () => {
  const mill = visitor('Miller', -5, 0);
  it('a door that covers its doorway still when it is open', () => {
    const level = levelOf({
      visitors: [mill],
      fixtures: [fixture('door', 'Gate', 0, 0, { size: { x: 0.2, y: 2, z: 2 }, travel: { x: 0, y: 1.2, z: 0 } })],
    });
    const [one] = warned(level);
    expect(one!.reason).toBe('“Gate” travels 1.2 m but is 2 m thick, so 0.8 m blocks the doorway when open.');
    expect(warned(applied(level, one!.edit!))).toEqual([]);
  });
  describe('an arrival where nobody can stand, and is mended by one press', () => {
    const place = (more: object) => ({ x: 0, y: 0, z: 0, room: '', of: '', axes: 'room', height: 'datum', ...more });
    const plinth = fixture('barrier', 'Plinth', 8, 2, { size: { x: 2, y: 2, z: 1.7 }, heading: 30 });
    const leads = (to: object, more: object = {}): Level =>
      levelOf({
        visitors: [mill],
        zones: [zone('Pad', -5, 3)],
        fixtures: [plinth],
        chains: [chain('Up', [cause('enter', 'pad')], [step('teleport', { to })])],
        ...more,
      });
    const mended = (level: Level): { reason: string; mend: string; to: unknown } => {
      const [one] = warned(level).filter(({ kind }) => kind === 'bad-arrival');
      const after = one!.edit === null ? level : applied(level, one!.edit);
      if (one!.edit !== null) expect(warned(after).filter(({ kind }) => kind === 'bad-arrival')).toEqual([]);
      return { reason: one!.reason, mend: one!.mend, to: (after.chains[0]!.steps[0] as { to: unknown }).to };
    };

    it.each([
      ['inside of something, counted from it', { of: 'plinth' }, 'inside of “Plinth”', { of: 'plinth', z: 1.7 }],
      ['inside of something', { x: 8.3, y: 2 }, 'inside of “Plinth”', { x: 8.3, y: 2, z: 1.7 }],
      [
        'inside of something, from the ground',
        { x: 8, y: 2, height: 'ground' },
        'inside of “Plinth”',
        { z: 1.7, height: 'datum' },
      ],
      ['outside of the room', { x: 70, y: -50.2 }, 'outside of “Yard”', { x: 49.5, y: -49.5 }],
      ['outside of the room, counted from a thing', { of: 'plinth', x: 60 }, 'outside of “Yard”', { of: 'plinth', x: 41.5 }],
      ['in mid-air', { x: 3, y: 3, z: 4 }, 'in mid-air, 4 m above the ground', { x: 3, z: 0, height: 'ground' }],
    ])('%s', (_what, to, why, wanted) => {
      const { reason, to: then } = mended(leads(place(to)));
      expect(reason).toContain(why);
      expect(then).toMatchObject(wanted);
    });

    it('or is left to be picked, where what would mend it would not do', () => {
      const shelf = fixture('barrier', 'Shelf', 8, 2, { at: { x: 8, y: 2, z: 2 }, size: { x: 2, y: 2, z: 3 } });
      expect(mended(leads(place({ of: 'plinth' }), { fixtures: [plinth, shelf] })).mend).toBe('Pick another point.');
      expect(mended(leads(place({ of: 'plinth', axes: 'own', x: 90 }))).mend).toBe('Pick another point.');
    });

    it('so is a point of a walk outside of the room', () => {
      const level = leads(place({ x: 3, y: 3 }), { walks: [walk({ miller: [goTo(70, 4)] })] });
      const [one] = warned(level).filter(({ kind }) => kind === 'unreachable-point');
      const after = applied(level, one!.edit!);
      expect(after.walks[0]!.routes[0]!.instructions[0]).toMatchObject({ to: { x: 49.5, y: 4 } });
      expect(kinds(after)).not.toContain('unreachable-point');
    });
  });
  it('a wall that closes on who sets it off', () => {
    const level = levelOf({
      visitors: [mill],
      zones: [zone('Spot', 0, 0)],
      fixtures: [fixture('barrier', 'Wall', 0.5, 0, { size: { x: 0.3, y: 2, z: 2 }, solid: false })],
      chains: [chain('Shut', [cause('enter', 'spot')], [step('make-solid', { fixture: 'wall' })])],
    });
    expect(kinds(level)).toEqual(['closes-on-the-visitor']);
  });
  it('a tag that differs by a capital', () => {
    const level = levelOf({
      visitors: [{ ...mill, tags: ['Miller'] }],
      zones: [zone('Spot', 0, 0)],
      flags: [flag('Seen')],
      chains: [
        chain('See', [cause('enter', 'spot', { filter: { anyOf: ['miller'] } })], [step('set-flag', { flag: 'seen', to: true })]),
      ],
    });
    const [one] = warned(level);
    expect(one!.mend).toBe('Ask for “Miller” instead.');
    expect(warned(applied(level, one!.edit!))).toEqual([]);
  });
  it('a watch that is active from the start, a hold without a release, a point outside of the room, a chain that does nothing', () => {
    const level = levelOf({
      visitors: [mill],
      zones: [zone('Spot', 0, 0)],
      solids: [solid('Block', 9, 9)],
      flags: [flag('Tide in', true)],
      watches: [{ id: 'tide', name: 'Tide', when: 'flag("tide-in")' }],
      chains: [
        chain('Go', [cause('became-true', 'tide')], [step('set-flag', { flag: 'tide-in', to: false })]),
        chain('Hold', [cause('enter', 'spot')], [step('hold-visitor')]),
        chain('Nothing', [cause('enter', 'spot')]),
      ],
      walks: [walk({ miller: [goTo(500, 0)] })],
    });
    expect(kinds(level)).toEqual(['no-steps', 'active-from-the-start', 'never-released', 'unreachable-point']);
  });
  it('anybody who sets it off, only as a remark', () => {
    const level = levelOf({
      visitors: [mill, visitor('Goose', 3, 3, { kind: 'creature' })],
      zones: [zone('Spot', 0, 0)],
      flags: [flag('Seen')],
      chains: [chain('See', [cause('enter', 'spot')], [step('set-flag', { flag: 'seen', to: true })])],
    });
    expect(warningsOf(level).map(({ weight, reason }) => `${weight}: ${reason}`)).toEqual([
      'remark: Any visitor triggers “See”, including “Goose”.',
    ]);
  });
});

it('a twin that does not lead back is remarked on, and mended in one step', () => {
  const portal = (name: string, x: number, twin: string): Record<string, unknown> =>
    fixture('teleporter', name, x, 0, { twin, to: { x: 0, y: 0, z: 0 } });
  const level = levelOf({ fixtures: [portal('West portal', 3, 'east-portal'), portal('East portal', 12, '')] });
  const found = warningsOf(level).find(({ kind }) => kind === 'one-way-twin')!;
  expect(found.reason).toBe('“West portal” leads to “East portal”, which does not lead back to it.');
  expect(warningsOf(applied(level, found.edit!)).some(({ kind }) => kind === 'one-way-twin')).toBe(false);
});

it('tags that differ only by a capital or a hyphen are two tags, and asked about', () => {
  const level = levelOf({
    visitors: [visitor('Miller', 0, 0, { tags: ['flour-bag'] }), visitor('Goose', 0, 3, { tags: ['Flour bag'] })],
  });
  const [found] = warningsOf(level).filter(({ kind }) => kind === 'similar-tags');
  expect([found!.thing, found!.also, found!.edit === null]).toEqual(['goose', ['miller'], false]);
});

describe('What can never happen is warned of, and what can is not', () => {
  const miller = visitor('Miller', -5, 0);
  const opens = (of: string, on = 'enter') => chain('Opens', [cause(on, of)], [step('open', { door: 'gate' })]);
  const gate = door('Gate', 9, 9);
  const base = { visitors: [miller], walks: [walk({ miller: [goTo(0, 0)] })] };
  const of = (kind: string, parts: Record<string, unknown>): Warning[] =>
    warningsOf(levelOf({ ...base, ...parts })).filter((one) => one.kind === kind);
  /** What is left of a kind of warning when its first was mended. */
  const afterwards = (kind: string, parts: Record<string, unknown>): Warning[] => {
    const level = levelOf({ ...base, ...parts });
    const edit = warningsOf(level).find((one) => one.kind === kind)!.edit!;
    return warningsOf(applied(level, edit)).filter((one) => one.kind === kind);
  };
  const token = (more: object = {}) => fixture('collectible', 'Token', 0, 0, { solid: true, ...more });

  it('solid where it is to be entered: a token, a portal, a platform that somebody should leave', () => {
    expect(of('solid-where-entered', { fixtures: [token()] }).map(({ thing }) => thing)).toEqual(['token']);
    expect(afterwards('solid-where-entered', { fixtures: [token()] })).toEqual([]);
    const portal = (more: object) => fixture('teleporter', 'Portal', 0, 0, { solid: true, to: at(5, 5), ...more });
    expect(of('solid-where-entered', { fixtures: [portal({})] })).toHaveLength(1);
    expect(of('solid-where-entered', { fixtures: [portal({ takes: 'who-uses' })] })).toEqual([]);
    const lift = fixture('elevator', 'Lift', 0, 0, { stops: [at(0, 0, 0), at(0, 0, 3)] });
    const [left] = of('solid-where-entered', { fixtures: [lift, gate], chains: [opens('lift', 'leave')] });
    expect(left!.reason).toBe('“Lift” is solid, so nobody can enter it, but “Opens” waits until somebody leaves it.');
    // A chain makes it passable, it is collected by a step alone, or some are let through.
    const softens = chain('Softens', [cause('use', 'token')], [step('make-passable', { fixture: 'token' })]);
    expect(of('solid-where-entered', { fixtures: [token()], chains: [softens] })).toEqual([]);
    expect(of('solid-where-entered', { fixtures: [token({ takenBy: [] })] })).toEqual([]);
    expect(of('solid-where-entered', { fixtures: [token({ letsThrough: { owner: false, tags: ['cat'] } })] })).toEqual([]);
  });

  it('disabled, and nothing enables it', () => {
    const off = { zones: [zone('Step', 0, 0, { enabled: false })], fixtures: [gate], chains: [opens('step')] };
    expect(of('never-enabled', off).map(({ thing }) => thing)).toEqual(['step']);
    expect(afterwards('never-enabled', off)).toEqual([]);
    const enables = chain('Enables', [cause('opened', 'gate')], [step('enable', { thing: 'step' })]);
    expect(of('never-enabled', { ...off, chains: [opens('step'), enables] })).toEqual([]);
    expect(of('never-enabled', { zones: off.zones })).toEqual([]);
    const chainOff = { zones: [zone('Step', 0, 0)], fixtures: [gate], chains: [{ ...opens('step'), enabled: false }] };
    expect(of('never-enabled', chainOff).map(({ thing }) => thing)).toEqual(['opens']);
  });

  it('not in play, though it walks or is the one that counts, and no step spawns it', () => {
    const away = { visitors: [visitor('Miller', -5, 0, { inPlay: false })] };
    expect(of('never-in-play', away).map(({ thing, also }) => [thing, also])).toEqual([['miller', ['walk']]]);
    expect(afterwards('never-in-play', away)).toEqual([]);
    const spawns = chain('Spawns', [cause('enter', 'step')], [step('spawn', { visitor: 'miller' })]);
    expect(of('never-in-play', { ...away, zones: [zone('Step', 0, 0)], chains: [spawns] })).toEqual([]);
    expect(of('never-in-play', { visitors: [miller, visitor('Pia', 3, 3, { inPlay: false })] })).toEqual([]);
  });

  it('a door that slides by nothing, a stop that is not there, a passage that leads to itself, a hidden wall', () => {
    const still = {
      zones: [zone('Step', 0, 0)],
      fixtures: [door('Gate', 9, 9, { travel: at(0, 0, 0) })],
      chains: [opens('step')],
    };
    expect(of('moves-nowhere', still)).toHaveLength(1);
    expect(of('moves-nowhere', { ...still, chains: [] })).toEqual([]);
    expect(of('moves-nowhere', { ...still, fixtures: [gate] })).toEqual([]);
    const lift = fixture('elevator', 'Lift', 0, 0, { stops: [at(0, 0, 0), at(0, 0, 3)] });
    const send = (stop: number) => chain('Send', [cause('enter', 'step')], [step('send', { elevator: 'lift', stop })]);
    const sent = { zones: [zone('Step', 9, 9)], fixtures: [lift] };
    expect(of('no-such-stop', { ...sent, chains: [send(3)] }).map(({ mend }) => mend)).toEqual(['Send it to stop 2.']);
    expect(afterwards('no-such-stop', { ...sent, chains: [send(3)] })).toEqual([]);
    expect(of('no-such-stop', { ...sent, chains: [send(2)] })).toEqual([]);
    expect(of('own-twin', { fixtures: [fixture('teleporter', 'Portal', 0, 0, { to: at(5, 5), twin: 'portal' })] })).toHaveLength(
      1,
    );
    const wall = (more: object) => ({ fixtures: [fixture('barrier', 'Wall', 0, 0, { solid: true, shown: false, ...more })] });
    expect(of('hidden-but-solid', wall({})).map(({ weight }) => weight)).toEqual(['remark']);
    expect(of('hidden-but-solid', wall({ solid: false }))).toEqual([]);
  });
});
