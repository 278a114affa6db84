import { change } from '@nettlewick/core';
import type { Edit, Room, Thing, Vector } from '@nettlewick/core';
import { footingOf, headingTo, resized, tidy } from '../plan/handles';
import type { Footing, HandleName } from '../plan/handles';
import type { PlanPointer } from '../plan/plan';
import type { Box, Point } from '../plan/viewport';
import type { Editor } from '../studio/editor';

/** Selecting, moving, resizing and turning things on the plan. One gesture is one step of undo. */
export class PlanGestures {
  private gesture: { name: string; from: Point; footings: Footing[]; handle: HandleName | null } | null = null;
  private count = 0;

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

  press({ at, thing, handle, shift }: PlanPointer): void {
    if (handle === null) {
      if (thing === null) return;
      const now = this.editor.selection();
      if (shift) this.editor.select(...(now.includes(thing) ? now.filter((id) => id !== thing) : [...now, thing]));
      else if (!now.includes(thing)) this.editor.select(thing);
    }
    const level = this.editor.level();
    const footings = this.editor.selection().flatMap((id) => footingOf(level, id) ?? []);
    this.gesture = { name: this.newName(), from: at, footings, handle };
  }

  drag({ at, moved, alt }: PlanPointer): void {
    if (this.gesture === null || moved < 4 || this.gesture.footings.length === 0) return;
    const { handle, footings } = this.gesture;
    const [first] = footings;
    if (handle === null) this.move(at, alt);
    else if (handle === 'turn' && first !== undefined) this.turn(first, headingTo(first.thing.at, at), alt);
    else if (first !== undefined) this.resize(first, handle, at, alt);
  }

  release({ moved, thing, handle, shift }: PlanPointer): void {
    const clicked = moved < 4 && thing === null && handle === null && !shift;
    this.gesture = null;
    if (clicked) this.editor.select();
  }

  nudge(by: Point): void {
    const level = this.editor.level();
    const footings = this.editor.selection().flatMap((id) => footingOf(level, id) ?? []);
    this.put(
      footings.map((footing) => ({
        footing,
        at: { ...footing.thing.at, x: tidy(footing.thing.at.x + by.x), y: tidy(footing.thing.at.y + by.y) },
      })),
      `nudge ${this.editor.selection().join(' ')}`,
    );
  }

  turnBy(degrees: number): void {
    const level = this.editor.level();
    const footings = this.editor.selection().flatMap((id) => footingOf(level, id) ?? []);
    const edits = footings.map(({ collection, thing }) =>
      change(collection, thing as Thing & { heading: number }, { heading: wrapped(thing.heading + degrees) }),
    );
    this.send(edits, 'turn', `turn ${this.editor.selection().join(' ')}`);
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

  private move(to: Point, free: boolean): void {
    const { from, footings, name } = this.gesture!;
    const lead = footings[0]!.thing.at;
    const wanted = { x: lead.x + to.x - from.x, y: lead.y + to.y - from.y };
    const target = free ? { x: tidy(wanted.x), y: tidy(wanted.y) } : this.snapped(wanted);
    const by = { x: target.x - lead.x, y: target.y - lead.y };
    this.put(
      footings.map((footing) => ({
        footing,
        at: { ...footing.thing.at, x: tidy(footing.thing.at.x + by.x), y: tidy(footing.thing.at.y + by.y) },
      })),
      name,
    );
  }

  private resize(footing: Footing, handle: HandleName, to: Point, free: boolean): void {
    const changed = resized(footing, handle, free ? to : this.snapped(to), 0.05);
    if (changed === null) return;
    const { collection, thing } = footing;
    const size = 'shape' in thing ? { shape: { ...thing.shape, size: changed.size } } : { size: changed.size };
    this.editor.edit(this.relative(change(collection, thing, { at: changed.at, ...size } as Partial<Thing>)), this.gesture!.name);
  }

  private turn({ collection, thing }: Footing, degrees: number, free: boolean): void {
    const heading = free ? degrees : wrapped(Math.round(degrees / 15) * 15);
    this.editor.edit(this.relative(change(collection, thing as Thing & { heading: number }, { heading })), this.gesture!.name);
  }

  private put(moves: { footing: Footing; at: Vector }[], gesture: string): void {
    const edits = moves.map(({ footing, at }) =>
      this.relative(change(footing.collection, footing.thing as Exclude<Thing, Room> & { at: Vector }, { at } as Partial<Thing>)),
    );
    this.send(edits, 'move', gesture);
  }

  private send(edits: Edit[], label: string, gesture: string): void {
    if (edits.length === 0) return;
    this.editor.edit(edits.length === 1 ? edits[0]! : { kind: 'all', label, edits }, gesture);
  }

  /** What was there before is what the level holds now: merging keeps the value from the gesture's start. */
  private relative(edit: Edit): Edit {
    if (edit.kind !== 'change') return edit;
    const now = this.editor.find(edit.id)?.thing as unknown as Record<string, unknown> | undefined;
    if (now === undefined) return edit;
    return { ...edit, before: Object.fromEntries(Object.keys(edit.after).map((key) => [key, now[key]])) };
  }

  private newName(): string {
    this.count += 1;
    return `drag ${this.count} ${Date.now()}`;
  }
}

function wrapped(degrees: number): number {
  const turned = ((((degrees + 180) % 360) + 360) % 360) - 180;
  return tidy(turned);
}
