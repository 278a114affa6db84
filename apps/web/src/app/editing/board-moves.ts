import { signal } from '@angular/core';
import { boundsTogether, change, groupOf, same, snapLines, snapTo, tidy } from '@nettlewick/core';
import type { Bounds, Edit, SnapLines, Thing, Vector, Point } from '@nettlewick/core';
import type { BoardPointer } from '../board/board';
import { footingOf, handlesOf, headingTo, resized } from '../board/handles';
import type { Footing, HandleName } from '../board/handles';
import type { Box } from '../board/viewport';
import type { Editor } from '../state/editor';
import type { Snap } from './snap';
import { poseHandles, withPose, withPoseBetween } from './poses';

/**
 * Selecting, moving, resizing and turning things on the board. What a drag would come to is only tried while it lasts, and becomes
 * one edit when it is let go.
 */
export class BoardMoves {
  private gesture: Gesture | null = null;
  /** The lines that what is dragged lies on: edges and middles of other things. */
  readonly guides = signal<readonly Point[][]>([]);

  /** Where what is in hand was clicked last, and whether it is pressed there again. */
  private clicked: { at: Point; thing: string } | null = null;
  private pressedAgain = false;

  constructor(
    private readonly editor: Editor,
    private readonly snap: Snap,
    /** How near to a line of another thing something is brought to it, in metres. */
    private readonly reach: () => number,
  ) {}

  snapped(at: Point): Point {
    return this.snap.to(at);
  }

  press({ at, thing, heap, handle, shift }: BoardPointer): void {
    const chosen = this.editor.selection();
    const isGroup = chosen.length > 1 && thing !== null && same(groupOf(this.editor.level(), thing), chosen);
    const isAlone = chosen.length === 1 && chosen[0] === this.clicked?.thing && heap.includes(chosen[0]!);
    const again = this.clicked !== null && (isAlone || (isGroup && thing === this.clicked.thing));
    this.pressedAgain = again && !shift && handle === null && this.isNear(at, this.clicked!.at);
    if (handle === null) {
      if (thing === null) return;
      if (!this.pressedAgain) this.editor.take(thing, shift);
    }
    const gesture: Gesture = (this.gesture = {
      from: at,
      footings: this.footings(),
      handle,
      off: this.offOf(handle, at),
      near: null,
    });
    // What it may be brought to is looked up before it is moved, so that the first move is no slower than the others.
    setTimeout(() => this.gesture === gesture && handle === null && this.nearOf(gesture));
  }

  drag({ at, moved, alt }: BoardPointer): void {
    if (this.gesture === null || moved < 4) return;
    const { handle, footings, from, off } = this.gesture;
    const pulled = { x: at.x + off.x, y: at.y + off.y };
    const to = alt ? { x: tidy(pulled.x), y: tidy(pulled.y) } : this.snapped(pulled);
    const [first] = footings;
    if (first === undefined) return;
    if (handle === null) {
      const lead = first.thing.at;
      const wanted = { x: lead.x + at.x - from.x, y: lead.y + at.y - from.y };
      const onGrid = alt ? { x: tidy(wanted.x), y: tidy(wanted.y) } : this.snapped(wanted);
      const by = { x: onGrid.x - lead.x, y: onGrid.y - lead.y };
      this.editor.tryOut(shifted(footings, alt ? by : this.toOthers({ x: at.x - from.x, y: at.y - from.y }, by)));
    } else if (handle === 'turn') {
      const degrees = headingTo(first.thing.at, at);
      this.editor.tryOut([{ ...first.thing, heading: alt ? degrees : wrapped(Math.round(degrees / 15) * 15) } as Thing]);
    } else if (handle.startsWith('pose') || handle.startsWith('between')) {
      const changed = this.posed(first.thing, handle, to);
      if (changed !== null) this.editor.tryOut([changed]);
    } else {
      const changed = resized(first, handle, to, 0.05);
      if (changed === null) return;
      const { thing } = first;
      const size = 'shape' in thing ? { shape: { ...thing.shape, size: changed.size } } : { size: changed.size };
      this.editor.tryOut([{ ...thing, at: changed.at, ...size } as Thing]);
    }
  }

  /** How far from the pointer lies what a handle pulls: it stands a little beside it. */
  private offOf(handle: HandleName | null, at: Point): Point {
    const [one] = this.editor.selected();
    const all =
      one === undefined || handle === null ? [] : [...handlesOf(this.editor.level(), one.thing.id, 0), ...poseHandles(one.thing)];
    const held = all.find(({ name }) => name === handle);
    return held === undefined || handle === 'turn' ? { x: 0, y: 0 } : { x: held.at.x - at.x, y: held.at.y - at.y };
  }

  /** A thing with a position of its way drawn to a point of the plan, or with a new one there. */
  private posed(thing: Footing['thing'], handle: HandleName, to: Point): Thing | null {
    const [part, at] = handle.split(' ');
    if (part === 'between') return withPoseBetween(thing, Number(at), to);
    return withPose(thing, Number(at), ({ z }) => ({ x: tidy(to.x - thing.at.x), y: tidy(to.y - thing.at.y), z }));
  }

  /** What is dragged, brought to the edges and middles of other things where it comes near to them; on each axis, else to the grid. */
  private toOthers(wanted: Point, onGrid: Point): Point {
    const { lines, bounds } = this.nearOf(this.gesture!);
    if (bounds === null) return onGrid;
    const { by, guides } = snapTo(lines, bounds, wanted, this.reach());
    // A line of the grid that is nearer goes before one of another thing.
    const isOn = (axis: 'x' | 'y'): boolean =>
      guides.some(({ from, to }) => from[axis] === to[axis]) &&
      (this.snap.step() === 0 || Math.abs(by[axis] - wanted[axis]) < Math.abs(onGrid[axis] - wanted[axis]));
    this.guides.set(guides.filter(({ from, to }) => isOn(from.x === to.x ? 'x' : 'y')).map(({ from, to }) => [from, to]));
    return { x: isOn('x') ? by.x : onGrid.x, y: isOn('y') ? by.y : onGrid.y };
  }

  private nearOf(gesture: Gesture): Near {
    if (gesture.near === null) {
      const level = this.editor.level();
      const ids = new Set(gesture.footings.map(({ thing }) => thing.id));
      const room = (gesture.footings[0]?.thing as { room?: string } | undefined)?.room ?? '';
      gesture.near = { lines: snapLines(level, room, ids), bounds: boundsTogether(level, ids) };
    }
    return gesture.near;
  }

  release({ at, moved, thing, heap, handle, shift }: BoardPointer): void {
    const dragged = this.gesture;
    this.gesture = null;
    this.guides.set([]);
    if (dragged !== null) this.editor.keepTried(wordFor(dragged.handle));
    if (moved >= 4 || handle !== null || shift) {
      this.clicked = null;
      return;
    }
    if (thing === null) {
      this.clicked = null;
      this.editor.select();
      return;
    }
    let chosen = this.editor.selection();
    const together = groupOf(this.editor.level(), thing);
    // One of several that was only clicked is taken alone, or with its group.
    if (chosen.length > 1 && !same(together, chosen)) {
      this.editor.select(...together);
      chosen = together;
    }
    const isOne = chosen.length === 1;
    const now = isOne ? chosen[0]! : thing;
    // Clicked again where it was: of a group the one alone, else what lies under it, and from the lowest the topmost again.
    if (this.pressedAgain) this.editor.select(isOne ? (heap[(heap.indexOf(now) + 1) % heap.length] ?? now) : thing);
    this.clicked = { at, thing: this.pressedAgain ? (this.editor.selection()[0] ?? thing) : now };
  }

  private isNear(a: Point, b: Point): boolean {
    return Math.hypot(a.x - b.x, a.y - b.y) < Math.max(0.05, this.snap.step() / 2);
  }

  /** Lets everything be as it was before the gesture; says whether there was one. */
  cancel(): boolean {
    const begun = this.gesture !== null;
    this.gesture = null;
    this.guides.set([]);
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

/** What is done by pulling a handle; or by none. */
function wordFor(handle: HandleName | null): string {
  if (handle === null) return 'move';
  if (handle === 'turn') return 'turn';
  return handle.startsWith('pose') ? 'move a pose of' : handle.startsWith('between') ? 'add a pose to' : 'resize';
}

interface Gesture {
  from: Point;
  footings: Footing[];
  handle: HandleName | null;
  off: Point;
  near: Near | null;
}

/** What a drag may be brought to, found when it begins. */
interface Near {
  lines: SnapLines;
  bounds: Bounds | null;
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
