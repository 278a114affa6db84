import { TestBed } from '@angular/core/testing';
import { createThing, emptyLevel } from '@nettlewick/core';
import type { Level } from '@nettlewick/core';
import { Editor } from '../src/app/studio/editor';
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
      expect(editor.notice()).toContain('First room is the last room');
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
    expect(editor.notice()).toContain('“Rings” still refers to it');
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
