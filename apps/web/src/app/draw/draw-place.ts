import { ChangeDetectionStrategy, Component, computed, inject, signal, viewChild } from '@angular/core';
import { createThing, stencilCollection } from '@nettlewick/core';
import type { Stencil } from '@nettlewick/core';
import { Board } from '../board/board';
import type { BoardPointer } from '../board/board';
import { tidy } from '../board/handles';
import type { Box, Point } from '../board/viewport';
import { Editor } from '../studio/editor';
import { stencils } from '../studio/command-table';
import { Commands } from '../studio/commands';
import type { Doing } from '../studio/commands';
import { Rooms } from '../studio/rooms';
import { Mark } from '../studio/mark';
import { ThingSheet } from './thing-sheet';
import { BoardMoves } from './board-moves';

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
  protected readonly commands = inject(Commands);
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
    const chosen = (): boolean => this.editor.selection().length > 0;
    // From the list of commands a stencil is placed in the middle at once.
    const drawing = stencils.map(({ name }): [string, Doing] => [
      `draw-${name}`,
      { run: (event) => (event === null ? this.place(name, this.plan().viewport.center()) : this.armed.set(name)) },
    ]);
    this.commands.offer({
      nudge: {
        when: (event) => (event?.target as Element).closest('nw-board, body')?.matches('nw-board, body') === true,
        run: (event) => this.nudge(event!),
      },
      turn: { when: chosen, run: () => this.moves.turnBy(15) },
      'turn-back': { when: chosen, run: () => this.moves.turnBy(-15) },
      duplicate: { when: chosen, run: () => this.editor.duplicate(this.editor.selection()) },
      delete: { when: chosen, run: () => this.editor.remove(this.editor.selection()) },
      'let-go': () => this.letGo(),
      fit: () => this.plan().fit(),
      'zoom-in': () => this.zoom(1.25),
      'zoom-out': () => this.zoom(0.8),
      ...Object.fromEntries(drawing),
    });
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

  protected tipOf(stencil: (typeof stencils)[number]['name']): string {
    return this.commands.tip(`draw-${stencil}`);
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

  private nudge(event: KeyboardEvent): void {
    const way = ways[event.key]!;
    const step = (this.snap() || 0.01) * (event.shiftKey ? 10 : 1);
    if (this.editor.selection().length === 0) this.plan().viewport.pan(-way.x * 60, way.y * 60);
    else this.moves.nudge({ x: way.x * step, y: way.y * step });
  }

  private letGo(): void {
    if (this.moves.cancel()) return;
    if (this.armed() !== null) this.armed.set(null);
    else this.editor.select();
  }
}

const ways: Record<string, Point> = {
  ArrowLeft: { x: -1, y: 0 },
  ArrowRight: { x: 1, y: 0 },
  ArrowUp: { x: 0, y: 1 },
  ArrowDown: { x: 0, y: -1 },
};
