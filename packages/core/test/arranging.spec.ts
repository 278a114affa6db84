import fc from 'fast-check';
import {
  alignThings,
  alignments,
  applied,
  arrivalsFrom,
  boundsTogether,
  centreZone,
  coverWithZone,
  createWall,
  fragmentOf,
  freeGroup,
  groupEdit,
  groupOf,
  invert,
  lookup,
  parseLevel,
  pasted,
  servedBy,
  sharedSlots,
  snapLines,
  snapTo,
  spreadThings,
} from '../src/index';
import type { Edit, Fixture, Level, Zone } from '../src/index';
import { reachX, reachY } from '../src/space/shapes';
import { overlaps } from '../src/space/overlap';
import { shapeOfThing } from '../src/document/shapes';
import { anyLevel } from './any-level';
import { at as vec, cause, chain, fixture, levelOf, step, visitor, zone } from './build';

/** Several things at once: in line, evenly spread, given the same value; and zones fitted to what they serve. */

const yard = levelOf({
  zones: [zone('Landing', 0, 0)],
  fixtures: [
    fixture('barrier', 'Rail', 2, 1, { size: vec(1, 1, 1) }),
    fixture('barrier', 'Long rail', 7, 3, { size: vec(4, 1, 2) }),
    fixture('barrier', 'Post', 12, -2, { size: vec(0.5, 0.5, 3) }),
    fixture('door', 'Gate', -6, 4, { size: vec(3, 0.4, 2), heading: 90 }),
  ],
  visitors: [visitor('Miller', -3, 0)],
  chains: [chain('Opens', [cause('enter', 'landing')], [step('open', { door: 'gate' })])],
});
const rails = ['rail', 'long-rail', 'post'];
const shapeIn = (level: Level, id: string) => {
  const { collection, thing } = lookup(level).get(id)!;
  return shapeOfThing(collection, thing)!;
};
const west = (level: Level, id: string): number => shapeIn(level, id).x - reachX(shapeIn(level, id));
const east = (level: Level, id: string): number => shapeIn(level, id).x + reachX(shapeIn(level, id));

describe('Several things', () => {
  it('come in line on the outermost of their edges, each by its own size', () => {
    const after = applied(yard, alignThings(yard, rails, 'west')!);
    expect(rails.map((id) => west(after, id))).toEqual([1.5, 1.5, 1.5]);
    const other = applied(yard, alignThings(yard, rails, 'top')!);
    expect(rails.map((id) => shapeIn(other, id).z + shapeIn(other, id).height)).toEqual([3, 3, 3]);
  });

  it('are spread in the order of their middles: a long one that reaches beyond a short one stays behind it', () => {
    const long = zone('Long', 5, 0, { shape: { kind: 'box', size: vec(10, 1, 1) } });
    const level = levelOf({
      zones: [long, zone('Short', 2.5, 0, { shape: { kind: 'box', size: vec(1, 1, 1) } }), zone('Far', 30, 0)],
    });
    const after = applied(level, spreadThings(level, ['long', 'short', 'far'], 'x')!);
    const x = (id: string): number => after.zones.find((one) => one.id === id)!.at.x;
    expect(x('short')).toBe(2.5);
    expect(x('short')).toBeLessThan(x('long'));
    expect(x('long')).toBeLessThan(x('far'));
  });

  it('are spread with the same gap between each two, the outermost where they were', () => {
    const after = applied(yard, spreadThings(yard, rails, 'x')!);
    expect(west(after, 'long-rail') - east(after, 'rail')).toBeCloseTo(west(after, 'post') - east(after, 'long-rail'), 3);
    expect([west(after, 'rail'), east(after, 'post')]).toEqual([west(yard, 'rail'), east(yard, 'post')]);
    expect(spreadThings(yard, ['rail', 'post'], 'x')).toBeNull();
  });

  it('in any level stay in line when they are, keep their size, and are brought back by one undo', () => {
    fc.assert(
      fc.property(anyLevel, fc.constantFrom(...alignments), (level, how) => {
        const ids = level.fixtures.slice(0, 5).map(({ id }) => id);
        const edit = alignThings(level, ids, how);
        if (edit === null) return;
        const after = applied(level, edit);
        expect(applied(after, invert(edit))).toEqual(level);
        const again = alignThings(after, ids, how);
        const moved = again === null ? level.fixtures : applied(after, again).fixtures;
        if (again !== null)
          moved.forEach(({ at }, i) => {
            const was = after.fixtures[i]!.at;
            expect(Math.hypot(at.x - was.x, at.y - was.y, at.z - was.z)).toBeLessThan(1e-3);
          });
        expect(after.fixtures.map((one) => ('size' in one ? one.size : null))).toEqual(
          level.fixtures.map((one) => ('size' in one ? one.size : null)),
        );
      }),
      { numRuns: 60 },
    );
  });

  it('have the values in common that all of them have; where they differ, it is said', () => {
    const found = ['rail', 'long-rail', 'gate'].map((id) => lookup(yard).get(id)!);
    const slots = new Map(sharedSlots(found).map((slot) => [slot.path, slot.various === true]));
    expect(slots.get('/size/x')).toBe(true);
    expect(slots.get('/shown')).toBe(false);
    expect(slots.get('/heading')).toBe(true);
    expect(slots.has('/manner')).toBe(false);
    expect(sharedSlots([...found, lookup(yard).get('miller')!]).map(({ path }) => path)).toEqual(
      expect.arrayContaining(['/at/x', '/tags']),
    );
  });
});

describe('A zone', () => {
  const landing = yard.zones[0]!;
  const served = (): Fixture => servedBy(yard, landing)!;

  it('serves what its chain acts on; without a chain what is nearest', () => {
    expect(served().name).toBe('Gate');
    expect(servedBy({ ...yard, chains: [] }, landing)!.name).toBe('Rail');
    expect(servedBy({ ...yard, chains: [], fixtures: [] }, landing)).toBeNull();
    // By a tag as by its name; but not what a place is only counted from.
    const byTag = levelOf({
      zones: [zone('Landing', 0, 0)],
      fixtures: [
        fixture('barrier', 'Rail', 2, 1),
        fixture('door', 'Gate', -6, 4, { tags: ['gates'] }),
        fixture('barrier', 'Post', 12, -2),
      ],
      chains: [
        chain(
          'Opens',
          [cause('enter', 'landing')],
          [
            step('teleport', { to: { x: 0, y: 0, z: 4, room: '', of: 'post', axes: 'room', height: 'datum' } }),
            step('open', { door: '', tagged: 'gates' }),
          ],
        ),
      ],
    });
    expect(servedBy(byTag, byTag.zones[0]!)!.name).toBe('Gate');
  });

  it('serves what it moves with rather than what is nearer, and what its chain acts on rather than that', () => {
    const named = (level: Level, zone: Zone): string | undefined => servedBy(level, zone)?.name;
    const post = yard.fixtures.find(({ name }) => name === 'Post')!;
    const moved = { ...landing, attachedTo: post.id };
    expect(named({ ...yard, chains: [] }, moved)).toBe('Post');
    expect(named(yard, moved)).toBe('Gate');
    // A cue is no body: what moves with one serves what is nearest.
    const bell = levelOf({
      fixtures: [fixture('cue', 'Bell', 0, 0), fixture('barrier', 'Rail', 4, 0)],
      zones: [zone('Hall', 0, 0)],
    });
    expect(named(bell, { ...bell.zones[0]!, attachedTo: 'bell' })).toBe('Rail');
  });

  it('serves nothing through the chains of others, in other rooms, or without a body; and what is nearest along both axes', () => {
    const place = (name: string, x: number, y: number, more = {}) => fixture('barrier', name, x, y, more);
    const level = (fixtures: ReturnType<typeof place>[], chains: ReturnType<typeof chain>[] = []): Level =>
      levelOf({
        rooms: ['Yard', 'Loft'].map((name) => ({
          id: name.toLowerCase(),
          name,
          extents: { west: -50, east: 50, south: -50, north: 50 },
        })),
        zones: [zone('Landing', 3, 4, { room: 'yard' }), zone('Other', 0, 0, { room: 'yard' })],
        fixtures,
        chains,
      });
    const served = (one: Level): string | undefined => servedBy(one, one.zones[0]!)?.name;
    const rooms = { room: 'yard' };
    const two = [place('South', 3, -2, rooms), place('East', 8, 4, rooms)];
    expect(served(level(two))).toBe('East');
    expect(served(level([place('West', -3, 4, rooms), place('North', 3, 9, rooms)]))).toBe('North');
    expect(served(level([place('Above', 3, 4, { room: 'loft' }), ...two]))).toBe('East');
    expect(served(level([fixture('cue', 'Bell', 3, 4, rooms), ...two]))).toBe('East');
    // Where two are as near, the first of the list.
    expect(served(level([place('A', 5, 4, rooms), place('B', 1, 4, rooms)]))).toBe('A');
    const hides = (of: string, ...what: string[]) =>
      chain(
        `From ${of}`,
        [cause('enter', of)],
        what.map((fixture) => step('hide', { fixture })),
      );
    expect(served(level(two, [hides('other', 'south')]))).toBe('East');
    expect(served(level(two, [hides('landing', 'south')]))).toBe('South');
    const both = chain('Both', [cause('enter', 'other'), cause('enter', 'landing')], [step('hide', { fixture: 'south' })]);
    expect(served(level(two, [both]))).toBe('South');
    const elsewhere = [place('Above', 9, 9, { room: 'loft' }), fixture('cue', 'Bell', 9, 8, rooms), ...two];
    expect(served(level(elsewhere, [hides('landing', 'above', 'bell')]))).toBe('East');
    expect(served(level(elsewhere, [hides('landing', 'nowhere', 'above', 'bell', 'south')]))).toBe('South');
  });

  it('is put over the middle of it, and grown until all of it is inside', () => {
    const centred = applied(yard, centreZone(landing, served()));
    const zoneNow = centred.zones[0]!;
    expect([zoneNow.at.x, zoneNow.at.y]).toEqual([-6, 4]);
    const grown = applied(centred, coverWithZone(zoneNow, served())!).zones[0]!;
    expect(coverWithZone(grown, served())).toBeNull();
  });

  it.each<Zone['shape']>([
    { kind: 'box', size: vec(0.2, 0.2, 0.2) },
    { kind: 'pillar', radius: 0.1, height: 0.1 },
    { kind: 'ball', radius: 0.1 },
  ])('covers every corner of it, whatever its form: $kind', (shape) => {
    const askew = { ...landing, shape, heading: 30 };
    const grown = { ...yard, zones: [applied({ ...yard, zones: [askew] }, coverWithZone(askew, served())!).zones[0]!] };
    const inside = shapeIn(grown, 'landing');
    const gate = shapeIn(yard, 'gate');
    for (const u of [-1, 1])
      for (const v of [-1, 1])
        for (const z of [gate.z + 0.02, gate.z + gate.height - 0.03]) {
          const x = gate.x + u * (reachX(gate) - 0.02);
          const y = gate.y + v * (reachY(gate) - 0.02);
          expect(overlaps({ form: 0, x, y, z, halfX: 0.01, halfY: 0.01, height: 0.01, cos: 1, sin: 0 }, inside)).toBe(true);
        }
  });
});

it('knows where a passage, a chain and what sets it off put visitors, and which way they face there', () => {
  const level = levelOf({
    zones: [zone('Pad', 0, 0)],
    fixtures: [
      fixture('teleporter', 'West portal', -5, 0, { twin: 'east-portal', to: vec(1, 0), arrivesFacing: 'take' }),
      fixture('teleporter', 'East portal', 5, 0, { heading: 90, to: { ...vec(1, 1), axes: 'own', of: 'west-portal' } }),
    ],
    chains: [
      chain(
        'Jump',
        [cause('enter', 'pad')],
        [step('teleport', { to: vec(3, 3), arrivesFacing: 'towards', facing: vec(3, 9) }), step('wait', { seconds: 1 })],
      ),
    ],
  });
  const from = (id: string): unknown => {
    const { collection, thing } = lookup(level).get(id)!;
    return arrivalsFrom(level, collection, thing);
  };
  expect(from('west-portal')).toEqual([{ room: 'yard', at: vec(6, 0), heading: 90 }]);
  expect(from('east-portal')).toEqual([{ room: 'yard', at: vec(-4, 1), heading: null }]);
  const jump = [{ room: 'yard', at: vec(3, 3), heading: 90 }];
  expect([from('jump'), from('pad')]).toEqual([jump, jump]);
});

describe('What is dragged near to other things', () => {
  const lines = snapLines(yard, 'yard', new Set(['post']));
  const post = boundsTogether(yard, new Set(['post']))!;

  it('comes to stand in line with them: edge to edge, middle to middle', () => {
    // The post is half a metre wide; the rail reaches from 1.5 to 2.5.
    expect(snapTo(lines, post, { x: -9.7, y: 0 }, 0.1)).toMatchObject({ by: { x: -9.75 } });
    const { by, guides } = snapTo(lines, post, { x: -10.04, y: 3.01 }, 0.1);
    expect(by.x).toBeCloseTo(-10, 9);
    expect(by.y).toBeCloseTo(3, 9);
    expect(guides).toHaveLength(2);
    expect(guides[0]!.from.x).toBe(2);
  });

  it('is left where it is when nothing is within reach', () => {
    expect(snapTo(lines, post, { x: 20.4, y: 20.4 }, 0.05)).toEqual({ by: { x: 20.4, y: 20.4 }, guides: [] });
  });

  it('wherever it is, is not taken farther than the reach, and lies on the lines that are shown', () => {
    const by = fc.record({ x: fc.double({ min: -40, max: 40, noNaN: true }), y: fc.double({ min: -40, max: 40, noNaN: true }) });
    fc.assert(
      fc.property(by, fc.double({ min: 0, max: 2, noNaN: true }), (wanted, reach) => {
        const found = snapTo(lines, post, wanted, reach);
        expect(Math.abs(found.by.x - wanted.x)).toBeLessThanOrEqual(reach + 1e-9);
        expect(Math.abs(found.by.y - wanted.y)).toBeLessThanOrEqual(reach + 1e-9);
        const own = {
          x: [post.west, (post.west + post.east) / 2, post.east],
          y: [post.south, (post.south + post.north) / 2, post.north],
        };
        for (const { from, to } of found.guides) {
          const axis = from.x === to.x ? 'x' : 'y';
          expect(Math.min(...own[axis].map((one) => Math.abs(one + found.by[axis] - from[axis])))).toBeLessThan(1e-9);
        }
        // By hand: no line that is nearer was passed over.
        for (const axis of ['x', 'y'] as const) {
          const nearest = Math.min(
            ...own[axis].flatMap((one) => [...lines[axis].at].map((at) => Math.abs(at - one - wanted[axis]))),
          );
          expect(Math.abs(found.by[axis] - wanted[axis])).toBeCloseTo(nearest <= reach ? nearest : 0, 9);
        }
      }),
    );
  });
});

describe('A group', () => {
  const told = (level: Level, edit: Edit | null): Level => (edit === null ? level : applied(level, edit));
  const grouped = told(yard, groupEdit(yard, ['post', 'rail', 'no-such-thing'], freeGroup(yard)));

  it('is taken in hand as a whole, in the room where it stands', () => {
    expect(groupOf(grouped, 'rail')).toEqual(groupOf(grouped, 'post'));
    expect(groupOf(grouped, 'rail').toSorted()).toEqual(['post', 'rail']);
    expect([groupOf(yard, 'rail'), groupOf(grouped, 'no-such-thing')]).toEqual([['rail'], ['no-such-thing']]);
    expect([freeGroup(yard), freeGroup(grouped)]).toEqual(['Group', 'Group 2']);
  });

  it('is dissolved, and then there is nothing left to dissolve', () => {
    const apart = told(grouped, groupEdit(grouped, ['post', 'rail'], ''));
    expect(groupOf(apart, 'rail')).toEqual(['rail']);
    expect(groupEdit(apart, ['post', 'rail'], '')).toBeNull();
  });

  it('is copied as a group of its own, and is read again as it was', () => {
    let made = 0;
    const by = { x: 1, y: 0 };
    const { edit, ids } = pasted(grouped, fragmentOf(grouped, ['post', 'rail'], false), () => `copy-${(made += 1)}`, { by });
    const twice = applied(grouped, edit);
    expect(groupOf(twice, ids[0]!).toSorted()).toEqual(ids.toSorted());
    expect(groupOf(twice, 'rail').toSorted()).toEqual(['post', 'rail']);
    expect(parseLevel(JSON.parse(JSON.stringify(twice)))).toEqual({ ok: true, level: twice });
  });
});

it('puts a wall along a line, from one end to the other, whichever way it is drawn', () => {
  const point = fc.record({ x: fc.integer({ min: -80, max: 80 }), y: fc.integer({ min: -80, max: 80 }) });
  fc.assert(
    fc.property(point, point, (a, b) => {
      fc.pre(a.x !== b.x || a.y !== b.y);
      const [from, to] = [vec(a.x / 4, a.y / 4, 1), vec(b.x / 4, b.y / 4, 1)];
      const wall = createWall(yard, 'wall', 'yard', from, to);
      expect(wall).toMatchObject({ name: 'Wall', at: { z: 1 }, size: { y: 0.4, z: 3 } });
      // Its ends, by its heading and length alone: within a millimetre or two, for its heading is brief.
      const along = { x: Math.cos((wall.heading * Math.PI) / 180), y: Math.sin((wall.heading * Math.PI) / 180) };
      const end = (way: number) => [wall.at.x + (way * along.x * wall.size.x) / 2, wall.at.y + (way * along.y * wall.size.x) / 2];
      const off = ([x, y]: number[], at: { x: number; y: number }) => Math.hypot(x! - at.x, y! - at.y);
      expect(Math.max(off(end(-1), from), off(end(1), to))).toBeLessThan(0.004);
    }),
  );
});
