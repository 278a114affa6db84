import { ChangeDetectionStrategy, Component, computed, inject, signal, viewChild } from '@angular/core';
import { createThing, fixtureNames, kindOfFixture, stencilCollection } from '@nettlewick/core';
import type { Stencil } from '@nettlewick/core';
import { Board } from '../board/board';
import type { BoardPointer } from '../board/board';
import { tidy } from '../board/handles';
import type { Box, Point } from '../board/viewport';
import { Editor } from '../studio/editor';
import { Keys } from '../studio/keys';
import { Rooms } from '../studio/rooms';
import { Mark } from '../studio/mark';
import { ThingSheet } from './thing-sheet';
import { BoardMoves } from './board-moves';

const stencils: { name: Exclude<Stencil, 'room'>; word: string; key: string }[] = [
  { name: 'zone', word: 'Zone', key: 'z' },
  ...fixtureNames.flatMap((name) => {
    const { key, firstName } = kindOfFixture(name);
    return key === undefined ? [] : [{ name, word: firstName, key }];
  }),
  { name: 'solid', word: 'Solid', key: 'b' },
  { name: 'player', word: 'Player', key: 'y' },
  { name: 'creature', word: 'Creature', key: 'c' },
  { name: 'prop', word: 'Prop', key: 'x' },
];

const steps = [0, 0.1, 0.25, 0.5, 1];

/** The first place: the room drawn to scale, and the thing in hand described beside it. */
@Component({
  selector: 'nw-draw-place',
  imports: [Mark, Board, ThingSheet],
  templateUrl: './draw-place.html',
  styleUrl: './draw-place.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class DrawPlace {
  protected readonly editor = inject(Editor);
  protected readonly rooms = inject(Rooms);
  protected readonly stencils = stencils;
  protected readonly snaps = steps;
  protected readonly armed = signal<Stencil | null>(null);
  protected readonly snap = signal(0.25);
  protected readonly draft = signal<Box | null>(null);
  protected readonly plan = viewChild.required(Board);
  private readonly moves = new BoardMoves(this.editor, () => this.snap());
  private from: Point | null = null;

  protected readonly pointerText = computed(() => {
    const at = this.plan().pointer();
    return at === null ? '' : `${at.x.toFixed(2)} east, ${at.y.toFixed(2)} north`;
  });
  protected readonly scaleText = computed(() => `1 m = ${Math.round(this.plan().viewport.scale())} px`);

  constructor() {
    inject(Keys).handle((event) => this.key(event));
  }

  /** A press of a stencil's button: arms it for the next drag; with the keyboard the thing is placed in the middle at once. */
  protected take(stencil: Stencil, event: MouseEvent): void {
    if (event.detail === 0) this.place(stencil, this.plan().viewport.center());
    else this.armed.update((now) => (now === stencil ? null : stencil));
  }

  protected onPressed(pointer: BoardPointer): void {
    if (this.armed() !== null || (pointer.shift && pointer.thing === null && pointer.handle === null)) {
      this.from = pointer.at;
      return;
    }
    this.moves.press(pointer);
  }

  protected onDragged(pointer: BoardPointer): void {
    if (this.from === null) {
      this.moves.drag(pointer);
      return;
    }
    if (pointer.moved < 4) return;
    const snapped = this.armed() !== null && !pointer.alt;
    const a = snapped ? this.moves.snapped(this.from) : this.from;
    const b = snapped ? this.moves.snapped(pointer.at) : pointer.at;
    this.draft.set({ west: Math.min(a.x, b.x), east: Math.max(a.x, b.x), south: Math.min(a.y, b.y), north: Math.max(a.y, b.y) });
  }

  protected onReleased(pointer: BoardPointer): void {
    const stencil = this.armed();
    const draft = this.draft();
    const drawing = this.from !== null;
    this.from = null;
    this.draft.set(null);
    if (!drawing) {
      this.moves.release(pointer);
    } else if (stencil === null) {
      if (draft !== null) this.editor.select(...this.moves.within(draft, this.rooms.current()));
    } else if (draft !== null && draft.east > draft.west && draft.north > draft.south) {
      const size = { x: tidy(draft.east - draft.west), y: tidy(draft.north - draft.south) };
      this.place(stencil, { x: (draft.west + draft.east) / 2, y: (draft.south + draft.north) / 2 }, size);
    } else {
      this.place(stencil, pointer.alt ? pointer.at : this.moves.snapped(pointer.at));
    }
  }

  /** A second finger came, or the pointer was taken away: nothing is done. */
  protected onCancelled(): void {
    this.from = null;
    this.draft.set(null);
    this.moves.cancel();
  }

  protected zoom(factor: number): void {
    this.plan().viewport.zoom(factor);
  }

  private place(stencil: Stencil, at: Point, size?: { x: number; y: number }): void {
    const level = this.editor.level();
    const room = level.rooms.find((one) => one.id === this.rooms.current());
    const id = this.editor.newId(stencil);
    const thing = createThing(level, stencil, id, room?.id ?? '', { x: tidy(at.x), y: tidy(at.y), z: room?.ground ?? 0 }, size);
    this.armed.set(null);
    this.editor.add(stencilCollection[stencil], thing);
    this.editor.select(id);
  }

  private key(event: KeyboardEvent): boolean {
    if (event.ctrlKey || event.metaKey) {
      if (event.key.toLowerCase() !== 'd' || this.editor.selection().length === 0) return false;
      this.editor.duplicate(this.editor.selection());
      return true;
    }
    const stencil = stencils.find((one) => one.key === event.key.toLowerCase());
    if (stencil !== undefined && !event.altKey) {
      this.armed.set(stencil.name);
      return true;
    }
    switch (event.key) {
      case 'Escape':
        if (this.moves.cancel()) return true;
        if (this.armed() !== null) this.armed.set(null);
        else this.editor.select();
        return true;
      case 'f':
        this.plan().fit();
        return true;
      case '+':
      case '=':
        this.zoom(1.25);
        return true;
      case '-':
        this.zoom(0.8);
        return true;
      case 'Delete':
      case 'Backspace':
        this.editor.remove(this.editor.selection());
        return true;
      case 'r':
      case 'R':
        this.moves.turnBy(event.shiftKey ? -15 : 15);
        return true;
      default:
        return this.arrow(event);
    }
  }

  private arrow(event: KeyboardEvent): boolean {
    const ways: Record<string, Point> = {
      ArrowLeft: { x: -1, y: 0 },
      ArrowRight: { x: 1, y: 0 },
      ArrowUp: { x: 0, y: 1 },
      ArrowDown: { x: 0, y: -1 },
    };
    const way = ways[event.key];
    if (way === undefined || !(event.target as Element).closest('nw-board, body')?.matches('nw-board, body')) return false;
    const step = (this.snap() || 0.01) * (event.shiftKey ? 10 : 1);
    if (this.editor.selection().length === 0) this.plan().viewport.pan(-way.x * 60, way.y * 60);
    else this.moves.nudge({ x: way.x * step, y: way.y * step });
    return true;
  }
}
