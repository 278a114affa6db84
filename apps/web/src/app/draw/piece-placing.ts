import { signal } from '@angular/core';
import { placePiece, tidy } from '@nettlewick/core';
import type { Answers, Point, SetPiece } from '@nettlewick/core';
import type { Pen } from '../editing/pen';
import type { Editor } from '../state/editor';

/** The list of set pieces beside the plan, and placing one of them. */
export class PiecePlacing {
  /** Whether the list is open, and the piece that is to be placed next. */
  readonly listing = signal(false);
  readonly piece = signal<SetPiece | null>(null);
  answers: Answers = {};

  constructor(
    private readonly editor: Editor,
    private readonly pen: Pen,
    private readonly room: () => string,
  ) {}

  /** Opens the list, with a piece chosen or none. */
  choose(piece: SetPiece | null): void {
    this.pen.take(null);
    this.answers = {};
    this.piece.set(piece);
    this.listing.set(true);
  }

  close(): void {
    this.listing.set(false);
    this.piece.set(null);
  }

  /** Places the chosen piece, in one step of undo, and selects all of it, so that it can be moved on. */
  place(at: Point): void {
    const piece = this.piece();
    if (piece === null) return;
    const where = { room: this.room(), at: { x: tidy(at.x), y: tidy(at.y) } };
    const { edit, select } = placePiece(this.editor.level(), piece, where, this.answers, (prefix) => this.editor.newId(prefix));
    this.editor.edit(edit);
    this.editor.select(...select.filter((id) => inRoom(this.editor.find(id)?.thing, where.room)));
    this.close();
  }
}

function inRoom(thing: unknown, room: string): boolean {
  return (thing as { room?: string } | undefined)?.room === room;
}
