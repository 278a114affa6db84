import fc from 'fast-check';
import {
  AS_IT_IS,
  applied,
  change,
  copyPlan,
  createThing,
  emptyLevel,
  fixtureNames,
  fragmentOf,
  invert,
  parseLevel,
  pasted,
  placePiece,
  rehearse,
  setOff,
  setPieces,
  documentErrors,
  warningsOf,
  waysToSetOff,
} from '../src/index';
import type { Answers, Entry, Fixture, FixtureName, Level } from '../src/index';
import { at, carry, goTo, wait } from './build';

type Raw = Record<string, unknown>;

let made = 0;
const newId = (prefix: string): string => `${prefix}-p${(made += 1)}`;

/** An empty level with one set piece in the middle of its room. */
function placed(id: string, answers: Answers = {}, where = { x: 0, y: 0 }): Level {
  const level = emptyLevel('Mill yard');
  const piece = setPieces.find((one) => one.id === id)!;
  const { edit, select } = placePiece(level, piece, { room: level.rooms[0]!.id, at: where }, answers, newId);
  const after = applied(level, edit);
  expect(select.length).toBeGreaterThan(0);
  expect(applied(after, invert(edit))).toEqual(level);
  return after;
}

/** Rehearses the level with Alma, who begins at a point and is told what to do. */
function walked(level: Level, from: { x: number; y: number }, told: Raw[], more: Raw = {}): string[] {
  const body = { kind: 'box', size: at(0.5, 0.5, 1.8) };
  const alma = {
    id: 'alma',
    name: 'Alma',
    kind: 'player',
    room: level.rooms[0]!.id,
    at: at(from.x, from.y),
    body,
    speed: 1.5,
    ...more,
  };
  const routes = [{ visitor: 'alma', instructions: told }];
  const parsed = parseLevel({
    ...level,
    visitors: [...level.visitors.filter((one) => one.kind !== 'player'), alma],
    walks: [{ id: 'round', name: 'Round', atMost: 30, routes }],
  });
  if (!parsed.ok) throw new Error(JSON.stringify(parsed.faults));
  const result = rehearse(parsed.level, parsed.level.walks[0]!);
  const nameOf = (id: string | null): string => {
    if (id === null) return '';
    const all = [
      ...parsed.level.zones,
      ...parsed.level.fixtures,
      ...parsed.level.visitors,
      ...parsed.level.watches,
      ...parsed.level.signals,
      ...parsed.level.flags,
      ...parsed.level.rooms,
    ];
    return all.find((one) => one.id === id)?.name ?? id;
  };
  return result.entries.map(({ kind, who, what }: Entry) =>
    `${kind} ${nameOf(who)}${what === null || what === who ? '' : ` ${nameOf(what)}`}`.trim(),
  );
}
const use = (level: Level, name: string): Raw => ({
  id: newId('use'),
  do: 'use',
  fixture: [...level.fixtures, ...level.visitors].find((one) => one.name === name)!.id,
});

/** That some entries come, in this order. */
function inOrder(entries: string[], ...wanted: string[]): void {
  let from = 0;
  for (const one of wanted) {
    const found = entries.findIndex((entry, index) => index >= from && entry.includes(one));
    if (found < 0) throw new Error(`No “${one}” after entry ${from} in\n${entries.join('\n')}`);
    from = found + 1;
  }
}

describe('A set piece works as it is placed', () => {
  it('a door opens to who steps up, lets through, and closes behind', () => {
    const entries = walked(placed('door-for-visitors'), { x: -4, y: 0 }, [goTo(-1, 0), wait(1), goTo(4, 0), wait(3)]);
    inOrder(entries, 'enter Alma At the door', 'opened', 'leave Alma At the door', 'closed');
  });
  it('a gate slides into its pocket and out again', () => {
    const entries = walked(placed('pocket-gate'), { x: -4, y: 0 }, [goTo(-1, 0), wait(1.5), goTo(4, 0), wait(3)]);
    inOrder(entries, 'enter Alma Both sides', 'opened', 'leave Alma', 'closed');
  });
  it('two leaves part when one is used, and come together again', () => {
    const level = placed('door-both-halves');
    const entries = walked(level, { x: -3, y: 0 }, [goTo(-0.8, 0), use(level, 'South leaf'), wait(1.2), goTo(3, 0), wait(5)]);
    inOrder(entries, 'use Alma South leaf', 'opened', 'opened', 'closed', 'closed');
  });
  it('the first who touches a door owns it, sees through it and passes it, and nobody else does', () => {
    const level = placed('claimable-door');
    const entries = walked(level, { x: -4, y: 0 }, [goTo(0, 0), wait(1), goTo(4, 0), wait(3)]);
    inOrder(
      entries,
      'bump Alma',
      'claimed Alma Claimable door',
      'changed Alma Whose door',
      'changed Alma',
      'enter Alma Claimable door',
    );
    expect(entries.filter((entry) => entry.startsWith('claimed')).length).toBe(1);
  });
  it('a weight holds a gate open', () => {
    const level = placed('weight-gate');
    const sack = level.visitors.find((one) => one.name === 'Sack')!;
    const drop = { id: newId('drop'), do: 'drop', prop: sack.id };
    const entries = walked(level, { x: -4, y: -2 }, [
      goTo(-2.5, -2),
      carry(sack.id),
      goTo(-2, -0.4),
      drop,
      goTo(-4, -2),
      wait(3),
    ]);
    inOrder(entries, 'press', 'opened');
    expect(entries.filter((entry) => entry.startsWith('closed'))).toEqual([]);
  });
  it('a wall sinks in three stages, with waits between', () => {
    const entries = walked(placed('staged-wall', { waits: 0.5 }), { x: -4, y: 0 }, [goTo(-1, 0), wait(6)]);
    expect(entries.filter((entry) => entry.startsWith('arrived') && entry.includes('Sinking wall')).length).toBe(3);
  });
  it('a wall closes behind who has passed, and never on them', () => {
    const entries = walked(placed('closing-wall'), { x: -3, y: 0 }, [goTo(3, 0), goTo(-3, 0)]);
    inOrder(entries, 'enter Alma Past the wall', 'changed Alma Closing wall', 'bump Alma Closing wall');
  });
  it('a maze shows one wall and tells another to go', () => {
    const entries = walked(placed('maze-walls'), { x: -5, y: -0.5 }, [goTo(-3, -0.5), wait(1)]);
    inOrder(entries, 'changed Alma Wall that appears', 'signal', 'changed Alma Wall that goes');
  });
  it('a platform goes up with its rider and comes down when left', () => {
    const entries = walked(placed('elevator-ridden', { wait: 0.2 }), { x: -3, y: 0 }, [
      goTo(0, 0),
      wait(5),
      goTo(3, 0, 3.2),
      wait(5),
    ]);
    inOrder(entries, 'enter Alma On the platform', 'arrived Alma Platform', 'leave Alma On the platform', 'arrived');
    expect(entries.filter((entry) => entry === 'enter Alma On the platform').length).toBe(1);
  });
  it('a platform that is a door sinks with its rider, until so much is left showing', () => {
    const level = placed('sinking-lift', { thick: 0.4, showing: 0.1 });
    const entries = walked(level, { x: -3, y: 0 }, [goTo(0, 0, 0.4), wait(3), goTo(3, 0), wait(3)]);
    inOrder(entries, 'enter Alma On the sinking', 'opened', 'leave Alma On the sinking', 'closed');
  });
  it('a sinking platform takes its rider down from an upper floor, or up to it', () => {
    const down = placed('sinking-lift');
    const upper = { x: 3, y: 0, z: 2 };
    const entries = walked(down, upper, [goTo(0, 0, 2), wait(4), goTo(-3, 0), wait(3)], { at: at(3, 0, 2) });
    inOrder(entries, 'enter Alma On the sinking', 'opened', 'leave Alma On the sinking', 'closed');
    const up = placed('sinking-lift', { begins: 'sunk' });
    const back = walked(up, { x: -3, y: 0 }, [goTo(0, 0, 0.2), wait(4), goTo(3, 0, 2), wait(3)]);
    inOrder(back, 'enter Alma On the sinking', 'closed', 'leave Alma On the sinking', 'opened');
    expect(back.filter((entry) => entry.startsWith('enter')).length).toBe(1);
  });
  it('an elevator is called by a switch, and comes down by itself', () => {
    const level = placed('elevator-called', { pause: 1 });
    const entries = walked(level, { x: -3, y: 0 }, [
      goTo(-1, 0.6),
      use(level, 'Switch below'),
      goTo(0, 0),
      wait(4),
      goTo(3, 0, 3.2),
      wait(6),
    ]);
    inOrder(entries, 'use Alma Switch below', 'arrived Alma Elevator', 'arrived', 'Elevator');
  });
  it('a pair of portals leads across, and sends nobody straight back', () => {
    const entries = walked(placed('portal-pair'), { x: -5, y: 0 }, [goTo(-3.1, 0), wait(6)]);
    inOrder(entries, 'enter Alma West portal', 'cue-finished', 'teleported Alma');
    expect(entries.filter((entry) => entry.startsWith('teleported')).length).toBe(1);
  });
  it('two pads lead to each other, and send nobody straight back', () => {
    const entries = walked(placed('pad-pair'), { x: -5, y: 0 }, [goTo(-3, 0), wait(3), goTo(3, 0), wait(3)]);
    expect(entries.filter((entry) => entry.startsWith('teleported')).length).toBe(2);
  });
  it('a pad puts who steps on it at its marker', () => {
    inOrder(walked(placed('pad-with-arrival'), { x: -5, y: 0 }, [goTo(-3, 0), wait(1)]), 'teleported Alma');
  });
  it('a warp leads to a new room and one there leads back', () => {
    const entries = walked(placed('warp-and-back', { pause: 0.5 }), { x: -3, y: 0 }, [goTo(0, 0), wait(1), goTo(-3, 0), wait(2)]);
    expect(entries.filter((entry) => entry.startsWith('warped')).length).toBe(2);
  });
  it('whoever uses one object is put at another', () => {
    const level = placed('use-to-be-there');
    inOrder(walked(level, { x: -5, y: 0 }, [goTo(-3.6, 0), use(level, 'Lever to be there'), wait(1)]), 'use', 'teleported Alma');
  });
  it('what is thrown fetches its thrower once', () => {
    const level = placed('thrown-fetches');
    const float = level.visitors.find((one) => one.name === 'Float')!.id;
    const thrown = { id: newId('throw'), do: 'throw', prop: float, velocity: at(3, 0, 3) };
    const entries = walked(level, { x: -2, y: 0 }, [
      goTo(-0.6, 0),
      use(level, 'Float'),
      carry(float),
      wait(0.3),
      thrown,
      wait(3),
    ]);
    inOrder(entries, 'teleported Alma');
    expect(entries.filter((entry) => entry.startsWith('teleported')).length).toBe(1);
  });
  it('a guard steps up, speaks, pushes back and returns', () => {
    const entries = walked(placed('guard'), { x: -4, y: 0 }, [goTo(-0.5, 0), wait(8)]);
    inOrder(entries, 'enter Alma Too near', 'arrived Alma Guard', 'cue-finished', 'leave Alma Too near', 'arrived Alma Guard');
  });
  it('the last of what is collected opens the gate', () => {
    const entries = walked(placed('tokens-gate', { many: 2 }), { x: -5, y: -1.2 }, [goTo(-3, -1.2), goTo(-1.8, 1.2), wait(3)]);
    inOrder(entries, 'collected', 'collected', 'became-true', 'opened');
  });
  it('a post blinks once and lets the gate go', () => {
    const entries = walked(placed('bump-post'), { x: -4, y: 0 }, [goTo(-1.5, 0), wait(2)]);
    inOrder(entries, 'bump Alma Post', 'cue-started', 'opened');
  });
  it('a marker comes up some seconds after its place was reached', () => {
    inOrder(
      walked(placed('map-marker', { after: 1 }), { x: -4, y: 0 }, [goTo(0, 0), wait(2)]),
      'enter',
      'changed Alma Map marker',
    );
  });
  it('one appears, later another, and what watches it makes a third go', () => {
    const entries = walked(placed('one-then-another', { later: 1 }), { x: -5, y: 0 }, [goTo(-1.5, 0), wait(2)]);
    inOrder(entries, 'First to appear', 'Second to appear', 'became-true', 'What goes');
  });
  it('a general trigger does one thing on entering and another on leaving', () => {
    inOrder(walked(placed('general-trigger'), { x: -4, y: 0 }, [goTo(4, 0)]), 'enter', 'changed', 'leave', 'changed');
  });
  it('somebody is there until the last one has left', () => {
    const level = placed('general-trigger');
    const body = { kind: 'box', size: at(0.5, 0.5, 1.8) };
    const goose = { id: 'goose', name: 'Goose', kind: 'creature', room: level.rooms[0]!.id, at: at(0, 0), body };
    const both = parseLevel({ ...level, visitors: [goose] });
    if (!both.ok) throw new Error(JSON.stringify(both.faults));
    const anyone = applied(both.level, {
      kind: 'all',
      label: 'let anybody count',
      edits: both.level.chains.map((chain) =>
        change('chains', chain, { causes: chain.causes.map((cause) => ({ ...cause, filter: { ...cause.filter, kinds: [] } })) }),
      ),
    });
    const changes = walked(anyone, { x: -4, y: 0 }, [goTo(4, 0)]).filter((entry) => entry.startsWith('changed'));
    expect(changes).toEqual(['changed Goose Somebody is there']);
  });
  it('a copy of a general trigger has a flag of its own', () => {
    const level = placed('general-trigger');
    const wired = fragmentOf(level, [level.zones[0]!.id], true);
    const plan = copyPlan(level, wired, new Map());
    const twice = applied(level, pasted(level, plan, newId, { by: { x: 4, y: 0 } }).edit);
    const flagsOf = (from: number): unknown[] =>
      twice.chains.slice(from, from + 2).flatMap(({ steps }) => steps.map((step) => 'flag' in step && step.flag));
    expect(new Set([...flagsOf(0), ...flagsOf(2)]).size).toBe(2);
    // What something else reads stays shared.
    const id = level.flags[0]!.id;
    const watch = parseLevel({ ...level, watches: [{ id: 'lamp', name: 'Lamp', when: `flag("${id}")` }] });
    if (!watch.ok) throw new Error(JSON.stringify(watch.faults));
    const shared = copyPlan(watch.level, fragmentOf(watch.level, [level.zones[0]!.id], true), new Map());
    expect(shared.questions).toMatchObject([{ id, answer: AS_IT_IS }]);
  });
});

it('every set piece is placed anywhere, twice, with any answers, without a broken reference', () => {
  fc.assert(
    fc.property(
      fc.constantFrom(...setPieces),
      fc.record({ x: fc.integer({ min: -90, max: 90 }), y: fc.integer({ min: -90, max: 90 }) }),
      fc.infiniteStream(fc.nat(1000)),
      (piece, where, pick) => {
        const answers: Record<string, string | number> = {};
        for (const question of piece.questions) {
          const n = pick.next().value;
          if (question.kind === 'choice') answers[question.id] = question.options[n % question.options.length]!.value;
          if (question.kind === 'number')
            answers[question.id] = question.min + (n / 1000) * (Math.min(question.max, 40) - question.min);
        }
        let level = emptyLevel('Mill yard');
        for (const x of [where.x, where.x + 10])
          level = applied(
            level,
            placePiece(level, piece, { room: level.rooms[0]!.id, at: { x, y: where.y } }, answers, newId).edit,
          );
        expect(parseLevel(level)).toMatchObject({ ok: true });
        expect(documentErrors(level)).toEqual([]);
      },
    ),
    { numRuns: 200 },
  );
});

describe('A fixture that stands alone is set off in a usual way', () => {
  /** A level with one fixture of a kind in its middle, as its stencil makes it, that is set off in one of its ways. */
  function setOffAlone(kind: FixtureName, way: string, own: Partial<Fixture> = {}): Level {
    const empty = emptyLevel('Mill yard');
    const fixture = { ...createThing(empty, kind, 'alone', empty.rooms[0]!.id, at(0, 0)), ...own } as Fixture;
    const level: Level = { ...empty, fixtures: [fixture] };
    expect(waysToSetOff(level, fixture).map(({ id }) => id)).toContain(way);
    const edit = setOff(level, fixture, way, newId);
    const after = applied(level, edit);
    expect(applied(after, invert(edit))).toEqual(level);
    expect(documentErrors(after)).toEqual([]);
    expect(warningsOf(after)).toEqual([]);
    // What is set off is not offered it again.
    expect(waysToSetOff(after, after.fixtures[0]!)).toEqual([]);
    return after;
  }

  it.each([
    ['door', 'near', [goTo(0, -1), wait(2), goTo(0, 4), wait(3)], ['enter Alma At Door', 'opened', 'leave Alma', 'closed']],
    ['elevator', 'ride', [goTo(0, 0), wait(3)], ['enter Alma On Elevator', 'moving', 'arrived']],
    ['mover', 'near', [goTo(0, -2), wait(3), goTo(0, -6), wait(3)], ['enter Alma At Mover', 'arrived', 'leave Alma', 'moving']],
    ['barrier', 'near', [goTo(0, -1), goTo(0, 4), wait(1)], ['enter Alma At Barrier', 'changed', 'leave Alma', 'changed']],
    ['sign', 'near', [goTo(0, 0), goTo(0, 4), wait(1)], ['enter Alma Before Sign', 'changed', 'leave Alma', 'changed']],
    ['marker', 'near', [goTo(0, 0), wait(1)], ['enter Alma Before Map marker', 'changed']],
    ['cue', 'near', [goTo(0, 0), wait(3)], ['enter Alma Before Cue', 'cue-started']],
  ] as const)('%s, %s', (kind, way, told, wanted) => {
    const entries = walked(setOffAlone(kind, way), { x: 0, y: -6 }, [...told]);
    inOrder(entries, ...wanted);
  });

  it('a door that is used opens, waits and closes', () => {
    const level = setOffAlone('door', 'use');
    const used = { id: newId('use'), do: 'use', fixture: 'alone' };
    inOrder(walked(level, { x: 0, y: -4 }, [goTo(0, -0.8), used, wait(8)]), 'use Alma Door', 'opened', 'closed');
  });

  it('works as well turned, standing high, and for a door that is deeper than wide', () => {
    const turned = setOffAlone('door', 'near', { heading: 90, travel: at(0, 1) } as Partial<Fixture>);
    inOrder(
      walked(turned, { x: -6, y: 0 }, [goTo(-1, 0), wait(2), goTo(4, 0), wait(3)]),
      'enter Alma At Door',
      'opened',
      'closed',
    );
    const deep = setOffAlone('door', 'near', {
      size: { x: 0.2, y: 1.4, z: 2.2 },
      travel: { x: 0, y: 1.4, z: 0 },
    } as Partial<Fixture>);
    inOrder(walked(deep, { x: -6, y: 0 }, [goTo(-1, 0), wait(2), goTo(4, 0), wait(3)]), 'opened', 'closed');
    const high = setOffAlone('door', 'near', { at: at(0, 0, 3) });
    expect(high.zones[0]!.at.z).toBe(3);
    expect(walked(high, { x: 0, y: -6 }, [goTo(0, 4)]).filter((entry) => entry.startsWith('enter'))).toEqual([]);
  });

  it('has a place of the size that is wanted there', () => {
    const sizeOf = (level: Level): unknown => (level.zones[0]!.shape as { size: unknown }).size;
    const as = (size: ReturnType<typeof at>): Partial<Fixture> => ({ size, manner: 'vanish' }) as Partial<Fixture>;
    // A walk-up before and behind, a little beyond its sides, and taller than anybody jumps.
    expect(sizeOf(setOffAlone('door', 'near', as({ x: 2, y: 0.2, z: 2 })))).toEqual({ x: 2.6, y: 3.6, z: 2.4 });
    expect(sizeOf(setOffAlone('door', 'near', as({ x: 0.2, y: 2, z: 4 })))).toEqual({ x: 3.6, y: 2.6, z: 4.2 });
    // No wider than what is stepped on, which it moves with.
    const lift = setOffAlone('elevator', 'ride', as({ x: 3, y: 1, z: 0.5 }));
    expect(sizeOf(lift)).toEqual({ x: 2.8, y: 0.8, z: 2.9 });
    expect(lift.zones[0]!.attachedTo).toBe('alone');
    expect(sizeOf(setOffAlone('elevator', 'ride', as({ x: 0.3, y: 0.1, z: 0.2 })))).toMatchObject({ x: 0.2, y: 0.2 });
  });

  it('takes the place along with what it is fixed to, puts it on the floor below what hangs high, and shortens long names', () => {
    const raft = createThing(emptyLevel('Mill yard'), 'mover', 'raft', 'room-1', at(0, 9)) as Fixture;
    const empty = emptyLevel('Mill yard');
    const own = { attachedTo: 'raft', name: 'a'.repeat(80) };
    for (const kind of ['door', 'sign'] as const) {
      const alone = { ...createThing(empty, kind, 'alone', empty.rooms[0]!.id, at(0, 0)), ...own } as Fixture;
      const level: Level = { ...empty, fixtures: [{ ...raft, room: empty.rooms[0]!.id }, alone] };
      const after = applied(level, setOff(level, alone, 'near', newId));
      expect(parseLevel(after)).toMatchObject({ ok: true });
      expect(after.zones[0]).toMatchObject({ attachedTo: 'raft' });
    }
    expect(setOffAlone('sign', 'near', { at: at(2, 1, 1.6) }).zones[0]!.at).toEqual(at(2, 1, 0));
    expect(setOffAlone('sign', 'near', { at: at(2, 1, 5.6) }).zones[0]!.at).toEqual(at(2, 1, 4));
  });

  it('brings back only what does not come back by itself, and from where it starts', () => {
    const stepsOf = (level: Level): unknown[][] => level.chains.map(({ steps }) => steps.map(({ kind }) => kind));
    expect(stepsOf(setOffAlone('door', 'use'))).toEqual([['open', 'wait', 'close']]);
    expect(stepsOf(setOffAlone('door', 'use', { returnAfter: 2 } as Partial<Fixture>))).toEqual([['open']]);
    expect(setOffAlone('elevator', 'ride').chains.map(({ steps }) => steps[0])).toMatchObject([{ stop: 2 }, { stop: 1 }]);
    const starts = setOffAlone('elevator', 'ride', { startsAt: 2 } as Partial<Fixture>);
    expect(starts.chains.map(({ steps }) => steps[0])).toMatchObject([{ stop: 1 }, { stop: 2 }]);
    for (const own of [{ whenLeft: 'return' }, { returnAfter: 2 }])
      expect(stepsOf(setOffAlone('elevator', 'ride', own as Partial<Fixture>))).toEqual([['send']]);
    expect(stepsOf(setOffAlone('mover', 'near'))).toEqual([['play'], ['play']]);
    for (const own of [{ atEnd: 'again' }, { returnAfter: 2 }])
      expect(stepsOf(setOffAlone('mover', 'near', own as Partial<Fixture>))).toEqual([['play']]);
    const marker = setOffAlone('marker', 'near');
    expect(marker.chains[0]!.causes).toMatchObject([{ limit: 1, filter: { kinds: ['player'] } }]);
    // What is hidden already is not hidden anew.
    expect([marker.fixtures[0]!.shown, setOffAlone('sign', 'near', { shown: false }).fixtures[0]!.shown]).toEqual([false, false]);
  });

  it('is offered for nothing that sets others off or acts by itself, nor for what a chain acts on, by name or by tag', () => {
    const empty = emptyLevel('Mill yard');
    const offered = fixtureNames.filter((kind) => {
      const fixture = createThing(empty, kind, 'alone', empty.rooms[0]!.id, at(0, 0)) as Fixture;
      return waysToSetOff({ ...empty, fixtures: [fixture] }, fixture).length > 0;
    });
    expect(offered.toSorted()).toEqual(['barrier', 'cue', 'door', 'elevator', 'marker', 'mover', 'sign']);
    const level = placed('door-for-visitors');
    const bare: Level = { ...level, chains: [] };
    expect(waysToSetOff(level, level.fixtures[0]!)).toEqual([]);
    expect(waysToSetOff(bare, bare.fixtures[0]!)).not.toEqual([]);
    const [chain] = level.chains;
    const byTag = { ...chain!, steps: chain!.steps.map((step) => ({ ...step, door: '', tagged: 'gates' })) } as never;
    const tagged = applied({ ...bare, chains: [byTag] }, change('fixtures', bare.fixtures[0]!, { tags: ['gates'] }));
    expect(waysToSetOff(tagged, tagged.fixtures[0]!)).toEqual([]);
    const others = applied(tagged, change('fixtures', tagged.fixtures[0]!, { tags: ['sluices'] }));
    expect(waysToSetOff(others, others.fixtures[0]!)).not.toEqual([]);
    const running = { ...createThing(empty, 'mover', 'alone', empty.rooms[0]!.id, at(0, 0)), running: true } as Fixture;
    expect(waysToSetOff({ ...empty, fixtures: [running] }, running)).toEqual([]);
    expect(() => setOff(bare, bare.fixtures[0]!, 'by magic', newId)).toThrow('Door is not triggered in the way "by magic"');
  });
});
