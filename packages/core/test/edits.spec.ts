import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import {
  EditError,
  EditableLevel,
  add,
  applied,
  change,
  collections,
  createThing,
  fixtureNames,
  differences,
  editsBetween,
  editSchema,
  emptyLevel,
  fingerprint,
  A_COPY,
  AS_IT_IS,
  copyPlan,
  references,
  fragmentOf,
  freeName,
  groupEdit,
  groupOf,
  invert,
  jsonPatchOf,
  merge,
  nameSchema,
  nameTakenBy,
  parseLevel,
  parseLevelText,
  pasted,
  placePiece,
  rehearse,
  remove,
  same,
  setPieces,
  documentErrors,
  stencils,
  touched,
  valuesAt,
  variantsOf,
} from '../src/index';
import type { Edit, Fragment, Level, Stencil, Thing } from '../src/index';

const parsed = parseLevelText(readFileSync(join(__dirname, '../../../demo/nettlewick.level.json'), 'utf8'));
if (!parsed.ok) throw new Error('The demo has faults');
const demo = parsed.level;

/** Any edit that fits a level. */
const anyEdit = (level: Level): fc.Arbitrary<Edit> => {
  const full = collections.filter((collection) => level[collection].length > 0);
  const picked = fc
    .constantFrom(...full)
    .chain((collection) => fc.constantFrom(...(level[collection] as Thing[])).map((thing) => ({ collection, thing })));
  return fc.oneof(
    picked.map(({ collection, thing }) => remove(level, collection, thing.id)),
    picked.chain(({ collection, thing }) =>
      fc.string({ minLength: 1 }).map((text) => change(collection, thing, { name: text } as Partial<Thing>)),
    ),
    picked.chain(({ collection, thing }) =>
      fc
        .nat({ max: level[collection].length - 1 })
        .map((to): Edit => ({ kind: 'move', collection, id: thing.id, from: (level[collection] as Thing[]).indexOf(thing), to })),
    ),
    fc.nat().map((n) => add(level, 'zones', createThing(level, 'zone', `zone-${n}`, 'mill-yard', { x: n % 7, y: 0, z: 0 }))),
    fc.string().map((text): Edit => ({ kind: 'level', before: { name: level.name }, after: { name: text } })),
  );
};

/** A row of edits, each of which fits what the ones before it have left. */
const anyEdits = fc.array(fc.nat(), { maxLength: 8 }).chain((seeds) => {
  const edits: Edit[] = [];
  let level = demo;
  for (const seed of seeds) {
    const [edit] = fc.sample(anyEdit(level), { numRuns: 1, seed });
    try {
      level = applied(level, edit!);
      edits.push(edit!);
    } catch {
      // Two new zones may have drawn the same id.
    }
  }
  return fc.constant(edits);
});

it('takes every edit back: apply and then apply the inverse', () => {
  fc.assert(
    fc.property(anyEdits, (edits) => {
      const after = edits.reduce(applied, demo);
      const back = edits.map(invert).reverse().reduce(applied, after);
      expect(back).toEqual(demo);
      const all: Edit = { kind: 'all', label: 'all', edits };
      expect(applied(applied(demo, all), invert(all))).toEqual(demo);
    }),
  );
});

it('sends edits as JSON and makes the same of them', () => {
  fc.assert(
    fc.property(anyEdits, (edits) => {
      const sent = editSchema.array().parse(JSON.parse(JSON.stringify(edits)));
      expect(sent.reduce(applied, demo)).toEqual(edits.reduce(applied, demo));
    }),
  );
});

it('draws each fixture solid or passable as designers expect it: what carries or blocks is solid, what is entered is not', () => {
  const at = { x: 0, y: 0, z: 0 };
  const solid = fixtureNames.filter((kind) => {
    const drawn = createThing(demo, kind, 'made', 'mill-yard', at) as Thing & { solid?: boolean };
    return drawn.solid === true;
  });
  expect(solid.toSorted()).toEqual(['barrier', 'door', 'elevator', 'mover']);
});

it('merges one drag into one step, which does what both did', () => {
  const doorstep = demo.zones[0]!;
  const first = change('zones', doorstep, { at: { x: 1, y: 1, z: 0 } });
  const then = change('zones', { ...doorstep, at: { x: 1, y: 1, z: 0 } }, { at: { x: 2, y: 2, z: 0 } });
  const merged = merge(first, then)!;
  expect(applied(demo, merged)).toEqual([first, then].reduce(applied, demo));
  expect(applied(applied(demo, merged), invert(merged))).toEqual(demo);
  const several = (edit: Edit): Edit => ({ kind: 'all', label: 'move', edits: [edit] });
  expect(merge(several(first), several(then))).toEqual(several(merged));
  expect(merge(several(first), { ...several(then), label: 'turn' } as Edit)).toBeNull();
});

it('keeps apart what is not the same fields of the same thing', () => {
  const [doorstep, landing] = demo.zones;
  const moved = change('zones', doorstep!, { heading: 15 });
  expect(merge(moved, change('zones', landing!, { heading: 15 }))).toBeNull();
  expect(merge(moved, change('zones', doorstep!, { enabled: false }))).toBeNull();
  expect(merge(moved, remove(demo, 'zones', 'landing'))).toBeNull();
});

it('refuses an edit whose thing is gone, and leaves the level as it was', () => {
  const edit = change('zones', demo.zones[0]!, { heading: 15 });
  const without = applied(demo, remove(demo, 'zones', 'doorstep'));
  expect(() => applied(without, edit)).toThrow(EditError);
  expect(() => applied(demo, add(demo, 'zones', demo.zones[0]!))).toThrow(/already/);
  expect(touched(edit)).toEqual(['doorstep']);
});

describe('A copy', () => {
  let made = 0;
  const newId = (prefix: string): string => `${prefix}-copy-${(made += 1)}`;
  const by = { x: 1, y: -1 };

  it('has a free name, and ids of its own all the way down', () => {
    const { edit, ids } = pasted(demo, fragmentOf(demo, [demo.chains[0]!.id], false), newId, { by });
    const level = applied(demo, edit);
    expect(level.chains.find(({ id }) => id === ids[0])!.name).toBe('The sack opens the sluice 2');
    expect(parseLevel(level).ok).toBe(true);
    expect(applied(level, invert(edit))).toEqual(demo);
  });

  it('with its wiring: the chains that it sets off come along, and act on what the first ones do', () => {
    const level = applied(demo, pasted(demo, fragmentOf(demo, ['doorstep'], true), newId, { by }).edit);
    const zone = level.zones.at(-1)!;
    const chain = level.chains.at(-1)!;
    expect([zone.name, chain.causes[0]!.of]).toEqual(['Doorstep 2', zone.id]);
    expect(chain.steps).toMatchObject([{ kind: 'open', door: 'mill-door' }]);
  });

  it('of several things names among themselves what the first ones did: a pair of portals leads to each other, and not to the first', () => {
    const empty = emptyLevel('Yard');
    const piece = setPieces.find(({ id }) => id === 'portal-pair')!;
    const where = { room: empty.rooms[0]!.id, at: { x: 0, y: 0 } };
    const { edit, select } = placePiece(empty, piece, where, {}, newId);
    const one = applied(empty, edit);
    const { edit: again } = pasted(one, fragmentOf(one, select, true), newId, { by: { x: 0, y: 4 } });
    const both = applied(one, again);
    const first = new Set([...one.fixtures, ...one.chains].map(({ id }) => id));
    for (const chain of both.chains.slice(one.chains.length)) {
      expect(chain.causes.some(({ of }) => first.has(of))).toBe(false);
      expect(JSON.stringify(chain.steps)).not.toMatch(new RegExp([...first].map((id) => `"${id}"`).join('|')));
    }
    expect(documentErrors(both)).toEqual([]);
  });

  it('of a condition asks for what was copied with it, and goes to another room', () => {
    const { edit } = pasted(demo, fragmentOf(demo, [...demo.fixtures.slice(0, 3).map(({ id }) => id)], true), newId, {
      by,
      room: demo.rooms[1]!.id,
    });
    const after = applied(demo, edit);
    expect(after.fixtures.slice(demo.fixtures.length).every(({ room }) => room === demo.rooms[1]!.id)).toBe(true);
    expect(parseLevel(after).ok).toBe(true);
  });

  it('of anything in the demo, with or without its wiring, leaves a level that is whole', () => {
    const ids = collections.flatMap((collection) => demo[collection].map(({ id }) => id));
    fc.assert(
      fc.property(fc.subarray(ids, { minLength: 1, maxLength: 12 }), fc.boolean(), (some, wiring) => {
        const { edit } = pasted(demo, fragmentOf(demo, some, wiring), newId, { by });
        const after = applied(demo, edit);
        expect(parseLevel(JSON.parse(JSON.stringify(after)))).toMatchObject({ ok: true });
        expect(documentErrors(after)).toEqual(documentErrors(demo));
        expect(applied(after, invert(edit))).toEqual(demo);
      }),
      { numRuns: 60 },
    );
  });
});

describe('What copies point to', () => {
  let made = 0;
  const newId = (prefix: string): string => `${prefix}-pointed-${(made += 1)}`;
  const by = { x: 1, y: -1 };
  const none: ReadonlyMap<string, string> = new Map();
  const put = (into: Level, fragment: Fragment, answers: ReadonlyMap<string, string> = none): Level => {
    return applied(into, pasted(into, copyPlan(into, fragment, answers), newId, { by }).edit);
  };
  const doorstep = fragmentOf(demo, ['doorstep'], true);

  it('is asked of whatever they name outside of themselves, and is the same where nothing else is said', () => {
    expect(copyPlan(demo, doorstep, none).questions).toMatchObject([
      {
        id: 'mill-door',
        word: 'door',
        is: 'named',
        by: ['The mill door opens for people'],
        isHere: true,
        answer: AS_IT_IS,
      },
    ]);
    expect(put(demo, doorstep).chains.at(-1)!.steps).toMatchObject([{ kind: 'open', door: 'mill-door' }]);
  });

  it('is a copy of that, or another of its kind, if that is the answer', () => {
    const both = put(demo, doorstep, new Map([['mill-door', A_COPY]]));
    const door = both.fixtures.at(-1)!;
    expect(door).toMatchObject({ kind: 'door', name: 'Mill door 2' });
    expect(both.chains.at(-1)!.steps).toMatchObject([{ kind: 'open', door: door.id }]);
    const other = demo.fixtures.find(({ id, kind }) => kind === 'door' && id !== 'mill-door')!;
    expect(put(demo, doorstep, new Map([['mill-door', other.id]])).chains.at(-1)!.steps).toMatchObject([{ door: other.id }]);
    expect(copyPlan(demo, doorstep, none).questions[0]!.accepts).toEqual(['door']);
  });

  it('is asked of chains that act on what is copied: copied too if that is all that they act on', () => {
    const door = fragmentOf(demo, ['mill-door'], true);
    const plan = copyPlan(demo, door, none);
    const acting = plan.questions.filter(({ is }) => is === 'acting');
    expect(acting.length).toBeGreaterThan(0);
    for (const { id, answer, by: targets } of acting) {
      const { steps } = demo.chains.find((chain) => chain.id === id)!;
      expect(targets).toContain('Mill door');
      expect(answer === A_COPY).toBe(steps.every((step) => 'door' in step && step.door === 'mill-door'));
    }
    const left = put(demo, door, new Map(acting.map(({ id }) => [id, AS_IT_IS])));
    expect(left.chains).toHaveLength(demo.chains.length + door.things.filter(({ collection }) => collection === 'chains').length);
  });

  it('keeps the order of chains, in which they are tried, also of one that comes along', () => {
    const [first, second] = [demo.chains[0]!, demo.chains[1]!];
    const fragment = fragmentOf(demo, [second.id], true);
    const acting = { ...fragment, beside: [...fragment.beside, ...fragmentOf(demo, [first.id], false).things] };
    const { delay, start } = first.steps[0]!;
    const step = { id: 'switches', delay, start, kind: 'enable' as const, thing: second.id, tagged: '', insideEnter: false };
    expect(acting.beside.at(-1)!.place).toBeLessThan(fragment.things[0]!.place);
    acting.beside[acting.beside.length - 1]!.thing = { ...first, steps: [step] };
    const plan = copyPlan(demo, acting, none);
    expect(plan.questions.find(({ id }) => id === first.id)).toMatchObject({ is: 'acting', answer: A_COPY });
    expect(plan.things.filter(({ collection }) => collection === 'chains').map(({ thing }) => thing.id)).toEqual([
      first.id,
      second.id,
    ]);
  });

  it('of a tail of fifty thousand that hang on each other is found out', () => {
    const [door] = demo.fixtures;
    const fixtures = Array.from({ length: 50_000 }, (_, i) => ({
      ...door!,
      id: `link-${i}`,
      name: `Link ${i}`,
      attachedTo: i === 0 ? '' : `link-${i - 1}`,
    }));
    const chained = { ...emptyLevel('Tail'), fixtures } as Level;
    const fragment = fragmentOf(chained, ['link-49999'], true);
    expect(fragment.beside).toHaveLength(49_999);
    // Elsewhere, where nothing of it is, all of it comes along.
    expect(copyPlan(emptyLevel('Elsewhere'), fragment, none).things).toHaveLength(50_000);
  });

  it('comes along into a level that lacks it, down to the last, and is a namesake where the level has one', () => {
    const empty = emptyLevel('Yard');
    const after = put(empty, doorstep);
    expect(after.fixtures.map(({ name }) => name)).toEqual(['Mill door']);
    expect(after.chains[0]!.steps).toMatchObject([{ door: after.fixtures[0]!.id }]);
    const again = put(after, doorstep);
    expect(again.fixtures).toEqual(after.fixtures);
    expect(again.chains.map(({ steps }) => steps[0])).toMatchObject(
      after.chains.flatMap(() => [{ door: after.fixtures[0]!.id }, { door: after.fixtures[0]!.id }]),
    );
  });

  it('leaves levels whole and without a new snag, whatever is answered, and nothing of the level itself changes', () => {
    const ids = collections.flatMap((collection) => demo[collection].map(({ id }) => id));
    const answered = fc.constantFrom(A_COPY, AS_IT_IS);
    fc.assert(
      fc.property(fc.subarray(ids, { minLength: 1, maxLength: 8 }), fc.array(answered, { minLength: 1 }), (some, given) => {
        const fragment = JSON.parse(JSON.stringify(fragmentOf(demo, some, true))) as Fragment;
        const answers = new Map(fragment.beside.map(({ thing }, i) => [thing.id, given[i % given.length]!]));
        const after = put(demo, fragment, answers);
        expect(parseLevel(JSON.parse(JSON.stringify(after)))).toMatchObject({ ok: true });
        expect(documentErrors(after)).toEqual(documentErrors(demo));
        for (const collection of collections)
          expect(after[collection].slice(0, demo[collection].length)).toEqual(demo[collection]);
        // Whatever is named by a copy and was to be copied is named no more.
        const copiedToo = new Set(copyPlan(demo, fragment, answers).things.map(({ thing }) => thing.id));
        const fresh = new Set(
          collections.flatMap((collection) => after[collection].slice(demo[collection].length).map(({ id }) => id)),
        );
        for (const { from, to, role } of references(after))
          if (fresh.has(from) && role !== 'room') expect(copiedToo.has(to)).toBe(false);
      }),
      { numRuns: 60 },
    );
  });
});

describe('What can be drawn', () => {
  const at = { x: 1, y: 2, z: 0 };
  const ways = Object.keys(stencils).flatMap((stencil) =>
    [undefined, ...variantsOf(stencil as Stencil).map(({ id }) => id)].map((way) => [stencil as Stencil, way] as const),
  );

  it.each(ways)('%s (%s) keeps the level whole, and stands where it was drawn', (stencil, way) => {
    const thing = createThing(demo, stencil, 'made', 'mill-yard', at, { x: 1.5, y: 2 }, way);
    expect(parseLevel(applied(demo, add(demo, stencils[stencil].collection, thing)))).toMatchObject({ ok: true });
    if ('shape' in thing && way === 'ball') expect(thing).toMatchObject({ at: { x: 1, y: 2, z: 0.75 }, shape: { radius: 0.75 } });
    else if ('at' in thing) expect(thing.at).toEqual(at);
  });

  it('is drawn as usual in the first of its ways, and otherwise in every other', () => {
    for (const stencil of Object.keys(stencils) as Stencil[]) {
      const drawn = (way?: string): string => JSON.stringify(createThing(demo, stencil, 'made', 'mill-yard', at, undefined, way));
      const [first, ...others] = variantsOf(stencil).map(({ id }) => drawn(id));
      if (first !== undefined) expect(first).toBe(drawn());
      expect(new Set([drawn(), ...others]).size).toBe(1 + others.length);
    }
  });

  it.each(variantsOf('door').map(({ id }) => id))('a door that is drawn to %s gives way to who waits behind it', (way) => {
    const door = createThing(demo, 'door', 'way-in', 'mill-yard', { x: 0, y: 0, z: 0 }, { x: 0.2, y: 3 }, way);
    const parsed = parseLevel({
      format: demo.format,
      version: demo.version,
      name: 'Way in',
      rooms: [{ id: 'mill-yard', name: 'Yard', extents: { west: -9, east: 9, south: -9, north: 9 } }],
      fixtures: [door],
      visitors: [{ ...demo.visitors[0]!, room: 'mill-yard', at: { x: 3, y: 0, z: 0 } }],
      chains: [
        {
          id: 'c',
          name: 'C',
          causes: [{ id: 'b', on: 'bump', of: 'way-in' }],
          steps: [{ id: 's', kind: 'open', door: 'way-in' }],
        },
      ],
      walks: [
        {
          id: 'w',
          name: 'W',
          routes: [{ visitor: demo.visitors[0]!.id, instructions: [{ id: 'g', do: 'go-to', to: { x: -3, y: 0, z: 0 } }] }],
        },
      ],
    });
    if (!parsed.ok) throw new Error(JSON.stringify(parsed.faults));
    const { entries, tracks } = rehearse(parsed.level, parsed.level.walks[0]!);
    expect(entries.map(({ kind }) => kind)).toEqual(expect.arrayContaining(['bump', 'opened']));
    expect(valuesAt(tracks.visitors.get(demo.visitors[0]!.id)!, Infinity)[0]).toBeCloseTo(-3);
  });
});

it('finds free names, without regard to case', () => {
  expect(freeName(demo, 'Weir')).toBe('Weir');
  expect(freeName(demo, 'miller')).toBe('miller 2');
  // However long what is wanted is, a name comes of it, also twice.
  fc.assert(
    fc.property(fc.string({ unit: 'grapheme', minLength: 1, maxLength: 120 }), (wanted) => {
      const first = freeName(demo, `Mill ${wanted}`);
      expect(nameSchema.safeParse(first).success).toBe(true);
      const flag = { ...demo.flags[0]!, id: 'taken', name: first };
      const second = freeName({ ...demo, flags: [...demo.flags, flag] }, `Mill ${wanted}`);
      expect(nameSchema.safeParse(second).success).toBe(true);
      expect(second.trim().toLowerCase()).not.toBe(first.trim().toLowerCase());
    }),
  );
  expect(nameTakenBy(demo, ' GOOSE ', 'miller')).toBe('Goose');
  expect(nameTakenBy(demo, ' GOOSE ', 'goose')).toBeNull();
});

it('tells in what two levels differ', () => {
  const theirs = [change('zones', demo.zones[0]!, { heading: 15 }), remove(demo, 'visitors', 'goose')].reduce(applied, demo);
  expect(differences(demo, demo)).toEqual([]);
  expect(differences(demo, theirs).map(({ id, fields, second }) => [id, fields, second === null])).toEqual([
    ['doorstep', ['heading'], false],
    ['goose', [], true],
  ]);
  expect(differences(theirs, demo).at(-1)).toMatchObject({ id: 'goose', first: null });
});

it('finds the edits that make one level of another, whatever lies between them', () => {
  fc.assert(
    fc.property(anyEdits, (edits) => {
      const after = edits.reduce(applied, demo);
      const between = editsBetween(demo, after);
      expect(between.reduce(applied, demo)).toEqual(after);
      expect(between.map(invert).reverse().reduce(applied, after)).toEqual(demo);
    }),
  );
});

it('puts two removed walls back where each was', () => {
  const after = [remove(demo, 'solids', 'quay-west'), remove(demo, 'solids', 'mill-north')].reduce(applied, demo);
  expect(editsBetween(demo, after).map(invert).reverse().reduce(applied, after)).toEqual(demo);
});

it('makes our edits upon what somebody else has changed, and keeps theirs', () => {
  const ours = [change('zones', demo.zones[0]!, { heading: 15 }), remove(demo, 'visitors', 'goose')].reduce(applied, demo);
  const theirs = [change('zones', demo.zones[0]!, { enabled: false }), change('zones', demo.zones[1]!, { heading: 30 })].reduce(
    applied,
    demo,
  );
  const both = editsBetween(demo, ours).reduce(applied, theirs);
  expect(both.zones.slice(0, 2).map(({ heading, enabled }) => [heading, enabled])).toEqual([
    [15, false],
    [30, true],
  ]);
  expect(both.visitors.map((one) => one.id)).not.toContain('goose');
});

it('has one fingerprint for the same data in any order of fields, and others for other data', () => {
  fc.assert(
    fc.property(fc.jsonValue(), fc.jsonValue(), (a, b) => {
      const turned = JSON.parse(JSON.stringify(a), (_key, value: unknown) =>
        value !== null && typeof value === 'object' && !Array.isArray(value)
          ? Object.fromEntries(Object.entries(value).reverse())
          : value,
      ) as unknown;
      expect(fingerprint(turned)).toBe(fingerprint(a));
      expect(fingerprint(JSON.parse(JSON.stringify(a))) === fingerprint(JSON.parse(JSON.stringify(b)))).toBe(
        same(JSON.parse(JSON.stringify(a)), JSON.parse(JSON.stringify(b))),
      );
    }),
  );
});

describe('A field that a document leaves out', () => {
  const [first, second] = demo.zones;
  const ids = [first!.id, second!.id];
  const sent = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;

  it('is left out again when the edit is undone, also after a round trip through JSON', () => {
    const edit = groupEdit(demo, ids, 'Doors')!;
    const grouped = applied(demo, sent(edit));
    expect(groupOf(grouped, first!.id)).toEqual(ids);
    const back = applied(grouped, sent(invert(edit)));
    expect(JSON.stringify(back)).toBe(JSON.stringify(demo));
    // The server validates the same edits and gets the same level.
    const held = new EditableLevel(demo);
    expect(held.edit([sent(edit)])).toMatchObject({ ok: true });
    expect(held.edit([sent(invert(edit))])).toMatchObject({ ok: true });
    expect(JSON.stringify(held.level)).toBe(JSON.stringify(demo));
    expect(jsonPatchOf(grouped, sent(invert(edit)))).toEqual([
      { op: 'remove', path: '/zones/1/group' },
      { op: 'remove', path: '/zones/0/group' },
    ]);
  });

  it('cannot be a required one', () => {
    const held = new EditableLevel(demo);
    const { name, at } = demo.fixtures[0]!;
    for (const before of [{ name }, { at }])
      expect(held.edit([{ kind: 'change', collection: 'fixtures', id: demo.fixtures[0]!.id, before, after: {} }])).toMatchObject({
        ok: false,
      });
    expect(held.edit([{ kind: 'level', before: { rate: demo.rate }, after: {} }])).toMatchObject({ ok: false });
    expect(held.level).toBe(demo);
  });
});
