import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import Ajv from 'ajv/dist/2020';
import fc from 'fast-check';
import * as z from 'zod';
import { migrate } from '../src/document/migrations';
import { brokenReferences, emptyLevel, levelJsonSchema, parseLevel, parseLevelText, rehearse } from '../src/index';
import type { Fault } from '../src/index';
import { cause, chain, levelOf, step, visitor, walk, zone } from './build';

const root = join(__dirname, '../../..');
const demo = (): Record<string, unknown> =>
  JSON.parse(readFileSync(join(root, 'demo/nettlewick.level.json'), 'utf8')) as Record<string, unknown>;
const faults = (value: unknown): Fault[] => {
  const parsed = parseLevel(value);
  return parsed.ok ? [] : parsed.faults;
};
const with_ = (path: readonly (string | number)[], value: unknown): Record<string, unknown> => {
  const document = demo();
  let here = document as Record<string | number, unknown>;
  for (const key of path.slice(0, -1)) here = here[key] as Record<string | number, unknown>;
  here[path.at(-1)!] = value;
  return document;
};

it('reads the demo, and reads again what it has read', () => {
  const parsed = parseLevel(demo());
  expect(parsed.ok).toBe(true);
  if (parsed.ok) expect(parseLevel(JSON.parse(JSON.stringify(parsed.level)))).toEqual(parsed);
});

it('keeps its JSON Schema in docs current', () => {
  expect(JSON.parse(readFileSync(join(root, 'docs/level.schema.json'), 'utf8'))).toEqual(
    JSON.parse(JSON.stringify(levelJsonSchema())),
  );
});

it('has a JSON Schema that takes whatever the program takes, and refuses nothing that it takes', () => {
  const takes = new Ajv({ strict: false }).compile(levelJsonSchema());
  expect(takes(demo())).toBe(true);
  expect(takes(with_(['zones', 0, 'enabeld'], true))).toBe(false);
  fc.assert(
    fc.property(
      fc.jsonValue(),
      fc.constantFrom(
        ['rate'],
        ['zones', 0, 'at', 'x'],
        ['fixtures', 1, 'returnAfter'],
        ['chains', 0, 'steps', 0, 'delay'],
        ['visitors', 0, 'tags'],
        ['walks'],
      ),
      (value, path) => {
        const document = with_(path, value);
        // Only what holds across the whole level is beyond a schema, and none of these touch it.
        expect(takes(document)).toBe(faults(document).length === 0);
      },
    ),
    { numRuns: 500 },
  );
});

describe('names the place and the remedy', () => {
  it('of an unknown field, with the field that was probably meant', () => {
    expect(faults(with_(['zones', 0, 'enabeld'], true))).toEqual([
      { path: '/zones/0/enabeld', message: 'Unknown field "enabeld" (did you mean "enabled"?). Remove it or correct its name' },
    ]);
  });

  it('of a document of a newer version', () => {
    expect(faults({ ...demo(), version: 5 })).toEqual([
      {
        path: '/version',
        message: 'This document is of version 5, and this program reads versions up to 4. Open it with a newer Nettlewick',
      },
    ]);
  });

  it.each([
    ['a foreign document', { tiles: [] }, '/format', 'not a level document'],
    ['a list', [], '', 'JSON object'],
    ['a version that is none', { ...demo(), version: '1' }, '/version', 'whole number'],
    ['a missing field', { ...demo(), name: undefined }, '/name', 'missing'],
    ['a wrong kind of fixture', with_(['fixtures', 0, 'kind'], 'plat'), '/fixtures/0/kind', 'did you mean "plate"'],
    ['a wrong kind of step', with_(['chains', 0, 'steps', 0, 'kind'], 'opn'), '/chains/0/steps/0/kind', 'did you mean "open"'],
    ['a wrong event', with_(['chains', 0, 'causes', 0, 'on'], 'pressed'), '/chains/0/causes/0/on', 'did you mean "press"'],
    ['text for a number', with_(['zones', 0, 'at', 'x'], '6'), '/zones/0/at/x', '"6" is not a number'],
    ['not a number at all', with_(['zones', 0, 'at', 'x'], NaN), '/zones/0/at/x', 'NaN'],
    ['a size of nothing', with_(['zones', 0, 'shape', 'size', 'x'], 0), '/zones/0/shape/size/x', 'below the minimum'],
    ['a huge number', with_(['zones', 0, 'at', 'x'], 1e300), '/zones/0/at/x', 'more than the most allowed'],
    ['a room inside out', with_(['rooms', 0, 'extents', 'west'], 20), '/rooms/0/extents/west', 'west edge'],
    ['an id with spaces', with_(['zones', 0, 'id'], 'a b'), '/zones/0/id', 'small letters'],
    ['a name of spaces', with_(['zones', 0, 'name'], '  '), '/zones/0/name', 'visible character'],
  ])('of %s', (_what, document, path, message) => {
    const found = faults(document).find((fault) => fault.path === path);
    expect(found?.message).toContain(message);
  });

  it('of text that is not JSON', () => {
    const parsed = parseLevelText('{"format": ');
    expect(parsed.ok ? '' : parsed.faults[0]!.message).toContain('not JSON');
  });

  it('of a second route for a visitor in one walk', () => {
    const routes = [
      { visitor: 'miller', instructions: [] },
      { visitor: 'miller', instructions: [] },
    ];
    expect(faults(with_(['walks', 0, 'routes'], routes))[0]!.path).toBe('/walks/0/routes/1/visitor');
  });
});

describe('Ids and names are used once in the whole level', () => {
  it('compares names without case and outer spaces', () => {
    expect(faults(with_(['zones', 0, 'name'], ' MILLER '))).toEqual([
      {
        path: '/visitors/0/name',
        message:
          'The name "Miller" is used at /zones/0 already (names are compared without case and outer spaces). Choose another',
      },
    ]);
  });

  it('compares ids across all lists, those of causes, steps and instructions too', () => {
    expect(faults(with_(['chains', 0, 'steps', 0, 'id'], 'miller'))[0]).toMatchObject({ path: '/chains/0/steps/0/id' });
    expect(faults(with_(['walks', 0, 'routes', 0, 'instructions', 0, 'id'], 'goose'))[0]).toMatchObject({
      path: '/walks/0/routes/0/instructions/0/id',
    });
  });

  it('takes names of any script', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', minLength: 1, maxLength: 20 }), (text) => {
        const found = faults(with_(['zones', 0, 'name'], text));
        const fine = text.trim() !== '' && !/[\u0000-\u001f\u007f]/.test(text) && text.length <= 80;
        expect(found.some((fault) => fault.path === '/zones/0/name')).toBe(!fine);
      }),
    );
  });
});

it('answers anything at all with faults, and never throws', () => {
  fc.assert(
    fc.property(
      fc.anything(),
      fc.constantFrom('name', 'rooms', 'zones', 'fixtures', 'chains', 'walks', 'rate'),
      (value, field) => {
        const parsed = parseLevel({ ...demo(), [field]: value });
        if (!parsed.ok) for (const fault of parsed.faults) expect(fault.path.startsWith('/')).toBe(true);
      },
    ),
    { numRuns: 500 },
  );
});

it('takes a name such as "constructor" for an id without stumbling', () => {
  const level = levelOf({
    zones: [zone('constructor', 0, 0)],
    visitors: [visitor('Miller', 0, 0)],
    chains: [chain('valueOf', [cause('enter', 'constructor')], [step('open', { door: 'tostring' })])],
    walks: [walk({})],
  });
  expect(brokenReferences(level).map((snag) => snag.path)).toEqual(['/chains/0/steps/0/door']);
});

it('begins with an empty level that is valid', () => {
  expect(faults(emptyLevel('New'))).toEqual([]);
});

it('brings an older document forward, one dated migration after the other', () => {
  const steps = [
    {
      from: 1,
      on: '2026-01-01',
      why: 'a story for this test',
      before: z.looseObject({}),
      apply: (document: Record<string, unknown>) => ({ ...document, a: 1 }),
    },
    {
      from: 2,
      on: '2026-01-02',
      why: 'and another',
      before: z.looseObject({ a: z.number() }),
      apply: (document: Record<string, unknown>) => ({ ...document, b: document['a'] }),
    },
  ];
  expect(migrate({ version: 1 }, steps)).toEqual({ ok: true, document: { version: 3, a: 1, b: 1 } });
  expect(migrate({ version: 2 }, steps)).toMatchObject({ ok: false, document: { version: 2 } });
});

describe('Broken references', () => {
  it('says what points where, and what was probably meant', () => {
    const parsed = parseLevel(with_(['chains', 0, 'causes', 0, 'of'], 'sack-plat'));
    expect(parsed.ok && brokenReferences(parsed.level)).toEqual([
      {
        kind: 'broken-reference',
        path: '/chains/0/causes/0/of',
        thing: 'open-sluice',
        reason: 'The chain “The sack opens the sluice”: cause 1 refers to “sack-plat”, which does not exist.',
        mend: 'Choose a plate. Did you mean “Sack plate” (sack-plate)?',
      },
    ]);
  });

  it('says when something of another kind stands there', () => {
    const parsed = parseLevel(with_(['chains', 0, 'steps', 0, 'door'], 'gate-board'));
    expect(parsed.ok && brokenReferences(parsed.level)[0]!.reason).toBe(
      'The chain “The sack opens the sluice”: step 1 refers to the sign “Gate board”; expected a door.',
    );
  });

  it('finds none in the demo', () => {
    const parsed = parseLevel(demo());
    expect(parsed.ok && brokenReferences(parsed.level)).toEqual([]);
  });
});

it('keeps a chain that is only half wired, and says what is not chosen yet', () => {
  const level = levelOf({ chains: [chain('Half', [cause('enter', '')], [step('open', { door: '' })])] });
  expect(brokenReferences(level).map((snag) => snag.reason)).toEqual([
    'The chain “Half”: cause 1 is not set.',
    'The chain “Half”: step 1 is not set.',
  ]);
});

it('shows in docs a document that is valid and does what it says', () => {
  const [, text] = /```json\n([\s\S]*?)```/.exec(readFileSync(join(root, 'docs/document.md'), 'utf8'))!;
  const parsed = parseLevelText(text!);
  expect(parsed.ok && brokenReferences(parsed.level)).toEqual([]);
  if (parsed.ok) expect(rehearse(parsed.level, parsed.level.walks[0]!).entries.map((entry) => entry.kind)).toContain('opened');
});
