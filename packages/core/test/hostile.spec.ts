import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import { LevelReader, emptyLevel, lookup, parseLevel, parseLevelText, rehearse } from '../src/index';
import type { Level } from '../src/index';
import { Conditions } from '../src/conditions/conditions';
import { cause, chain, door, flag, goTo, levelOf, step, told, visitor, walk, zone, said } from './build';
import { anyLevel } from './any-level';

/** Documents that are meant to break the program end in a clear error or in a correct ledger, never in a hang or a crash. */

const faults = (value: unknown): string[] => {
  const parsed = parseLevel(value);
  return parsed.ok ? [] : parsed.faults.map((fault) => `${fault.path}: ${fault.message}`);
};

it('refuses fixtures that are attached to themselves, directly or in a ring', () => {
  const ring = ['a', 'b', 'c'].map((id, i, all) => door(id, 0, 0, { id, attachedTo: all[(i + 1) % 3] }));
  const document = { ...levelOf({}), fixtures: ring };
  expect(faults(document)).toHaveLength(3);
  expect(faults(document)[0]).toBe(
    '/fixtures/0/attachedTo: Attachment cycle: this fixture is attached to itself. Detach one of the fixtures',
  );
  expect(faults({ ...levelOf({}), fixtures: [door('Own', 0, 0, { attachedTo: 'own' })] })).toHaveLength(1);
});

it.each([
  ['no size', { shape: { kind: 'ball', radius: 0 } }],
  ['a negative size', { shape: { kind: 'box', size: { x: -1, y: 1, z: 1 } } }],
  ['an endless size', { shape: { kind: 'pillar', radius: 1, height: Infinity } }],
  ['no number', { at: { x: Number.NaN, y: 0, z: 0 } }],
  ['a huge number', { at: { x: 1e300, y: 0, z: 0 } }],
])('refuses a zone with %s, and names the place', (_what, part) => {
  const found = faults({ ...levelOf({}), zones: [zone('Odd', 0, 0, part)] });
  expect(found).toHaveLength(1);
  expect(found[0]).toMatch(/^\/zones\/0\//);
});

it('names the cycle of a level in which two chains set each other off for ever', () => {
  const level = levelOf({
    zones: [zone('Gate', 0, 0)],
    flags: [flag('Lamp')],
    visitors: [visitor('Alma', 0, 0)],
    chains: [
      chain('On', [cause('enter', 'gate'), cause('changed', 'lamp')], [step('set-flag', { flag: 'lamp', to: true })], {
        whileRunning: 'overlap',
      }),
      chain('Off', [cause('changed', 'lamp')], [step('set-flag', { flag: 'lamp', to: false })], { whileRunning: 'overlap' }),
    ],
    walks: [walk({})],
  });
  for (const draining of ['queued', 'immediate'] as const) {
    const { entries } = rehearse(level, level.walks[0]!, { rules: { draining } });
    const runaway = entries.find((entry) => entry.kind === 'runaway')!;
    const cycle = (said(runaway)['cycle'] as string[]).join(' → ');
    expect(cycle).toContain('changed lamp');
    expect(cycle).toContain('of on');
    expect(entries.at(-1)!.details).toEqual({ reason: 'runaway' });
  }
});

it('ends a chain that starts itself, and a mover that takes no time to go round', () => {
  const parts = {
    zones: [zone('Gate', 0, 0)],
    visitors: [visitor('Alma', 0, 0)],
    chains: [chain('Self', [cause('enter', 'gate')], [step('start-chain', { chain: 'self' })], { whileRunning: 'overlap' })],
    fixtures: [
      {
        id: 'wheel',
        name: 'Wheel',
        kind: 'mover',
        room: 'yard',
        at: { x: 9, y: 9, z: 0 },
        keyframes: [{ by: { x: 1, y: 0, z: 0 }, seconds: 0 }],
        atEnd: 'to-and-fro',
      },
    ],
    walks: [walk({})],
  };
  const self = levelOf(parts);
  expect(told(rehearse(self, self.walks[0]!).entries, 'end')).toEqual(['0 end runaway']);
  const wheel = levelOf({ ...parts, chains: [chain('Go', [cause('enter', 'gate')], [step('play', { machine: 'wheel' })])] });
  expect(told(rehearse(wheel, wheel.walks[0]!).entries, 'end')).toEqual(['0 end runaway']);
});

it('offers one event to a hundred thousand chains', () => {
  const chains = Array.from({ length: 100_000 }, (_, i) => chain(`C${i}`, [cause('enter', 'gate')]));
  const level = levelOf({ zones: [zone('Gate', 0, 0)], visitors: [visitor('Alma', 0, 0)], chains, walks: [walk({})] });
  const { ledger } = rehearse(level, level.walks[0]!);
  // It is one item of the queue, however many listen: each starts and finishes.
  expect(ledger.length).toBe(200_003);
  expect(ledger.at(ledger.length)!.details).toEqual({ reason: 'settled' });
}, 120_000);

it('takes names of any script, and texts of any kind', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'binary', minLength: 1, maxLength: 80 }), (name) => {
      const document = { ...levelOf({ visitors: [visitor('Alma', 0, 0)], walks: [walk({})] }), name };
      const parsed = parseLevelText(JSON.stringify(document));
      if (parsed.ok) expect(rehearse(parsed.level, parsed.level.walks[0]!).entries.at(-1)!.kind).toBe('end');
      else expect(parsed.faults[0]!.path).toBe('/name');
    }),
  );
});

it('answers any value at any place of a document with faults, or with a ledger that ends', () => {
  const paths = (value: unknown, path: (string | number)[] = []): (string | number)[][] =>
    value === null || typeof value !== 'object'
      ? [path]
      : [
          path,
          ...Object.entries(value).flatMap(([key, inner]) => paths(inner, [...path, Array.isArray(value) ? Number(key) : key])),
        ];
  const odd = fc.oneof(
    fc.jsonValue(),
    fc.constantFrom<unknown>(
      Number.NaN,
      Infinity,
      -0,
      1e308,
      5e-324,
      2 ** 53,
      '',
      '__proto__',
      'constructor',
      'self',
      'gate',
      [],
      {},
      null,
    ),
  );
  fc.assert(
    fc.property(anyLevel, fc.nat(), odd, (level, place, value) => {
      const document = structuredClone(level) as unknown as Record<string, unknown>;
      const all = paths(document).filter((path) => path.length > 0);
      const path = all[place % all.length]!;
      let here: Record<string | number, unknown> = document;
      for (const key of path.slice(0, -1)) here = here[key] as Record<string | number, unknown>;
      here[path.at(-1)!] = value;
      const parsed = parseLevel(document);
      if (!parsed.ok) {
        expect(parsed.faults.length).toBeGreaterThan(0);
        return;
      }
      const own = parsed.level.walks[0];
      if (own === undefined || own.atMost > 60) return;
      expect(rehearse(parsed.level, own).entries.at(-1)!.kind).toBe('end');
    }),
    { numRuns: Number(process.env['PROPERTY_RUNS'] ?? 300), seed: Number(process.env['PROPERTY_SEED'] ?? 20_261_123) },
  );
}, 120_000);

it('answers nesting beyond measure, endless texts and names of its own parts, at any place, with faults that name it', () => {
  const level = levelOf({
    zones: [zone('Gate', 0, 0)],
    fixtures: [door('Mill door', 0, 0)],
    flags: [flag('Lamp')],
    visitors: [visitor('Alma', 0, 0)],
    chains: [chain('On', [cause('enter', 'gate')], [step('set-flag', { flag: 'lamp', to: true })])],
    walks: [walk({ alma: [goTo(1, 0)] })],
  });
  const monsters = {
    lists: '['.repeat(20_000) + ']'.repeat(20_000),
    objects: '{"x":'.repeat(20_000) + '1' + '}'.repeat(20_000),
    text: JSON.stringify('W'.repeat(200_000)),
    parts: '{"toString":1,"valueOf":1,"constructor":1,"length":1}',
    proto: '{"__proto__":{"x":1}}',
  };
  const places: (string | number)[][] = [];
  const gather = (value: unknown, path: (string | number)[]): void => {
    if (path.length > 0) places.push(path);
    if (value === null || typeof value !== 'object') return;
    for (const [key, inner] of Object.entries(value)) gather(inner, [...path, Array.isArray(value) ? Number(key) : key]);
  };
  gather(level, []);
  expect(places.length).toBeGreaterThan(100);
  for (const [name, monster] of Object.entries(monsters)) {
    for (const path of places) {
      const document = structuredClone(level) as unknown as Record<string | number, unknown>;
      let here = document;
      for (const key of path.slice(0, -1)) here = here[key] as Record<string | number, unknown>;
      here[path.at(-1)!] = '@monster';
      const found = parseLevelText(JSON.stringify(document).replace('"@monster"', () => monster));
      const where = `/${path.join('/')}`;
      if (found.ok) throw new Error(`${name} was taken at ${where}`);
      // A kind that is none makes its whole thing unknown, so the fault may stand a step above.
      expect(found.faults.some(({ path: at }) => at !== '' && (at.startsWith(where) || where.startsWith(at)))).toBe(true);
      expect(found.faults.every((fault) => fault.message.length < 3000)).toBe(true);
    }
  }
}, 120_000);

it('tells the first of very many faults, and how many more there are', () => {
  const odd = Object.fromEntries(Array.from({ length: 20_000 }, (_, i) => [`odd ${i}`, 1]));
  const parsed = parseLevel({ ...levelOf({}), ...odd });
  if (parsed.ok) throw new Error('It was taken');
  expect(parsed.faults).toHaveLength(501);
  expect(parsed.faults.at(-1)!.message).toBe('19500 more errors not shown. Fix these first');
});

describe('A condition', () => {
  const level = levelOf({ flags: [flag('Lamp')], fixtures: [door('Mill door', 0, 0)], zones: [zone('Gate', 0, 0)] });
  const faultsOf = (text: string) => new Conditions(lookup(level), () => false).of(text).faults;

  it.each([
    ['flag("lamp") &&', 15, 'The expression cannot be read from here on'],
    ['flag("lanp")', 5, 'did you mean "lamp"?'],
    ['flag("Lamp")', 5, 'did you mean "lamp"?'],
    ['flag("mill-door")', 5, '"mill-door" is a door; a flag is needed here'],
    ['flga("lamp")', 0, 'did you mean "flag"?'],
    ['open("Mill door") == 1', 5, 'did you mean "mill-door"?'],
    ['flag(hand())', 0, '"flag" needs the id of a flag, written out in quotes'],
    ['count("gate")', 0, 'The condition is of type int, not true or false'],
    ['count("gate") == "one"', 0, 'no such overload'],
  ])('that says %s is told where it is wrong, and how to mend it', (text, from, message) => {
    const [fault] = faultsOf(text);
    expect(fault!.message).toContain(message);
    expect(fault!.from).toBe(from);
  });

  it('is neither run nor trusted when it is no condition at all', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 200 }), (text) => {
        const condition = new Conditions(lookup(level), () => true).of(text);
        expect(typeof condition.verdict().holds).toBe('boolean');
      }),
    );
    expect(faultsOf('('.repeat(5000))).toHaveLength(1);
    expect(faultsOf('constructor.constructor("return 1")()')).not.toEqual([]);
  });
});

it('goes nowhere from a room that is not there, and finds no way through a closed yard', () => {
  const level = levelOf({
    solids: ['n', 's', 'e', 'w'].map((id, i) => ({
      id,
      name: id,
      room: 'yard',
      at: { x: [0, 0, 3, -3][i], y: [3, -3, 0, 0][i], z: 0 },
      size: { x: i < 2 ? 7 : 1, y: i < 2 ? 1 : 7, z: 3 },
    })),
    visitors: [visitor('Alma', 0, 0), visitor('Lost', 0, 0, { room: 'nowhere' })],
    walks: [walk({ alma: [goTo(9, 0)], lost: [goTo(1, 1)] }, { atMost: 20 })],
  });
  const { entries } = rehearse(level, level.walks[0]!);
  expect(told(entries, 'blocked')).toEqual(['23 blocked e by alma']);
  // Without a room there is no ground either: who is lost falls until the time is up.
  expect(said(entries.at(-1))['reason']).toBe('time is up');
});

describe('Documents of an older version', () => {
  const old = (chains: unknown): unknown => ({
    ...(JSON.parse(JSON.stringify(emptyLevel('Yard'))) as object),
    version: 1,
    chains,
  });

  it('are brought forward', () => {
    const parsed = parseLevel(
      old([
        {
          id: 'c',
          name: 'C',
          guard: [
            { flag: 'lamp', is: false },
            { flag: 'open', is: true },
          ],
        },
      ]),
    );
    expect(parsed.ok && parsed.level.chains[0]!.guard).toBe('!flag("lamp") && flag("open")');
  });

  it.each([
    [{ flag: { toString: null }, is: true }],
    [{ flag: ['lamp'], is: true }],
    [{ flag: 'lamp', is: 'no' }],
    [{ flag: 'lamp', is: true, more: 1 }],
    [null],
    ['lamp'],
    [7],
  ])('of a wrong shape end in faults that name the place, whatever stands there: %j', (test) => {
    const parsed = parseLevel(old([{ id: 'c', name: 'C', guard: [test] }]));
    expect(parsed.ok ? '' : parsed.faults[0]!.path).toContain('/chains/0/guard/0');
  });

  it.each([[7], [null], [{ a: 1 }], ['x']])('and so do lists that are none: %j', (chains) => {
    expect(parseLevel(old(chains)).ok).toBe(false);
    expect(parseLevel(old([{ id: 'c', name: 'C', guard: chains }])).ok).toBe(false);
  });
});

describe('Attachments', () => {
  const sign = (id: string, attachedTo: string): object => ({
    ...{ id, name: id, kind: 'sign', room: 'room-1', at: { x: 0, y: 0, z: 0 } },
    attachedTo,
  });
  const faults = (fixtures: object[]): string[] => {
    const parsed = parseLevel({ ...emptyLevel('Yard'), fixtures });
    return parsed.ok ? [] : parsed.faults.map((fault) => fault.path);
  };

  it('that lead back are found, those that lead into a ring are not blamed for it', () => {
    expect(faults([sign('a', 'b'), sign('b', 'c'), sign('c', 'b'), sign('d', 'd'), sign('e', 'a'), sign('f', '')])).toEqual([
      '/fixtures/1/attachedTo',
      '/fixtures/2/attachedTo',
      '/fixtures/3/attachedTo',
    ]);
  });

  it('of a tail of fifty thousand into a ring are passed once each', () => {
    const tail = Array.from({ length: 50_000 }, (_, i) => sign(`s-${i}`, `s-${i + 1}`));
    expect(faults([...tail, sign('s-50000', 's-50000')])).toEqual(['/fixtures/50000/attachedTo']);
  });
});

describe('A reader that remembers', () => {
  const demoText = readFileSync(join(__dirname, '../../../demo/nettlewick.level.json'), 'utf8');
  const demo = (): Level => {
    const parsed = parseLevelText(demoText);
    if (!parsed.ok) throw new Error('the demo has faults');
    return parsed.level;
  };

  it('says of every document what is said without memory, in the same words and the same text', () => {
    const reader = new LevelReader();
    const base = demo();
    const shuffled = { ...base, zones: [...base.zones].reverse(), name: 'Other way round' };
    const sparse = JSON.parse(demoText) as unknown;
    const broken = [
      { ...base, zones: [...base.zones, base.zones[0]] },
      { ...base, zones: [{ ...base.zones[0], at: 7 }, ...base.zones.slice(1)] },
      { ...base, chains: [...base.chains.slice(1), { ...base.chains[0], extra: 1 }] },
      { ...base, flags: 7 },
      { ...base, rate: 0 },
      { ...base, rooms: Array.from({ length: 1001 }, (_, i) => ({ ...base.rooms[0], id: `r-${i}`, name: `R ${i}` })) },
      { ...base, version: 1 },
      null,
    ];
    const texts = [sparse, base, shuffled, ...broken, { ...base, gravity: 3 }, sparse].map((value) => JSON.stringify(value));
    const whole = JSON.stringify(base);
    const odd = [
      JSON.stringify(base, null, 2),
      demoText,
      whole.replace('"zones":[', '"zones":[,'),
      whole.replace('"zones":[', '"zones":[ '),
      whole.replace('"zones":[', '"zones":[{},'),
      whole.replace(/\}$/, ',}'),
      whole.replace(/\}$/, '} x'),
      whole.slice(0, -1),
      whole.replace('"rate":', '"rate":1,"rate":'),
      whole.replace('"rate":', '"r\\u0061te":'),
      whole.replace('"name":"', '"name":"\\"} , [ '),
      whole.replace('{', '['),
      '[]',
      '',
    ];
    // The same fields in another order are as long as before, and are known when they come again.
    const backward = (_key: string, value: unknown): unknown =>
      value === null || typeof value !== 'object' || Array.isArray(value)
        ? value
        : Object.fromEntries(Object.entries(value).reverse());
    const reordered = JSON.stringify(base, backward);
    for (const text of [...texts, ...odd, whole, reordered, reordered, whole, ...odd, JSON.stringify(sparse)]) {
      const [fresh, remembered] = [parseLevelText(text), reader.read(text)];
      expect(remembered.ok).toBe(fresh.ok);
      if (fresh.ok && remembered.ok)
        expect([remembered.text, remembered.name]).toEqual([JSON.stringify(fresh.level), fresh.level.name]);
      if (!fresh.ok && !remembered.ok) expect(remembered.faults).toEqual(fresh.faults);
    }
  });

  it('says the same of random levels whose things are changed, doubled and taken away', () => {
    const reader = new LevelReader(200_000);
    fc.assert(
      fc.property(anyLevel, fc.nat(), fc.constantFrom('none', 'drop', 'twice', 'spoil'), (level, at, how) => {
        const zones = [...level.zones] as unknown[];
        const i = at % zones.length;
        if (how === 'drop') zones.splice(i, 1);
        if (how === 'twice') zones.push(zones[i]);
        if (how === 'spoil') zones[i] = { ...level.zones[i]!, heading: 'north' };
        const text = JSON.stringify({ ...level, zones });
        const fresh = parseLevelText(text);
        for (let time = 0; time < 2; time++) {
          const remembered = reader.read(text);
          expect(remembered.ok ? remembered.text : remembered.faults).toEqual(
            fresh.ok ? JSON.stringify(fresh.level) : fresh.faults,
          );
        }
      }),
      { numRuns: 150 },
    );
  });
});
