import { computed, signal } from '@angular/core';
import { createThing, createWall, fitted, stencils, variantsOf, tidy } from '@nettlewick/core';
import type { Fixture, Stencil, Thing, Vector, Point } from '@nettlewick/core';
import type { Pin } from '../board/pins';
import type { SectionStroke } from '../board/section';
import type { Box } from '../board/viewport';
import type { Editor } from '../state/editor';

interface Stroke {
  from: Point;
  to: Point;
}

/** The pen in hand: what a stroke over the plan draws, and what has been drawn of it so far. Without a stencil it marks things out. */
export class Pen {
  /** What it draws next. */
  readonly armed = signal<Stencil | null>(null);
  /** In which ways that can be drawn, and which of them it is. */
  readonly variants = computed(() => {
    const stencil = this.armed();
    return stencil === null ? [] : variantsOf(stencil);
  });
  private readonly chosen = signal<string | undefined>(undefined);
  readonly variant = computed(() => this.chosen() ?? this.variants()[0]?.id);
  private pressed: Point | null = null;
  private readonly stroke = signal<Stroke | null>(null);
  /** What has been drawn so far in the section: two corners. */
  readonly upright = signal<{ from: Vector; to: Vector } | null>(null);
  /** Whether it draws along a line, from end to end; a rectangle otherwise. */
  readonly isLine = computed(() => this.armed() === 'wall');
  readonly box = computed<Box | null>(() => {
    const stroke = this.stroke();
    return stroke === null || this.isLine() ? null : around(stroke);
  });
  /** The line of the stroke, and how long it is at its end. */
  readonly lines = computed<Point[][]>(() => {
    const stroke = this.stroke();
    return stroke === null || !this.isLine() ? [] : [[stroke.from, stroke.to]];
  });
  readonly pins = computed<Pin[]>(() =>
    this.lines().map(([from, to]) => {
      const text = `${tidy(Math.hypot(to!.x - from!.x, to!.y - from!.y))} m`;
      return { id: 'wall', at: to!, text, label: `The wall is ${text} long` };
    }),
  );

  /** `room` is the one that lies open, `snapped` a point drawn to the grid. */
  constructor(
    private readonly editor: Editor,
    private readonly room: () => string,
    private readonly snapped: (at: Point) => Point,
  ) {}

  /** Takes a stencil in hand, to be drawn in one of its ways; null gives it back. */
  take(stencil: Stencil | null, variant?: string): void {
    this.armed.set(stencil);
    this.chosen.set(variant);
    this.drop();
  }

  /** Takes a stencil in hand or, if it is, the next of its ways. */
  takeOn(stencil: Stencil): void {
    const ways = this.variants();
    const at = ways.findIndex(({ id }) => id === this.variant());
    this.take(stencil, this.armed() === stencil ? ways[(at + 1) % ways.length]?.id : undefined);
  }

  isDown(): boolean {
    return this.pressed !== null;
  }

  press(at: Point): void {
    this.pressed = at;
  }

  /** Draws on; `free` of the grid if that is wished, as whatever is only marked out is. */
  draw(to: Point, free: boolean): void {
    const end = (at: Point): Point => (free || this.armed() === null ? at : this.snapped(at));
    this.stroke.set({ from: end(this.pressed!), to: end(to) });
  }

  /** Lifts it. What was drawn is made, where it was lifted if nothing was; gives the rectangle that was marked out, or null. */
  lift(at: Point, free: boolean): Box | null {
    const [stencil, stroke, box] = [this.armed(), this.stroke(), this.box()];
    const variant = this.variant();
    this.drop();
    if (stencil === null) return box;
    if (box !== null && box.east > box.west && box.north > box.south) {
      const size = { x: tidy(box.east - box.west), y: tidy(box.north - box.south) };
      this.place(stencil, { x: (box.west + box.east) / 2, y: (box.south + box.north) / 2 }, variant, size);
    } else if (box === null && stroke !== null && (stroke.from.x !== stroke.to.x || stroke.from.y !== stroke.to.y)) {
      const { room, ground } = this.where();
      this.put(
        stencil,
        createWall(this.editor.level(), this.editor.newId(stencil), room, { ...stroke.from, z: ground }, stroke.to),
      );
    } else {
      this.place(stencil, free ? at : this.snapped(at), variant);
    }
    return null;
  }

  /**
   * Draws in the section: how wide and how high something is, and on what height it stands; as deep as usual, about where the section
   * is taken. A click places it as large as usual.
   */
  drawUpright({ axis, from, to, free, moved, done }: SectionStroke): void {
    const end = (at: Vector): Vector => {
      const z = free ? at.z : this.snapped({ x: at.z, y: 0 }).x;
      return { ...at, [axis]: free ? at[axis] : this.snapped({ x: at[axis], y: 0 }).x, z };
    };
    const [first, last] = [end(from), end(to)];
    if (moved >= 4) this.upright.set({ from: first, to: last });
    if (!done) return;
    const [stencil, variant] = [this.armed(), this.variant()];
    this.drop();
    if (stencil === null) return;
    const [wide, high] = [tidy(Math.abs(last[axis] - first[axis])), tidy(Math.abs(last.z - first.z))];
    const drawn = moved >= 4 && (wide > 0 || high > 0);
    const at = drawn ? { ...first, [axis]: tidy((first[axis] + last[axis]) / 2), z: Math.min(first.z, last.z) } : last;
    const size = drawn ? { ...(wide > 0 ? { [axis]: wide } : {}), ...(high > 0 ? { z: high } : {}) } : {};
    this.put(
      stencil,
      createThing(this.editor.level(), stencil, this.editor.newId(stencil), this.where().room, at, size, variant),
    );
  }

  /** What was drawn so far is nothing. */
  drop(): void {
    this.pressed = null;
    this.stroke.set(null);
    this.upright.set(null);
  }

  /**
   * Makes what a stencil makes, its middle at a point of the ground; as usual, and of the usual size, if it is not told how. A door in the
   * opening of a wall is as large as that.
   */
  place(stencil: Stencil, at: Point, variant?: string, size?: { x: number; y: number }): void {
    const { room, ground } = this.where();
    const middle = { x: tidy(at.x), y: tidy(at.y), z: ground };
    const level = this.editor.level();
    const made = createThing(level, stencil, this.editor.newId(stencil), room, middle, size, variant);
    // What was not drawn to size fits into the opening that it is put into.
    const fits = size === undefined && stencils[stencil].collection === 'fixtures';
    this.put(stencil, fits ? fitted(level, made as Fixture) : made);
  }

  private where(): { room: string; ground: number } {
    const room = this.editor.level().rooms.find((one) => one.id === this.room());
    return { room: room?.id ?? '', ground: room?.ground ?? 0 };
  }

  private put(stencil: Stencil, thing: Thing): void {
    this.take(null);
    this.editor.add(stencils[stencil].collection, thing);
    this.editor.select(thing.id);
  }
}

function around({ from, to }: Stroke): Box {
  return {
    west: Math.min(from.x, to.x),
    east: Math.max(from.x, to.x),
    south: Math.min(from.y, to.y),
    north: Math.max(from.y, to.y),
  };
}
