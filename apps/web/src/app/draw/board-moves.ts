import { change } from '@nettlewick/core';
import type { Edit, Thing, Vector } from '@nettlewick/core';
import type { BoardPointer } from '../board/board';
import { footingOf, headingTo, resized, tidy } from '../board/handles';
import type { Footing, HandleName } from '../board/handles';
import type { Box, Point } from '../board/viewport';
import type { Editor } from '../studio/editor';

/**
 * Selecting, moving, resizing and turning things on the board. What a drag would come to is only tried while it lasts, and becomes
 * one edit when it is let go.
 */
export class BoardMoves {
  private gesture: { from: Point; footings: Footing[]; handle: HandleName | null } | null = null;

  /** Where what is in hand was clicked last, and whether it is pressed there again. */
  private clicked: { at: Point; thing: string } | null = null;
  private pressedAgain = false;

  constructor(
    private readonly editor: Editor,
    /** The distance between the lines that things snap to, in metres; 0 for none. */
    private readonly step: () => number,
  ) {}

  snapped(at: Point): Point {
    const step = this.step();
    if (step === 0) return { x: tidy(at.x), y: tidy(at.y) };
    return { x: tidy(Math.round(at.x / step) * step), y: tidy(Math.round(at.y / step) * step) };
  }

  press({ at, thing, heap, handle, shift }: BoardPointer): void {
    const [alone, ...others] = this.editor.selection();
    const again = this.clicked !== null && others.length === 0 && alone === this.clicked.thing && heap.includes(alone);
    this.pressedAgain = again && !shift && handle === null && this.isNear(at, this.clicked!.at);
    if (handle === null) {
      if (thing === null) return;
      if (!this.pressedAgain) this.editor.take(thing, shift);
    }
    this.gesture = { from: at, footings: this.footings(), handle };
  }

  drag({ at, moved, alt }: BoardPointer): void {
    if (this.gesture === null || moved < 4) return;
    const { handle, footings, from } = this.gesture;
    const [first] = footings;
    if (first === undefined) return;
    if (handle === null) {
      const lead = first.thing.at;
      const wanted = { x: lead.x + at.x - from.x, y: lead.y + at.y - from.y };
      const target = alt ? { x: tidy(wanted.x), y: tidy(wanted.y) } : this.snapped(wanted);
      this.editor.tryOut(shifted(footings, { x: target.x - lead.x, y: target.y - lead.y }));
    } else if (handle === 'turn') {
      const degrees = headingTo(first.thing.at, at);
      this.editor.tryOut([{ ...first.thing, heading: alt ? degrees : wrapped(Math.round(degrees / 15) * 15) } as Thing]);
    } else {
      const changed = resized(first, handle, alt ? at : this.snapped(at), 0.05);
      if (changed === null) return;
      const { thing } = first;
      const size = 'shape' in thing ? { shape: { ...thing.shape, size: changed.size } } : { size: changed.size };
      this.editor.tryOut([{ ...thing, at: changed.at, ...size } as Thing]);
    }
  }

  release({ at, moved, thing, heap, handle, shift }: BoardPointer): void {
    const dragged = this.gesture;
    this.gesture = null;
    if (dragged !== null) this.editor.keepTried(dragged.handle === null ? 'move' : dragged.handle === 'turn' ? 'turn' : 'resize');
    if (moved >= 4 || handle !== null || shift) {
      this.clicked = null;
      return;
    }
    if (thing === null) {
      this.clicked = null;
      this.editor.select();
      return;
    }
    // Clicked again where it was: what lies under it, and from the lowest the topmost again.
    const now = this.editor.selection()[0] ?? thing;
    if (this.pressedAgain) this.editor.select(heap[(heap.indexOf(now) + 1) % heap.length] ?? now);
    this.clicked = { at, thing: this.editor.selection()[0] ?? thing };
  }

  private isNear(a: Point, b: Point): boolean {
    return Math.hypot(a.x - b.x, a.y - b.y) < Math.max(0.05, this.step() / 2);
  }

  /** Lets everything be as it was before the gesture; says whether there was one. */
  cancel(): boolean {
    const begun = this.gesture !== null;
    this.gesture = null;
    this.editor.forgetTried();
    return begun;
  }

  nudge(by: Point): void {
    this.send(
      this.footings().map(({ collection, thing }) => change(collection, thing, { at: moved(thing.at, by) } as Partial<Thing>)),
      'move',
      `nudge ${this.editor.selection().join(' ')}`,
    );
  }

  turnBy(degrees: number): void {
    this.send(
      this.footings().map(({ collection, thing }) =>
        change(collection, thing as Thing & { heading: number }, { heading: wrapped(thing.heading + degrees) }),
      ),
      'turn',
      `turn ${this.editor.selection().join(' ')}`,
    );
  }

  /** The things of a room whose middle lies in a rectangle. */
  within(box: Box, room: string): string[] {
    const level = this.editor.level();
    return [...level.solids, ...level.zones, ...level.fixtures, ...level.visitors]
      .filter(
        (thing) =>
          thing.room === room &&
          thing.at.x >= box.west &&
          thing.at.x <= box.east &&
          thing.at.y >= box.south &&
          thing.at.y <= box.north,
      )
      .map((thing) => thing.id);
  }

  private footings(): Footing[] {
    const level = this.editor.level();
    return this.editor.selection().flatMap((id) => footingOf(level, id) ?? []);
  }

  private send(edits: Edit[], label: string, gesture: string): void {
    if (edits.length === 0) return;
    this.editor.edit(edits.length === 1 ? edits[0]! : { kind: 'all', label, edits }, gesture);
  }
}

function shifted(footings: readonly Footing[], by: Point): Thing[] {
  return footings.map(({ thing }) => ({ ...thing, at: moved(thing.at, by) }));
}

function moved(at: Vector, by: Point): Vector {
  return { ...at, x: tidy(at.x + by.x), y: tidy(at.y + by.y) };
}

function wrapped(degrees: number): number {
  const turned = ((((degrees + 180) % 360) + 360) % 360) - 180;
  return tidy(turned);
}
