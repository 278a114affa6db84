import { at as vec, carry, cause, chain, fixture, goTo, run, step, visitor, wait, walk, zone } from './build';
import { toldByBoth as lines } from './both';

/** Doors that let their owner through, what is half seen through, where one faces, and who speaks. */

type Raw = Record<string, unknown>;

const threshold = zone('Threshold', 2, 0);
const wall = (letsThrough: Raw): Raw => fixture('barrier', 'Wall', 4, 0, { size: vec(0.4, 4, 2), letsThrough });
const claims = chain(
  'Claim',
  [cause('enter', 'threshold', { limit: 1 })],
  [step('claim', { thing: 'wall' }), step('make-see-through', { fixture: 'wall' })],
);
const two = (letsThrough: Raw): Raw => ({
  zones: [threshold],
  fixtures: [wall(letsThrough)],
  visitors: [visitor('Ann', 0, 0), visitor('Ben', 0, 1)],
  chains: [claims],
  walks: [walk({ ann: [goTo(7, 0)], ben: [goTo(7, 1)] })],
});

it('lets its owner through who claimed it first, and stops a second, who only sees through it', () => {
  const ledger = lines(two({ owner: true }), 'claimed', 'changed', 'enter', 'leave', 'blocked', 'bump', 'arrived', 'end');
  expect(ledger).toContain('8 claimed wall by ann');
  expect(ledger.filter((line) => line.includes(' wall'))).toEqual([
    '8 claimed wall by ann',
    '8 changed wall by ann',
    '36 blocked wall by ben',
    '36 enter wall by ann',
    '36 bump wall by ben',
    '45 leave wall by ann',
  ]);
  expect(ledger).toContain('70 arrived ann by ann');
  expect(ledger.some((line) => line.includes('arrived ben'))).toBe(false);
});

it('stops everybody where nobody was let through, owner or not', () => {
  const ledger = lines(two({}), 'arrived', 'bump');
  expect(ledger.filter((line) => line.includes('arrived'))).toEqual([]);
  expect(ledger).toHaveLength(2);
});

it('lets through who has one of its tags, letter by letter', () => {
  const parts = two({ tags: ['miller', 'cat'] });
  const arrived = (tags: string[]): boolean =>
    lines({ ...parts, visitors: [visitor('Ann', 0, 0, { tags }), visitor('Ben', 0, 1)] }, 'arrived').some((line) =>
      line.includes('arrived ann'),
    );
  expect([arrived(['cat']), arrived(['Cat']), arrived([])]).toEqual([true, false, false]);
});

it('drops through a floor whoever it lets through, and holds the others', () => {
  const floor = fixture('barrier', 'Floor', 0, 0, { size: vec(20, 20, 2), letsThrough: { tags: ['ghost'] } });
  const ghost = visitor('Ghost', 0, 0, { at: vec(0, 0, 2), tags: ['ghost'] });
  const miller = visitor('Miller', 2, 0, { at: vec(2, 0, 2) });
  const pad = zone('Cellar', 0, 0, { shape: { kind: 'box', size: vec(20, 20, 0.5) } });
  const parts = { zones: [pad], fixtures: [floor], visitors: [ghost, miller], walks: [walk({ miller: [goTo(3, 0)] })] };
  const ledger = lines(parts, 'enter');
  expect(ledger.map((line) => line.replace(/^\d+ /, ''))).toEqual(['enter floor by ghost', 'enter cellar by ghost']);
});

it('pushes and carries only those it does not let through', () => {
  const lift = fixture('elevator', 'Lift', 0, 0, {
    size: vec(4, 4, 0.2),
    stops: [vec(0, 0, 0), vec(0, 0, 3)],
    timing: { by: 'seconds', seconds: 1 },
    letsThrough: { tags: ['ghost'] },
  });
  const loft = zone('Loft', 0, 0, { at: vec(0, 0, 2.5), shape: { kind: 'box', size: vec(4, 4, 2) } });
  const ledger = lines(
    {
      zones: [loft, zone('Start', 1, 1)],
      fixtures: [lift],
      visitors: [visitor('Ghost', 0.5, 0, { tags: ['ghost'] }), visitor('Miller', -1, 0, { at: vec(-1, 0, 0.2) })],
      chains: [chain('Up', [cause('enter', 'start')], [step('send', { elevator: 'lift', stop: 2 })])],
      walks: [walk({ ghost: [goTo(1, 1)] })],
    },
    'enter',
  );
  expect(ledger.some((line) => line.endsWith('enter loft by miller'))).toBe(true);
  expect(ledger.some((line) => line.endsWith('enter loft by ghost'))).toBe(false);
});

it('says which way one faces who was taken elsewhere, and conditions may ask for it', () => {
  const parts = (degrees: number): Raw => ({
    zones: [zone('Pad', 1, 0), zone('Far', 5, 5)],
    fixtures: [fixture('marker', 'Arrival', 5, 5, { heading: degrees })],
    visitors: [visitor('Ann', 0, 0)],
    flags: [{ id: 'north', name: 'North', on: false, per: 'level' }],
    chains: [
      chain(
        'Jump',
        [cause('enter', 'pad')],
        [step('teleport', { to: { x: 0, y: 0, z: 0, of: 'arrival' }, arrivesFacing: 'take' })],
      ),
      chain('Faces', [cause('teleported', 'ann')], [step('set-flag', { flag: 'north', to: true })], {
        guard: 'heading("ann") == 90.0',
      }),
    ],
    walks: [walk({ ann: [goTo(1, 0)] })],
  });
  const ends = (degrees: number): unknown[] => {
    const { entries } = run(parts(degrees));
    const put = entries.find((entry) => entry.kind === 'teleported')!;
    return [put.details, entries.some((entry) => entry.kind === 'changed')];
  };
  expect(ends(90)).toEqual([{ x: 5, y: 5, z: 0, heading: 90 }, true]);
  expect(ends(-90)).toEqual([{ x: 5, y: 5, z: 0, heading: 270 }, false]);
  // Rounded to a millionth once: a half goes up, as from the heading itself.
  expect(ends(9.8544545)).toEqual([{ x: 5, y: 5, z: 0, heading: 9.854455 }, false]);
  expect(ends(360)).toEqual([{ x: 5, y: 5, z: 0, heading: 0 }, false]);
  expect(Object.is((ends(-0)[0] as { heading: number }).heading, 0)).toBe(true);
  lines(parts(90));
});

it('watches the heading of who turns to walk another way', () => {
  const ledger = lines(
    {
      visitors: [visitor('Ann', 0, 0)],
      watches: [{ id: 'west', name: 'West', when: 'heading("ann") == 180.0', fromStart: false }],
      walks: [walk({ ann: [goTo(3, 0), goTo(0, 0), goTo(0, 2)] })],
    },
    'became-true',
    'became-false',
  );
  expect(ledger).toEqual(['31 became-true west', '61 became-false west']);
});

it('lets a guard speak: who says what, and for how long', () => {
  const halt = fixture('cue', 'Halt', 2, 0, { medium: 'speech', speaker: 'guard', line: 'Halt! Who goes there?', seconds: 2 });
  const parts = {
    zones: [threshold],
    fixtures: [halt],
    visitors: [visitor('Ann', 0, 0), visitor('Guard', 5, 0, { kind: 'creature' })],
    chains: [chain('Speak', [cause('enter', 'threshold')], [step('cue', { cue: 'halt' })])],
    walks: [walk({ ann: [goTo(2, 0)] })],
  };
  const { entries } = run(parts);
  expect(entries.find((entry) => entry.kind === 'cue-started')!.details).toEqual({
    medium: 'speech',
    ticks: 20,
    speaker: 'guard',
    line: 'Halt! Who goes there?',
  });
  lines(parts);
});

describe('A passage', () => {
  const portal = (more: Raw): Raw =>
    fixture('teleporter', 'West portal', 3, 0, { size: vec(1, 2, 2), to: { x: 20, y: 0, z: 0 }, ...more });
  const one = (more: Raw, instructions = [goTo(3, 0)], other: Raw = {}): Raw => ({
    fixtures: [portal(more), fixture('cue', 'Shimmer', 3, 0, { medium: 'light', seconds: 0.3 })],
    visitors: [visitor('Ann', 0, 0), visitor('Ben', -1, 0)],
    walks: [walk({ ann: instructions, ben: [goTo(3, 0)] })],
    ...other,
  });

  it('holds control, draws its visitor to the middle, lets it shimmer, and gives it its control back', () => {
    const manner = { before: { seconds: 0.5, holds: true, drifts: true, cue: 'shimmer' }, after: { cue: '', seconds: 0.4 } };
    const ledger = lines(one(manner, [goTo(6, 0)], { visitors: [visitor('Ann', 0, 0)], walks: [walk({ ann: [goTo(6, 0)] })] }));
    expect(ledger).toEqual([
      '0 start walk',
      '23 enter west-portal by ann',
      '23 changed ann by ann',
      '23 cue-started shimmer by ann',
      '26 cue-finished shimmer by ann',
      '27 arrived ann by ann',
      '28 teleported ann by ann',
      '28 leave west-portal by ann',
      '32 changed ann by ann',
      '32 end settled',
    ]);
  });

  it('takes nobody while it pauses, and says for how long', () => {
    const ledger = lines(one({ cooldown: 2 }), 'teleported', 'held');
    expect(ledger).toEqual(['23 teleported ann by ann', '33 held west-portal by ben cooling']);
    expect(lines(one({ cooldown: 2, cooldownFor: 'visitor' }), 'held')).toEqual([]);
    expect(lines(one({ cooldown: 1 }), 'held')).toEqual([]);
  });

  it('does not take who has left before it was time', () => {
    const ledger = lines(one({ before: { seconds: 2 } }, [goTo(6, 0)]), 'teleported', 'held');
    expect(ledger[0]).toBe('43 held west-portal by ann impossible');
    expect(ledger).toContain('53 teleported ben by ben');
  });

  it('leads to its twin, which does not send back who has arrived inside of it', () => {
    const twins = [
      portal({ twin: 'east-portal', arrivesFacing: 'take', to: {} as Raw }),
      fixture('teleporter', 'East portal', 12, 0, {
        size: vec(1, 2, 2),
        twin: 'west-portal',
        heading: 90,
        to: { x: 0, y: 0, z: 0 },
      }),
    ].map((own) => ({ ...own, to: { x: 0, y: 0, z: 0 } }));
    const parts = {
      fixtures: twins,
      visitors: [visitor('Ann', 0, 0)],
      walks: [walk({ ann: [goTo(3, 0), goTo(15, 0), goTo(12, 0)] })],
    };
    const { entries } = run(parts);
    expect(entries.filter(({ kind }) => kind === 'teleported').map(({ details }) => details)).toEqual([
      { x: 12, y: 0, z: 0, heading: 90 },
      { x: 3, y: 0, z: 0, heading: 180 },
    ]);
    lines(parts);
  });

  it('is as round as it says', () => {
    const entered = (form: string): boolean => {
      // In the corner of the box, which what is round does not have.
      const past = { visitors: [visitor('Ann', 2.2, 0.8)], walks: [walk({ ann: [goTo(2.2, 0.8)] })] };
      return lines({ fixtures: [portal({ form, size: vec(1.2, 1.2, 2) })], ...past }, 'enter').length > 0;
    };
    expect([entered('box'), entered('pillar'), entered('ball')]).toEqual([true, false, false]);
  });
});

describe('A creature that stands in the way', () => {
  const yard = (blocks: boolean): Raw => ({
    visitors: [visitor('Ann', 0, 0), visitor('Guard', 4, -3, { kind: 'creature', blocks, speed: 2 })],
    walks: [walk({ ann: [goTo(8, 0)], guard: [goTo(4, 0)] })],
  });

  it('stops who walks into it, and is not slipped past', () => {
    expect(lines(yard(false), 'blocked', 'arrived')).toEqual(['15 arrived guard by guard', '80 arrived ann by ann']);
    const ledger = lines(yard(true), 'blocked', 'end');
    expect(ledger[0]).toMatch(/^\d+ blocked guard by ann$/);
    expect(ledger.at(-1)).toMatch(/end stuck/);
  });

  it('lets on who waited, as soon as it has stepped aside', () => {
    const parts = { ...yard(true), walks: [walk({ ann: [goTo(8, 0)], guard: [goTo(4, 0), goTo(4, 5)] })] };
    const ledger = lines(parts, 'blocked', 'arrived');
    expect(ledger.some((line) => line.includes('arrived ann'))).toBe(true);
    const late = { ...yard(true), walks: [walk({ ann: [goTo(8, 0)], guard: [goTo(4, 0)] })] };
    expect(lines(late, 'arrived').some((line) => line.includes('arrived ann'))).toBe(false);
  });

  it('stands in nobody’s way while it is carried', () => {
    const parts = {
      visitors: [
        visitor('Ann', 0, 0),
        visitor('Ben', 3.2, 0),
        visitor('Sack', 4, 0, { kind: 'prop', blocks: true, body: { kind: 'box', size: vec(0.4, 0.4, 0.8) } }),
      ],
      walks: [walk({ ben: [carry('sack')], ann: [goTo(8, 0)] })],
    };
    expect(lines(parts, 'blocked')).toEqual([]);
    const down = { ...parts, walks: [walk({ ann: [goTo(8, 0)] })] };
    expect(lines(down, 'blocked')).toHaveLength(1);
  });

  it('lets on who waited when it is picked up, taken out of play, or taken to another room', () => {
    const sack = visitor('Sack', 4, 0, { kind: 'prop', blocks: true, body: { kind: 'box', size: vec(0.4, 0.4, 0.8) } });
    const goesOn = (more: Raw, ben: Raw[]): boolean =>
      lines(
        {
          rooms: ['yard', 'loft'].map((id) => ({ id, name: id, extents: { west: -50, south: -50, east: 50, north: 50 } })),
          visitors: [visitor('Ann', 0, 0), visitor('Ben', 3.4, 1.6), sack],
          walks: [walk({ ann: [goTo(8, 0)], ben: [wait(6), ...ben, wait(1)] })],
          ...more,
        },
        'arrived',
      ).some((line) => line.endsWith('arrived ann by ann'));
    const away = (what: Raw): Raw => ({ zones: [zone('Bell', 3, 4)], chains: [chain('Away', [cause('enter', 'bell')], [what])] });
    const who = { by: 'name', visitor: 'sack' };
    expect(goesOn({}, [goTo(3.6, 1), carry('sack')])).toBe(true);
    expect(goesOn(away(step('remove', { who })), [goTo(3.4, 3)])).toBe(true);
    expect(goesOn(away(step('warp', { who, to: { x: 0, y: 0, z: 0, room: 'loft' } })), [goTo(3.4, 3)])).toBe(true);
    expect(goesOn({}, [goTo(3.6, 1)])).toBe(false);
  });
});
