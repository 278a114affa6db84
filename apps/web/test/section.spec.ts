import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import fc from 'fast-check';
import { boundsTogether, createThing, emptyLevel } from '@nettlewick/core';
import type { Fixture, Level, Stencil, Thing, Vector, Zone } from '@nettlewick/core';
import { Pinch } from '../src/app/board/pinch';
import { Section } from '../src/app/board/section';
import type { SectionDrag, SectionStroke } from '../src/app/board/section';
import type { Facing } from '../src/app/board/section-view';
import { namesAbove } from '../src/app/board/slabs';
import { Viewport } from '../src/app/board/viewport';
import { poseHandles, withPose, withPoseBetween } from '../src/app/editing/poses';
import { Pen } from '../src/app/editing/pen';
import { SectionLine } from '../src/app/draw/section-line';
import { SectionMoves, wider } from '../src/app/editing/section-moves';
import { Tape } from '../src/app/state/tape';
import { drawnTo } from '../src/app/draw/drawn-to';
import type { Editor } from '../src/app/state/editor';

const level: Level = {
  ...emptyLevel('Yard'),
  solids: [
    {
      id: 's',
      name: 'Block',
      room: 'room-1',
      at: { x: 4, y: 1, z: 0 },
      size: { x: 2, y: 1, z: 3 },
      heading: 0,
      visible: true,
    },
  ],
};

function shown(facing: 'north' | 'south' | 'east' | 'west') {
  const fixture = TestBed.createComponent(Section);
  const viewport = new Viewport();
  viewport.size.set({ width: 800, height: 400 });
  viewport.scale.set(20);
  fixture.componentRef.setInput('level', level);
  fixture.componentRef.setInput('room', 'room-1');
  fixture.componentRef.setInput('viewport', viewport);
  fixture.componentRef.setInput('facing', facing);
  fixture.componentRef.setInput('editable', true);
  fixture.detectChanges();
  const slab = (fixture.nativeElement as Element).querySelector<SVGRectElement>('[data-slab="s"]')!;
  const number = (name: string): number => Number(slab.getAttribute(name));
  return { fixture, viewport, slab, number };
}

it('stands on the axis of the plan: what is east in one is east in the other, and as wide', () => {
  const { viewport, number } = shown('north');
  expect(number('x')).toBeCloseTo(viewport.toScreen({ x: 3, y: 0 }).x);
  expect(number('width')).toBeCloseTo(40);
  expect(number('height')).toBeCloseTo(60);
});

it('looking south it is mirrored; looking east or west it shows what is north', () => {
  expect(shown('south').number('x')).toBeCloseTo(800 - 3 * 20 - 40 - 400);
  expect(shown('east').number('width')).toBeCloseTo(20);
  const [east, west] = [shown('east').number('x'), shown('west').number('x')];
  expect(east + 10 - 400).toBeCloseTo(-(west + 10 - 400));
});

it('a slab says how high it stands, for those who do not see it', () => {
  expect(shown('north').slab.getAttribute('aria-label')).toBe('Block, from 0 m to 3 m');
});

describe('A drag in the section', () => {
  const lift = {
    id: 'l',
    name: 'Lift',
    at: { x: 0, y: 0, z: 0 },
    size: { x: 2, y: 2, z: 0.2 },
    stops: [
      { x: 0, y: 0, z: 0 },
      { x: 0, y: 0, z: 3 },
    ],
  };
  function dragged(
    thing: object,
    drag: Omit<SectionDrag, 'thing' | 'moved' | 'done' | 'axis'> & Partial<SectionDrag>,
  ): Record<string, unknown> {
    let tried: unknown[] = [];
    const editor = {
      find: () => ({ thing }),
      tryOut: (all: unknown[]) => (tried = all),
      keepTried: () => undefined,
    } as unknown as Editor;
    new SectionMoves(editor, () => 0.25).drag({ thing: 'l', axis: 'x', moved: 40, done: true, ...drag });
    return tried[0] as Record<string, unknown>;
  }
  it('raises a stop, by the snap', () => {
    const { stops } = dragged(lift, { grip: { part: 'stop', at: 1 }, by: { x: 0, y: 0, z: 1.1 } });
    expect(stops).toEqual([
      { x: 0, y: 0, z: 0 },
      { x: 0, y: 0, z: 4 },
    ]);
  });
  it('makes it taller, and moves it along and up', () => {
    expect(dragged(lift, { grip: { part: 'top' }, by: { x: 0, y: 0, z: 0.5 } })['size']).toEqual({ x: 2, y: 2, z: 0.7 });
    expect(dragged(lift, { grip: { part: 'whole' }, by: { x: 1.1, y: 0, z: 0.3 } })['at']).toEqual({ x: 1, y: 0, z: 0.25 });
  });
});

describe('A side that is pulled in the section', () => {
  const zoned = fc.record({
    heading: fc.constantFrom(0, 90, 180, -90),
    x: fc.integer({ min: 1, max: 40 }),
    y: fc.integer({ min: 1, max: 40 }),
    way: fc.constantFrom('box', 'pillar', 'ball'),
  });
  const edges = (thing: Thing, axis: 'x' | 'y'): [number, number] => {
    const { west, east, south, north } = boundsTogether({ ...level, zones: [thing as Zone] }, new Set([thing.id]))!;
    return axis === 'x' ? [west, east] : [south, north];
  };

  it('goes where it is pulled and never through the other, which stays', () => {
    fc.assert(
      fc.property(
        zoned,
        fc.constantFrom('x' as const, 'y' as const),
        fc.constantFrom(-1 as const, 1 as const),
        fc.integer({ min: -60, max: 60 }),
        ({ heading, x, y, way }, axis, side, quarters) => {
          const size = { x: x / 4, y: y / 4 };
          const made = createThing(level, 'zone', 'z', 'room-1', { x: 1, y: -2, z: 0 }, size, way);
          const zone = { ...made, heading } as Thing & { at: Vector };
          const before = edges(zone, axis);
          const after = edges(wider(zone, axis, side, quarters / 4)!, axis);
          const [stays, goes] = side > 0 ? [0, 1] : [1, 0];
          expect(after[stays]).toBeCloseTo(before[stays]!, 3);
          const wanted = before[goes]! + quarters / 4;
          if (side * (wanted - before[stays]!) > 0.06) expect(after[goes]).toBeCloseTo(wanted, 3);
          else expect(after[1] - after[0]).toBeCloseTo(0.05, 3);
        },
      ),
    );
  });

  it('is none where its edges lie across', () => {
    const turned = { ...createThing(level, 'zone', 'z', 'room-1', { x: 1, y: -2, z: 0 }), heading: 30 } as Thing & { at: Vector };
    expect(wider(turned, 'x', 1, 1)).toBeNull();
  });
});

describe('The line of the section', () => {
  const facing = signal<Facing>('north');
  const room = { ...level.rooms[0]!, extents: { west: -4, east: 8, south: -6, north: 10 } };
  const line = new SectionLine(
    () => room,
    () => facing(),
    () => 20,
    () => true,
  );

  it.each([
    ['north', -6, 10],
    ['south', 10, -6],
    ['east', -4, 8],
    ['west', 8, -4],
  ] as const)('looking %s it lies before the room, goes in as far as the other side, and comes out again', (way, near, far) => {
    facing.set(way);
    const on = Math.sign(far - near);
    expect([line.cut(), line.depth()]).toEqual([null, (near + far) / 2]);
    line.by(2);
    expect([line.cut(), line.depth()]).toEqual([near + 2 * on, near + 2 * on]);
    line.by(100);
    expect(line.cut()).toBe(far);
    line.to({ x: near - on, y: near - on });
    expect(line.cut()).toBeNull();
  });

  it('cuts away what lies before it, but not what is selected', () => {
    const { fixture } = shown('north');
    const seen = (): number => (fixture.nativeElement as Element).querySelectorAll('[data-slab="s"]').length;
    const take = (cut: number, selection: string[]): number => {
      fixture.componentRef.setInput('cut', cut);
      fixture.componentRef.setInput('selection', selection);
      fixture.detectChanges();
      return seen();
    };
    // The block is a metre deep, about 1 m north.
    expect([take(1.4, []), take(1.6, []), take(1.6, ['s'])]).toEqual([1, 0, 1]);
  });
});

it('of many things it draws those in the stretch that is in view, the nearest of too many, and says how many it leaves out', () => {
  const { fixture, viewport } = shown('north');
  const block = level.solids[0]!;
  // A hundred in each of four rows, one behind the other, from 20 m west to 79 m east.
  const solids = Array.from({ length: 400 }, (_, i) => ({
    ...block,
    id: `s${i}`,
    at: { x: (i % 100) - 20, y: Math.floor(i / 100), z: 0 },
    size: { x: 0.5, y: 0.5, z: 1 },
  }));
  fixture.componentRef.setInput('level', { ...level, solids });
  const look = (x: number, scale: number): { rows: number[]; said: string } => {
    viewport.center.set({ x, y: 0 });
    viewport.scale.set(scale);
    fixture.detectChanges();
    const element = fixture.nativeElement as Element;
    const drawn = [...element.querySelectorAll('[data-slab]')].map((one) => Number(one.getAttribute('data-slab')!.slice(1)));
    const rows = [0, 1, 2, 3].map((row) => drawn.filter((i) => Math.floor(i / 100) === row).length);
    return { rows, said: element.querySelector('.left')?.textContent.trim() ?? '' };
  };
  // The player of a new level stands here, too.
  expect(look(30, 5)).toEqual({ rows: [100, 100, 100, 0], said: expect.stringContaining('101 more not drawn') as string });
  // 40 m are in view, from -20.25 m to 19.75 m: what stands at -20 to 20, for the last has a half that reaches in.
  expect(look(-0.25, 20)).toEqual({ rows: [41, 41, 41, 41], said: '' });
  fixture.componentRef.setInput('cut', 2.5);
  expect(look(30, 5)).toEqual({ rows: [0, 0, 0, 100], said: '' });
  fixture.componentRef.setInput('selection', ['s7']);
  expect(look(30, 5).rows).toEqual([1, 0, 0, 100]);
});

describe('Two fingers', () => {
  it('stretch what is between them about their middle, and take it along', () => {
    const pinch = new Pinch();
    expect([pinch.down(1, { x: 100, y: 50 }, true), pinch.move(1, { x: 120, y: 50 })]).toEqual([false, null]);
    expect(pinch.down(2, { x: 220, y: 50 }, false)).toBe(true);
    expect(pinch.move(2, { x: 320, y: 50 })).toEqual({ factor: 2, middle: { x: 220, y: 50 }, dx: 50, dy: 0 });
    pinch.up(1);
    expect(pinch.move(2, { x: 0, y: 0 })).toBeNull();
    // The other was never seen to be lifted: it counts no more when a first one comes again.
    expect(pinch.down(3, { x: 0, y: 0 }, true)).toBe(false);
  });
});

describe('A pen in the section', () => {
  const stroke = {
    axis: 'x',
    from: { x: 1.1, y: 3, z: 0.1 },
    to: { x: 4.1, y: 3, z: 2.4 },
    free: false,
    moved: 40,
    done: true,
  } as const;
  function drawn(stencil: Stencil, how: Partial<SectionStroke> = {}, variant?: string): Record<string, unknown> {
    let made: unknown;
    const editor = {
      level: () => level,
      newId: () => 'made',
      add: (_collection: string, thing: unknown) => (made = thing),
      select: () => undefined,
    } as unknown as Editor;
    const snapped = ({ x, y }: { x: number; y: number }) => ({ x: Math.round(x * 4) / 4, y: Math.round(y * 4) / 4 });
    const pen = new Pen(editor, () => 'room-1', snapped);
    pen.take(stencil, variant);
    pen.drawUpright({ ...stroke, ...how });
    expect([pen.armed(), pen.upright()]).toEqual([null, null]);
    return made as Record<string, unknown>;
  }

  it('draws how wide and how high it is, as deep as usual, on the line of the section', () => {
    expect(drawn('solid')).toMatchObject({ at: { x: 2.5, y: 3, z: 0 }, size: { x: 3, y: 0.4, z: 2.5 } });
    expect(drawn('door', {}, 'rise')).toMatchObject({ size: { x: 3, y: 0.2, z: 2.5 }, travel: { x: 0, y: 0, z: 2.5 } });
    const east = { axis: 'y', from: { x: 2, y: 5, z: 3 }, to: { x: 2, y: 3, z: 1 } } as const;
    expect(drawn('zone', east)).toMatchObject({ at: { x: 2, y: 4, z: 1 }, shape: { size: { x: 2, y: 2, z: 2 } } });
    expect(drawn('zone', east, 'ball')).toMatchObject({ at: { x: 2, y: 4, z: 2 }, shape: { radius: 1 } });
  });

  it('places as large as usual where it is clicked', () => {
    expect(drawn('elevator', { moved: 0 })).toMatchObject({ at: { x: 4, y: 3, z: 2.5 }, size: { x: 2, y: 2, z: 0.2 } });
  });
});

describe('The tape', () => {
  it('is drawn to a corner, the middle of an edge or of a thing that is near, and lies free elsewhere', () => {
    expect(drawnTo(level, 'room-1', { x: 3.1, y: 0.45 }, 0.3)).toEqual({ x: 3, y: 0.5 });
    expect(drawnTo(level, 'room-1', { x: 4.1, y: 1.45 }, 0.3)).toEqual({ x: 4, y: 1.5 });
    expect(drawnTo(level, 'room-1', { x: 4.1, y: 1.05 }, 0.3)).toEqual({ x: 4, y: 1 });
    expect(drawnTo(level, 'room-1', { x: 0.2, y: 5.4 }, 0.3)).toEqual({ x: 0.2, y: 5.4 });
    expect(drawnTo(level, 'elsewhere', { x: 3.1, y: 0.45 }, 0.3)).toEqual({ x: 3.1, y: 0.45 });
  });

  it('says its length, and how much of it goes east and north', () => {
    const tape = new Tape();
    expect(tape.numbers()).toEqual([]);
    tape.measure({ from: { x: 1, y: 1, z: 0 }, to: { x: 4, y: -3, z: 0 }, on: 'plan' });
    expect(tape.numbers().map(({ label, value }) => `${label} ${value}`)).toEqual(['length 5', 'east 3', 'north -4']);
  });

  it('in a section says how much of it goes along the axis that is seen, and up', () => {
    const tape = new Tape();
    tape.measure({ from: { x: 0, y: 2, z: 1 }, to: { x: 0, y: 5, z: 5 }, on: 'y' });
    expect(tape.numbers().map(({ label, value }) => `${label} ${value}`)).toEqual(['length 5', 'north 3', 'up 4']);
  });
});

describe('The way of what moves, on the plan', () => {
  const frame = (x: number, y: number, seconds: number) => ({ by: { x, y, z: 0 }, turn: 0, seconds });
  const mover = createThing(level, 'mover', 'sifter', 'room-1', { x: 1, y: 1, z: 0 }) as Fixture & { kind: 'mover' };
  const sifter = { ...mover, keyframes: [frame(4, 0, 2), frame(4, 2, 1)] };

  it('has a tag for each key pose with its time, and a spot for another between each two', () => {
    expect(poseHandles(sifter).map(({ name, at, title }) => `${name} ${at.x} ${at.y} ${title.split(':')[0]}`)).toEqual([
      'between 0 3 1 Drag to add a keyframe',
      'pose 0 5 1 key pose 1, at 2 s',
      'between 1 5 2 Drag to add a keyframe',
      'pose 1 5 3 key pose 2, at 3 s',
    ]);
    expect(poseHandles(createThing(level, 'zone', 'spot', 'room-1', { x: 0, y: 0, z: 0 }))).toEqual([]);
  });

  it('a pose between two others takes its share of their time, by how far it is', () => {
    const longer = withPoseBetween(sifter, 0, { x: 2, y: 1 }) as typeof sifter;
    expect(longer.keyframes).toEqual([frame(1, 0, 0.5), frame(4, 0, 1.5), frame(4, 2, 1)]);
    expect(withPoseBetween(sifter, 9, { x: 2, y: 1 })).toBeNull();
  });

  it('a door that slides is pulled by its end; one that sinks keeps its way along the ground', () => {
    const door = createThing(level, 'door', 'gate', 'room-1', { x: 0, y: 0, z: 0 }) as Fixture & { kind: 'door' };
    expect(poseHandles(door)).toHaveLength(1);
    expect(withPose(door, 0, () => ({ x: 2, y: 1, z: 0 }))).toMatchObject({ travel: { x: 2, y: 1, z: 0 }, showing: null });
    const sinking = { ...door, manner: 'sink' as const, travel: { x: 0, y: 0, z: -2 } };
    expect(poseHandles(sinking)).toEqual([]);
    expect(withPose(sinking, 0, () => ({ x: 2, y: 1, z: -3 }))).toMatchObject({ travel: { x: 0, y: 0, z: -3 } });
  });
});

it('Names of what is chosen never lie on each other: the larger thing has its own above it, the other a line higher, or none', () => {
  const slab = (id: string, x: number, width: number, y = 100) => ({ id, name: `At the ${id}`, x, y, width, height: 40 });
  const names = namesAbove([slab('door', 20, 10, 104), slab('doorstep', 0, 60), slab('gate', 300, 20)]);
  expect(names.get('doorstep')).toBe(92);
  expect(names.get('gate')).toBe(92);
  expect(names.get('door')!).toBeLessThanOrEqual(92 - 14);
  const crowd = namesAbove(Array.from({ length: 9 }, (_, i) => slab(`door ${i}`, 0, 10)));
  const lines = [...crowd.values()].sort((a, b) => a - b);
  expect(lines.length).toBeGreaterThan(2);
  lines.slice(1).forEach((base, i) => expect(base - lines[i]!).toBeGreaterThanOrEqual(14));
});
