import { TestBed } from '@angular/core/testing';
import { createThing, emptyLevel } from '@nettlewick/core';
import type { Level } from '@nettlewick/core';
import type { BoardPointer } from '../src/app/board/board';
import { gesturesOn } from '../src/app/board/gestures';
import type { Gestured } from '../src/app/board/gestures';
import { Viewport } from '../src/app/board/viewport';
import { BoardMoves } from '../src/app/editing/board-moves';
import { Snap } from '../src/app/editing/snap';
import { Editor } from '../src/app/state/editor';
import { openStore } from './opened';

// What a hand does on the plan, as far as it needs no picture.

const empty = emptyLevel('Yard');
const at = (x: number, y = 0) => ({ x, y, z: 0 });
const yard: Level = {
  ...empty,
  rooms: [...empty.rooms, createThing(empty, 'room', 'loft', '', at(0))],
  solids: [createThing(empty, 'solid', 'bin', 'room-1', at(6.07, 3))],
  zones: [createThing(empty, 'zone', 'step', 'room-1', at(0))],
  fixtures: [createThing(empty, 'door', 'gate', 'room-1', at(3)), createThing(empty, 'door', 'hatch', 'loft', at(3))],
} as Level;

function begin(): { editor: Editor; moves: BoardMoves } {
  TestBed.configureTestingModule({ providers: [Editor, Snap] });
  openStore(yard);
  const editor = TestBed.inject(Editor);
  return { editor, moves: new BoardMoves(editor, TestBed.inject(Snap), () => 0.3) };
}
const pointer = (x: number, y: number, more: Partial<BoardPointer> = {}): BoardPointer =>
  ({ at: { x, y }, moved: 40, thing: null, heap: [], handle: null, shift: false, alt: false, ...more }) as BoardPointer;
const thing = (editor: Editor, id: string): { at: { x: number; y: number }; heading: number } => editor.find(id)!.thing as never;

it('a rectangle takes what stands in it, of the room that is shown alone', () => {
  const { moves } = begin();
  const all = { west: -1, east: 7, south: -1, north: 4 };
  expect(moves.within(all, 'room-1')).toEqual(['bin', 'step', 'gate']);
  expect(moves.within(all, 'loft')).toEqual(['hatch']);
  expect(moves.within({ ...all, east: 5 }, 'room-1')).toEqual(['step', 'gate']);
});

it('a thing is turned to multiples of 15°, with Alt to any heading', () => {
  const { editor, moves } = begin();
  editor.select('gate');
  const turn = (x: number, y: number, alt: boolean): number => {
    const to = pointer(x, y, { handle: 'turn', alt });
    moves.press(pointer(4, 0, { handle: 'turn' }));
    moves.drag(to);
    moves.release(to);
    return thing(editor, 'gate').heading;
  };
  const towards = (degrees: number): [number, number] => [
    3 + Math.cos((degrees * Math.PI) / 180),
    Math.sin((degrees * Math.PI) / 180),
  ];
  expect(turn(...towards(32), false)).toBe(30);
  expect(turn(...towards(98), false)).toBe(105);
  expect(turn(...towards(-20), false)).toBe(-15);
  expect(turn(...towards(32), true)).toBeCloseTo(32);
});

it('what is dragged is brought to the middle of another thing by a guide, which is gone when it is released', () => {
  const { editor, moves } = begin();
  editor.select('gate');
  moves.press(pointer(3, 0, { thing: 'gate', heap: ['gate'] }));
  moves.drag(pointer(6.1, 0, { thing: 'gate' }));
  expect(moves.guides().length).toBeGreaterThan(0);
  expect(editor.tried().size).toBe(1);
  expect(thing(editor, 'gate').at.x).toBe(3);
  moves.release(pointer(6.1, 0, { thing: 'gate', heap: ['gate'] }));
  expect(moves.guides()).toEqual([]);
  expect(thing(editor, 'gate').at.x).toBe(6.07);
  expect(editor.tried().size).toBe(0);
});

it('a drag that is cancelled leaves everything as it was, and nothing to undo', () => {
  const { editor, moves } = begin();
  editor.select('gate');
  moves.press(pointer(3, 0, { thing: 'gate', heap: ['gate'] }));
  moves.drag(pointer(6.1, 0, { thing: 'gate' }));
  expect(moves.cancel()).toBe(true);
  expect([moves.guides().length, editor.tried().size, thing(editor, 'gate').at.x, editor.canUndo()]).toEqual([0, 0, 3, false]);
  moves.release(pointer(6.1, 0, { thing: 'gate', heap: ['gate'] }));
  expect(editor.canUndo()).toBe(false);
});

it('a pointer that is taken away cancels what it had begun: its release is none, and another pointer’s is nobody’s business', () => {
  const board = document.createElement('div');
  board.setPointerCapture = () => undefined;
  const heard: string[] = [];
  const gestured: Gestured = {
    pans: () => false,
    pressed: () => heard.push('pressed'),
    moved: () => undefined,
    released: () => heard.push('released'),
    cancelled: () => heard.push('cancelled'),
    left: () => undefined,
    viewMoved: () => undefined,
  };
  const stop = gesturesOn(board, new Viewport(), gestured);
  const send = (type: string, pointerId: number): void => {
    const event = new MouseEvent(type, { button: 0 });
    board.dispatchEvent(Object.assign(event, { pointerId, isPrimary: true }));
  };
  send('pointerdown', 1);
  send('pointercancel', 2);
  send('pointercancel', 1);
  send('pointerup', 1);
  expect(heard).toEqual(['pressed', 'cancelled']);
  send('pointerdown', 1);
  send('pointerup', 1);
  expect(heard.slice(2)).toEqual(['pressed', 'released']);
  stop();
  send('pointerdown', 1);
  expect(heard).toHaveLength(4);
});
