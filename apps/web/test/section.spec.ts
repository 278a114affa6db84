import { TestBed } from '@angular/core/testing';
import { createThing, emptyLevel } from '@nettlewick/core';
import type { Fixture, Level } from '@nettlewick/core';
import { Section } from '../src/app/board/section';
import type { SectionDrag } from '../src/app/board/section';
import { Viewport } from '../src/app/board/viewport';
import { poseHandles, withPose, withPoseBetween } from '../src/app/draw/poses';
import { SectionMoves } from '../src/app/draw/section-moves';
import { Tape, drawnTo } from '../src/app/draw/tape';
import type { Editor } from '../src/app/studio/editor';

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
  function dragged(thing: object, drag: Omit<SectionDrag, 'thing' | 'moved' | 'done'>): Record<string, unknown> {
    let tried: unknown[] = [];
    const editor = {
      find: () => ({ thing }),
      tryOut: (all: unknown[]) => (tried = all),
      keepTried: () => undefined,
    } as unknown as Editor;
    new SectionMoves(editor, () => 0.25).drag({ thing: 'l', moved: 40, done: true, ...drag });
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
      'between 0 3 1 drag for another key pose here',
      'pose 0 5 1 key pose 1, at 2 s',
      'between 1 5 2 drag for another key pose here',
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
