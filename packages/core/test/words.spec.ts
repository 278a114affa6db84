import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import {
  areAlike,
  add,
  causeEvents,
  causeOffers,
  chainOffers,
  clauseKindsOf,
  clauseParts,
  clauseWith,
  clausesOf,
  clausesText,
  emptyClause,
  isClauseWhole,
  TRIGGERING,
  Conditions,
  conditionWords,
  idsByTag,
  idsFor,
  lookup,
  mannerPhrase,
  membersOf,
  namesFor,
  readByNames,
  offersOf,
  paragraphs,
  stepOffers,
  thingSetSubject,
  visitorKinds,
  withValue,
  change,
  editPhrase,
  remove,
  causePhrase,
  chainSentence,
  collections,
  connections,
  createThing,
  describe as say,
  entrySentence,
  eventsOf,
  fixtureNames,
  sourcesFor,
  keysOf,
  valueAt,
  instructionPhrase,
  kindOfStep,
  nameOf,
  parseLevel,
  parseLevelText,
  parseThing,
  rehearse,
  spoken,
  stepNames,
  stepPhrase,
  timeline,
} from '../src/index';
import type { Clause, ClauseKind, Edit, Offer, Phrase } from '../src/index';
import { actedOn, actsOn } from '../src/document/targets';
import { anyLevel } from './any-level';
import { cause, chain, door, levelOf, run, sign, step, visitor, zone } from './build';

const parsed = parseLevelText(readFileSync(join(__dirname, '../../../demo/nettlewick.level.json'), 'utf8'));
if (!parsed.ok) throw new Error('The demo has faults');
const demo = parsed.level;
const named = (id: string): string => nameOf(demo, id);
const read = (phrase: Phrase): string => spoken(phrase, named).replaceAll('\u00a0', ' ');

it('says what a door does the way a designer would', () => {
  const [gate, mill] = demo.fixtures.filter((fixture) => fixture.kind === 'door');
  expect(say('fixtures', gate!).map(read)).toContain('When it opens it sinks 2.4 m in 1.5 s.');
  expect(say('fixtures', mill!).map(read)).toContain('When it opens it slides north 1.4 m at 1.2 m/s, waits 3 s, then returns.');
  expect(read(say('fixtures', { ...gate!, open: true, travel: { x: 1, y: 2, z: 0 } } as typeof gate & object)[1]!)).toContain(
    'When it closes it slides diagonally by 1 m east, 2 m north and 0 m up,',
  );
});

it('says a chain in one sentence', () => {
  expect(chainSentence(demo.chains[0]!, named)).toBe(
    'When Sack plate is pressed: open Sluice gate, write “Sluice sinking, stand clear” on Gate board, set Sluice is open on, write “Sluice open” on Gate board.',
  );
  expect(chainSentence(demo.chains[3]!, named)).toContain(
    'When anyone tagged miller enters Race landing (1× at most), if Sluice is open is on:',
  );
  expect(read(causePhrase(demo.chains[2]!.causes[0]!))).toBe('When player enters Doorstep');
});

it('has a sentence for every event, every kind of step and every instruction, whose values stand where they say', () => {
  const check = (phrase: Phrase, thing: unknown): void => {
    for (const part of phrase) {
      if (typeof part === 'string') continue;
      const value = valueAt(thing, part.path);
      expect(value).toEqual(part.value);
    }
  };
  const asked = new Set(['anyOf', 'allOf', 'noneOf', 'named'].map((field) => `/filter/${field}`));
  for (const on of causeEvents) {
    const one = levelOf({ chains: [chain('C', [cause(on, 'x')])] }).chains[0]!.causes[0]!;
    check(causePhrase(one, asked), one);
  }
  for (const name of stepNames) {
    const one = kindOfStep(name).create('s', 'target');
    check(stepPhrase(one), one);
  }
  for (const collection of collections)
    for (const thing of demo[collection]) say(collection, thing).forEach((phrase) => check(phrase, thing));
  for (const one of demo.walks[0]!.routes[0]!.instructions) check(instructionPhrase(one), one);
});

it('offers more to say of a thing, a chain, a cause or a step: what is taken is allowed, is said, and is not offered again', () => {
  const paths = (phrases: Phrase[]): string[] => phrases.flat().flatMap((part) => (typeof part === 'string' ? [] : part.path));
  const take = <T>(one: T, { sets }: Offer): T =>
    sets.reduce((now, { path, value }) => withValue(now as never, path, value) as T, one);
  let taken = 0;
  for (const collection of collections) {
    for (const thing of demo[collection]) {
      for (const offer of offersOf(collection, thing)) {
        taken++;
        const changed = take(thing, offer);
        expect(parseThing(collection, changed)).toMatchObject({ ok: true });
        const asked = new Set(offer.next === undefined ? [] : [offer.next]);
        const said = paths(paragraphs(collection, changed, asked).flatMap(({ phrases }) => phrases));
        if (offer.next !== undefined) expect(said).toContain(offer.next);
      }
    }
  }
  for (const name of stepNames) {
    const one = kindOfStep(name).create('s', 'target');
    for (const offer of stepOffers(one, false)) {
      taken++;
      const changed = take(one, offer);
      expect(stepOffers(changed, false).map(({ label }) => label)).not.toContain(offer.label);
      if (offer.next !== undefined) expect(paths([stepPhrase(changed)])).toContain(offer.next);
    }
  }
  const shut = levelOf({ chains: [chain('C', [cause('enter', 'x'), cause('signal', 'x')])] }).chains[0]!;
  for (const one of shut.causes) {
    for (const offer of causeOffers(one)) {
      taken++;
      const changed = take(one, offer);
      expect(read(causePhrase(changed, new Set([offer.next ?? '']))).length).toBeGreaterThan(read(causePhrase(one)).length);
    }
  }
  for (const offer of chainOffers(shut)) expect(mannerPhrase(take(shut, offer))).not.toEqual([]);
  expect(taken).toBeGreaterThan(100);
});

describe('A condition', () => {
  const known = lookup(demo);
  it('reads as words, and is typed by names', () => {
    expect(conditionWords('flag("sluice-open") && count("doorstep") > 0', named)).toBe(
      'Sluice is open is on and Doorstep is occupied',
    );
    expect(namesFor('flag("sluice-open") || 1 > 2', named)).toBe('flag("Sluice is open") || 1 > 2');
    // What was read has values beside the names: a value is no name, whatever it says.
    expect(
      readByNames('flag("sluice-open") = true; text("gate-board") = "doorstep"; text("gate-board") = "f(\\"x\\") = 1"', named),
    ).toBe('flag(“Sluice is open”) = true; text(“Gate board”) = "doorstep"; text(“Gate board”) = "f(\\"x\\") = 1"');
    expect(idsFor('!flag("SLUICE is open ")', known)).toEqual({ text: '!flag("sluice-open")', unknown: [] });
    expect(idsFor('flag("Sluice is opn")', known).unknown).toEqual([{ name: 'Sluice is opn', meant: 'Sluice is open' }]);
  });

  it('of clauses comes back as the clauses it was made of, and is understood by the language', () => {
    const tags = [...idsByTag(known).keys()];
    const sets = (['all', 'any'] as const).flatMap((match) => [
      ...tags.map((tag) => ({ match, tag })),
      ...visitorKinds.map((kind) => ({ match, kind })),
    ]);
    const subjects = [
      ...[...known].map(([id, { word }]) => [id, word] as const),
      [TRIGGERING, TRIGGERING] as const,
      ...sets.map((set) => [thingSetSubject(set), membersOf(set, known).map((id) => known.get(id)!.word)] as const),
    ];
    const askable = subjects.flatMap(([of, word]) => clauseKindsOf(word).map((asks) => ({ of, asks })));
    expect(new Set(askable.map(({ asks }) => asks)).size).toBeGreaterThan(55);
    expect(tags.length).toBeGreaterThan(0);
    const other = (asks: ClauseKind): string[] => {
      const words = clauseWith(asks);
      if (words.length === 0) return [''];
      const ids = [...known].flatMap(([id, { word }]) => (words.includes(word) ? [id] : []));
      return words.includes('player') ? [TRIGGERING, ...ids] : ids;
    };
    const value = fc.constantFrom(...askable).chain(({ of, asks }) => {
      const has = new Set(clauseParts(asks).flatMap((part) => (typeof part === 'string' ? [] : [part.slot])));
      return fc.record<Clause>({
        of: fc.constant(of),
        asks: fc.constant(asks),
        number: !has.has('number')
          ? fc.constant(1)
          : fc.integer({ min: -99, max: 999 }).map((n) => (isClauseWhole(asks) ? n : n / 10)),
        with: fc.constantFrom(...other(asks)),
        text: has.has('text') ? fc.string({ maxLength: 6 }) : has.has('tag') ? fc.constantFrom(...tags) : fc.constant(''),
      });
    });
    fc.assert(
      fc.property(
        fc.array(value, { minLength: 1, maxLength: 4 }),
        fc.constantFrom('and' as const, 'or' as const),
        (clauses, join) => {
          const text = clausesText({ join, clauses });
          expect(new Conditions(known, () => false).of(text).faults).toEqual([]);
          // "At least 1 inside" is "occupied", and the like: the same text, however it was chosen.
          const read = clausesOf(text);
          expect(read).toEqual({ join: clauses.length === 1 ? 'and' : join, clauses });
          expect(clausesText(read!)).toBe(text);
          expect(idsFor(namesFor(text, named), known)).toEqual({ text, unknown: [] });
          // Ids are found without a syntax tree where that is enough: it makes no difference.
          expect(namesFor(`(${text}) && "" == ""`, named)).toBe(`(${namesFor(text, named)}) && "" == ""`);
        },
      ),
      { numRuns: 1000 },
    );
  });

  it('is asked of the triggering visitor wherever a visitor is named', () => {
    const faults = (text: string): string[] => new Conditions(known, () => false).of(text).faults.map(({ message }) => message);
    expect(clausesText({ join: 'and', clauses: [{ ...emptyClause(TRIGGERING, 'inside'), with: 'doorstep' }] })).toBe(
      'inside(hand(), "doorstep")',
    );
    expect(conditionWords('!inside(hand(), "doorstep") && room( hand() ) == "mill-yard"', named)).toBe(
      'the triggering visitor is not inside Doorstep and the triggering visitor is in room Mill yard',
    );
    expect(faults('inside(hand(), "doorstep")')).toEqual([]);
    expect(faults('inside("doorstep", hand())')[0]).toContain(
      '"inside" needs the id of a player or a creature or a prop (or hand())',
    );
    expect(faults('open(hand())')).toEqual(['"open" needs the id of a door, written out in quotes']);
  });

  it('is asked of all or any of several things, and of who is inside', () => {
    expect(conditionWords('tagged("floor plate").all(p, pressed(p))', named)).toBe('everything tagged “floor plate” is pressed');
    expect(
      conditionWords('players().exists(p, inside(p, "doorstep")) && !visitors("doorstep").exists(v, hasTag(v, "bird"))', named),
    ).toBe('a player is inside Doorstep and Doorstep has no visitor tagged “bird” inside');
    expect(clausesOf('visitors("doorstep").filter(v, kind(v) == "player").size() >= 2')?.clauses).toEqual([
      { ...emptyClause('doorstep', 'players-least'), number: 2 },
    ]);
    // The name of an element is free, but has to be the same one.
    expect(clausesOf('visitors("doorstep").filter(v, kind(w) == "player").size() >= 2')).toBeNull();
    expect(clausesOf('tagged("x").all(p, pressed("sack-plate"))')).toBeNull();
  });

  it('has names for the ids of a list, and leaves tags as they are', () => {
    expect(namesFor('["doorstep", "landing"].all(z, count(z) == 0) && hand() in visitors("landing")', named)).toBe(
      '["Doorstep", "Race landing"].all(z, count(z) == 0) && hand() in visitors("Race landing")',
    );
    expect(namesFor('tagged("doorstep").all(t, owner(t) != "goose") && room(hand()) in ["mill-yard"]', named)).toBe(
      'tagged("doorstep").all(t, owner(t) != "Goose") && room(hand()) in ["Mill yard"]',
    );
    // Texts of a list that nothing is asked about are no ids.
    expect(namesFor('["doorstep"].exists(t, text("gate-board") == t)', named)).toBe(
      '["doorstep"].exists(t, text("Gate board") == t)',
    );
    expect(readByNames('visitors("landing") = ["miller","goose"]; hasTag("goose", "bird") = true', named)).toBe(
      'visitors(“Race landing”) = [“Miller”,“Goose”]; hasTag(“Goose”, "bird") = true',
    );
  });

  it('names what stands in a list in the wrong place before anything runs', () => {
    const things = new Map([
      ['left', { word: 'plate' as const, thing: { name: 'Left seal', tags: ['seal'] } }],
      ['gate', { word: 'door' as const, thing: { name: 'Gate', tags: ['seal', 'shut'] } }],
    ]);
    const faults = (text: string): string[] => new Conditions(things, () => []).of(text).faults.map(({ message }) => message);
    expect(faults('tagged("seal").all(p, pressed(p))')).toEqual(['"pressed" needs a plate; "Gate", tagged "seal", is a door']);
    expect(faults('tagged("shut").filter(d, open(d)).exists(d, closed(d))')).toEqual([]);
    expect(faults('tagged("seel").all(p, shown(p))')).toEqual(['Nothing in the level has the tag "seel" (did you mean "seal"?)']);
    expect(faults('["left", "gate"].all(p, pressed(p))')).toEqual(['"gate" is a door; a plate is needed here']);
    expect(faults('players().all(p, open(p))')).toEqual(['"open" needs the id of a door, written out in quotes']);
    expect(faults('tagged("seal").all(p, players().all(p, shown(p)))')).toHaveLength(1);
    expect(faults('tagged("seal", "shut").all(p, shown(p))')).toEqual(['"tagged" needs a tag, written out in quotes']);
    expect(clausesOf('tagged("seal", "shut").all(p, shown(p))')).toBeNull();
    expect(faults('tagged("seal").map(p, shown(p)).size()')[0]).toContain('not true or false');
  });

  it('that asks too much, by lists within lists, does not hold and says so', () => {
    const many = new Map(
      Array.from({ length: 300 }, (_, i) => [`p${i}`, { word: 'plate' as const, thing: { name: `Plate ${i}`, tags: ['seal'] } }]),
    );
    let asked = 0;
    const conditions = new Conditions(many, (name) => {
      asked += 1;
      return name === 'tagged' ? [...many.keys()] : true;
    });
    const nested = (depth: number): string =>
      depth === 0 ? 'pressed(p1)' : `tagged("seal").all(p${depth}, ${nested(depth - 1)})`;
    expect(conditions.of(nested(1)).verdict().holds).toBe(true);
    for (const text of [nested(4), `!${nested(3)}`, `${nested(3)} || true`]) {
      const { holds, read } = conditions.of(text).verdict();
      expect([holds, read.length]).toEqual([false, 1]);
      expect(read[0]).toContain('more than 5000 questions');
    }
    expect(asked).toBeLessThan(20_000);
  });

  it('takes what is compared with a text for a text, and not for a name', () => {
    expect(namesFor('text("gate-board") == "doorstep" && owner("mill-door") != \'doorstep\'', named)).toBe(
      'text("Gate board") == "doorstep" && owner("Mill door") != \'Doorstep\'',
    );
    expect(idsFor('text("Gate board") == "shut" || room(hand()) == "Mill yrd"', known)).toMatchObject({
      text: 'text("gate-board") == "shut" || room(hand()) == "Mill yrd"',
      unknown: [{ name: 'Mill yrd', meant: 'Mill yard' }],
    });
  });

  it('that says more than clauses can stays a text', () => {
    for (const text of ['flag("a") && (flag("b") || flag("c"))', 'counter("a") + 1 > 2', 'flag("a") == flag("b")', 'a || b && c'])
      expect(clausesOf(text)).toBeNull();
    expect(clausesOf('')).toEqual({ join: 'and', clauses: [] });
  });
});

it('offers only values that the document allows', () => {
  for (const collection of collections) {
    for (const thing of demo[collection]) {
      for (const part of say(collection, thing).flat()) {
        if (typeof part === 'string' || part.input.kind !== 'choice') continue;
        for (const { value } of part.input.options) {
          const changed = structuredClone(thing) as unknown as Record<string, unknown>;
          const keys = keysOf(part.path);
          const holder = keys.slice(0, -1).reduce((here, key) => here[key] as Record<string, unknown>, changed);
          holder[keys.at(-1)!] = value;
          expect(parseThing(collection, changed)).toMatchObject({ ok: true });
        }
      }
    }
  }
});

it('lists what a thing is connected to, in both directions', () => {
  expect(connections(demo, 'sack-plate')).toEqual({
    setsOff: ['open-sluice', 'shut-sluice'],
    askedBy: [],
    actedOnBy: [],
    namedBy: [],
    walkedIn: ['morning-round'],
  });
  expect(connections(demo, 'sluice-gate').actedOnBy).toEqual(['open-sluice', 'shut-sluice']);
  expect(connections(demo, 'sluice-open')).toMatchObject({
    askedBy: ['landing-notice'],
    actedOnBy: ['open-sluice', 'shut-sluice'],
  });
  expect(connections(demo, 'flour-sack').walkedIn).toEqual(['morning-round']);
});

it('is connected to what acts on it by a tag, as by its name; and to what only counts a place from it, by another word', () => {
  const place = { x: 0, y: 0, z: 2, room: '', of: 'gate', axes: 'room', height: 'datum' };
  const level = levelOf({
    zones: [zone('Spot', 0, 0)],
    fixtures: [door('Gate', 5, 0, { tags: ['shut', 'green'] }), sign('Notice', 0, 5, { tags: ['green'] })],
    visitors: [visitor('Miller', -5, 0, { tags: ['green'] }), visitor('Ann', -5, 2)],
    chains: [
      chain('By name', [cause('enter', 'spot')], [step('open', { door: 'gate' })]),
      chain('By tag', [cause('enter', 'spot')], [step('open', { door: '', tagged: 'green' })]),
      chain('By another tag', [cause('enter', 'spot')], [step('open', { door: 'gate', tagged: 'red' })]),
      chain('Onto it', [cause('enter', 'spot')], [step('teleport', { to: place })]),
      chain('Of a visitor', [cause('enter', 'spot')], [step('hold-visitor', { who: { by: 'name', visitor: 'miller' } })]),
      chain('Of the green', [cause('enter', 'spot')], [step('hold-visitor', { who: { by: 'tag', tag: 'green' } })]),
    ],
  });
  expect(connections(level, 'gate')).toMatchObject({ actedOnBy: ['by-name', 'by-tag'], namedBy: ['onto-it'] });
  // A sign has the tag, but is no door.
  expect(connections(level, 'notice')).toMatchObject({ actedOnBy: [], namedBy: [] });
  expect(connections(level, 'miller').actedOnBy).toEqual(['of-a-visitor', 'of-the-green']);
  expect(connections(level, 'ann').actedOnBy).toEqual([]);
  expect(connections(level, 'nobody')).toMatchObject({ actedOnBy: [], namedBy: [] });
});

it('puts steps on a time ruler as the kernel would run them', () => {
  const level = levelOf({
    fixtures: [door('Gate', 9, 9, { timing: { by: 'speed', speed: 0.5 }, travel: { x: 1, y: 0, z: 0 } }), sign('Board')],
    chains: [
      chain(
        'C',
        [],
        [
          step('open', { door: 'gate', delay: 0.5 }),
          step('write-sign', { sign: 'board', text: '', start: 'with', delay: 1 }),
          step('wait', { seconds: 3 }),
          step('hide', { fixture: 'board' }),
        ],
      ),
    ],
  });
  expect(timeline(level, level.chains[0]!).map(({ turn, start, end }) => [turn, start, end])).toEqual([
    [0, 0.5, 2.5],
    [0.5, 1.5, 1.5],
    [2.5, 2.5, 5.5],
    [5.5, 5.5, 5.5],
  ]);
});

it('says of any step and any thing of a random level the same, asked whether it acts on it and asked for all that it acts on', () => {
  let acts = 0;
  fc.assert(
    fc.property(anyLevel, (raw) => {
      const parsed = parseLevel(raw);
      if (!parsed.ok) throw new Error('not a level');
      const { level } = parsed;
      for (const { steps } of level.chains)
        for (const step of steps) {
          const all = actedOn(level, step);
          for (const [id, found] of lookup(level)) {
            const says = actsOn(step, found);
            if (says !== all.includes(id)) throw new Error(`${JSON.stringify(step)} on ${id}: ${says}`);
            if (says) acts++;
          }
        }
    }),
    { numRuns: 60 },
  );
  expect(acts).toBeGreaterThan(50);
});

it('draws a step on all with a tag as long as the last of them takes, and one that finds nobody as none', () => {
  const gate = (name: string, seconds: number, tags: string[]) => door(name, 9, 9, { timing: { by: 'seconds', seconds }, tags });
  const level = levelOf({
    fixtures: [gate('Fast', 1, ['all']), gate('Slow', 4, ['all']), gate('Slower', 9, ['none of them'])],
    chains: [chain('C', [], [step('open', { door: 'slower', tagged: 'all' }), step('close', { door: '', tagged: 'nobody' })])],
  });
  expect(timeline(level, level.chains[0]!).map(({ start, end }) => [start, end])).toEqual([
    [0, 4],
    [4, 4],
  ]);
});

it('says every entry of both walks of the demo, by name and never by id', () => {
  for (const walk of demo.walks) {
    for (const entry of rehearse(demo, walk).entries) {
      const text = entrySentence(entry, named);
      expect(text).not.toMatch(/undefined|null|missing|-s\d|sack-plate/);
      expect(text.length).toBeGreaterThan(3);
    }
  }
  const goose = rehearse(demo, demo.walks[1]!).entries.find((entry) => entry.kind === 'held')!;
  expect(entrySentence(goose, named)).toBe(
    '“The mill door opens for people” held for Goose: the filter requires kinds player, found creature',
  );
});

it('describes a thing that has just been drawn', () => {
  const thing = createThing(demo, 'zone', 'fresh', 'mill-yard', { x: 1, y: 2, z: 0 });
  expect(say('zones', thing).map(read)[0]).toBe('A box of 2 m by 2 m and 2.2 m tall.');
});

it('names the missing in the ledger too', () => {
  const { entries } = run({ visitors: [], walks: [{ id: 'w', name: 'W', routes: [] }] });
  expect(
    entrySentence({ ...entries[0]!, kind: 'step', what: 'gone', details: { do: 'open', problem: 'no such target' } }, named),
  ).toBe('open (missing: gone): no such target');
});

describe('An edit is said in few words', () => {
  const zone = demo.zones[0]!;
  it.each([
    [change('zones', zone, { at: { x: 0, y: 0, z: 0 } }), 'move Doorstep'],
    [change('zones', zone, { heading: 15 }), 'turn Doorstep'],
    [change('zones', zone, { name: 'Threshold' }), 'rename Doorstep to Threshold'],
    [change('zones', zone, { at: zone.at, shape: zone.shape }), 'resize Doorstep'],
    [change('zones', zone, { attachedTo: '', dwell: 3 }), 'change Doorstep: attached to, dwell'],
    [remove(demo, 'zones', zone.id), 'delete zone Doorstep'],
    [add(demo, 'zones', zone), 'add zone Doorstep'],
    [{ kind: 'level', before: { name: 'a' }, after: { name: 'b' } } as Edit, 'rename the level'],
    [{ kind: 'all', label: 'move', edits: [remove(demo, 'zones', zone.id), add(demo, 'zones', zone)] } as Edit, 'move 2 things'],
    [{ kind: 'change', collection: 'zones', id: 'gone', before: {}, after: { at: zone.at } } as Edit, 'move what is gone'],
  ])('%#', (edit, said) => expect(editPhrase(demo, edit)).toBe(said));
});

it('names are alike that differ by capitals, spaces or one letter, and not those that a number tells apart', () => {
  const alike = (one: string, other: string): boolean => areAlike(one, other) && areAlike(other, one);
  expect([
    alike('Mill door', 'mill-door'),
    alike('Milldoor', 'Mill door'),
    alike('Sluice', 'Sluise'),
    alike('Gate', 'Gates'),
  ]).toEqual([true, true, true, true]);
  expect([
    alike('Door 1', 'Door 2'),
    alike('Door', 'Door 2'),
    alike('Door', 'Door'),
    alike('Bin', 'Bit'),
    alike('Weir', 'Wheel'),
  ]).toEqual([false, false, false, false, false]);
});

it('offers the events of every fixture once each, its own and its usual ones first, and none that it cannot raise', () => {
  for (const name of fixtureNames) {
    const events = eventsOf(name);
    expect([name, new Set(events).size]).toEqual([name, events.length]);
    expect(events.filter((event) => !sourcesFor(event).includes(name))).toEqual([]);
  }
  expect(eventsOf('switch').slice(0, 3)).toEqual(['on', 'off', 'use']);
  expect(eventsOf('barrier').slice(0, 2)).toEqual(['bump', 'use']);
  expect(eventsOf('zone')[0]).toBe('enter');
});
