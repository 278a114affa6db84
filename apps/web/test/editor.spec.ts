import { TestBed } from '@angular/core/testing';
import { createThing, emptyLevel, parseLevel, placeAt } from '@nettlewick/core';
import type { Level, Place } from '@nettlewick/core';
import { Editor } from '../src/app/state/editor';
import { openStore } from './opened';

const empty = emptyLevel('Yard');
const zone = createThing(empty, 'zone', 'pad', 'room-1', { x: 0, y: 0, z: 0 });

function editing(level: Level): Editor {
  TestBed.configureTestingModule({ providers: [Editor] });
  openStore(level);
  return TestBed.inject(Editor);
}

describe('Deleting', () => {
  it('the last room is refused with the reason, alone or with others', () => {
    const editor = editing({ ...empty, zones: [zone] } as Level);
    for (const ids of [['room-1'], ['pad', 'room-1']]) {
      editor.remove(ids);
      expect(editor.level().rooms).toHaveLength(1);
      expect(editor.level().zones).toHaveLength(1);
      expect(editor.notice()).toContain('Could not delete First room: a level needs at least one room');
    }
  });

  it('what others refer to says who, in causes, steps and conditions', () => {
    const chain = {
      ...{
        id: 'rings',
        name: 'Rings',
        enabled: true,
        guard: 'count("pad") > 1',
        whileRunning: 'ignore',
        delay: 0,
        givesUp: false,
      },
      causes: [],
      steps: [],
    } as unknown as Level['chains'][number];
    const editor = editing({ ...empty, zones: [zone], chains: [chain] } as Level);
    editor.remove(['pad']);
    expect(editor.level().zones).toEqual([]);
    expect(editor.notice()).toContain('Still referenced by “Rings”');
    editor.undo();
    expect(editor.level().zones).toHaveLength(1);
    expect(editor.notice()).toBeNull();
  });

  it('what nobody refers to says nothing', () => {
    const editor = editing({ ...empty, zones: [zone] } as Level);
    editor.remove(['pad']);
    expect(editor.notice()).toBeNull();
  });
});

describe('A place that is picked', () => {
  const place = { x: 9, y: 9, z: 0.5, room: '', of: '', axes: 'room', height: 'datum' } as const;
  const level = { ...empty, zones: [{ ...zone, at: { x: 2, y: 1, z: 1 }, heading: 90 }] } as Level;
  const picking = () => {
    const editor = editing(level);
    return (now: Partial<Place>, at: { x: number; y: number; z?: number }): Place =>
      placeAt(editor.level(), { ...place, ...now }, at, 'room-1', 'pad');
  };

  it('on the plan is as high as it was', () => {
    const pick = picking();
    expect(pick({}, { x: 3, y: 4 })).toEqual({ ...place, x: 3, y: 4 });
    expect(pick({ of: 'pad' }, { x: 3, y: 4 })).toEqual({ ...place, of: 'pad', x: 1, y: 3 });
  });

  it('in the section is as high as it is picked, from zero or from what it is relative to', () => {
    const pick = picking();
    expect(pick({}, { x: 3, y: 4, z: 2.5 })).toMatchObject({ x: 3, y: 4, z: 2.5 });
    expect(pick({ of: 'pad', axes: 'own' }, { x: 3, y: 4, z: 2.5 })).toMatchObject({ x: 3, y: -1, z: 1.5 });
    expect(pick({ height: 'ground' }, { x: 3, y: 4, z: 2.5 })).toMatchObject({ z: 0.5 });
  });
});

it('Walks that were found or walked live keep the level one that can be saved, however often the same is kept', () => {
  const editor = editing(empty);
  const instructions = [
    { id: 'wait-1', do: 'wait' as const, seconds: 1 },
    { id: 'wait-1', do: 'wait' as const, seconds: 2 },
  ];
  const long = 'Tries the second of the two leaves of the gate between the race and the old mill yard';
  const first = editor.addWalk(long, [{ visitor: 'player-1', instructions }]);
  const second = editor.addWalk(long, [{ visitor: 'player-1', instructions }], 30);
  expect(first.name).not.toBe(second.name);
  expect(parseLevel(JSON.parse(JSON.stringify(editor.level())))).toMatchObject({ ok: true });
  expect(editor.level().walks.map(({ routes }) => routes[0]!.instructions.length)).toEqual([0, 2, 2]);
});
