import { direction, tidy } from '@nettlewick/core';
import type { Thing, Vector } from '@nettlewick/core';
import type { SectionDrag } from '../board/section';
import type { Editor } from '../state/editor';
import { lastPose, withPose } from './poses';

/** Moving, raising and stretching things in the section: what a drag would come to is tried while it lasts, and is one edit. */
export class SectionMoves {
  constructor(
    private readonly editor: Editor,
    /** The distance between the lines that things snap to, in metres; 0 for none. */
    private readonly step: () => number,
  ) {}

  drag({ thing: id, grip, axis, by, moved, done }: SectionDrag): void {
    const thing = this.editor.find(id)?.thing as (Thing & { at?: Vector }) | undefined;
    if (thing?.at === undefined) return;
    if (moved < 4) {
      if (done) this.editor.forgetTried();
      return;
    }
    const changed =
      grip.part === 'whole'
        ? ({ ...thing, at: this.shifted(thing.at, by) } as Thing)
        : grip.part === 'top'
          ? taller(thing, this.snapped(by.z))
          : grip.part === 'side'
            ? wider(thing as Thing & { at: Vector }, axis, grip.at, this.snapped(by[axis]))
            : grip.part === 'stop'
              ? withPose(thing, grip.at, (now) => this.shifted(now, by))
              : withPose(thing, lastPose(thing), (now) => this.shifted(now, by));
    if (changed !== null) this.editor.tryOut([changed]);
    if (done) this.editor.keepTried(words[grip.part]);
  }

  /** Raises or lowers what is selected. */
  raise(by: number): void {
    const edits = this.editor.selected().flatMap(({ thing }) => {
      const at = (thing as { at?: Vector }).at;
      return at === undefined ? [] : [{ ...thing, at: { ...at, z: tidy(at.z + by) } } as Thing];
    });
    this.editor.tryOut(edits);
    this.editor.keepTried('raise');
  }

  private snapped(metres: number): number {
    const step = this.step();
    return step === 0 ? tidy(metres) : tidy(Math.round(metres / step) * step);
  }

  private shifted(at: Vector, by: Vector): Vector {
    return { x: tidy(at.x + this.snapped(by.x)), y: tidy(at.y + this.snapped(by.y)), z: tidy(at.z + this.snapped(by.z)) };
  }
}

const words = { whole: 'move', top: 'resize', side: 'resize', stop: 'move a stop', travel: 'move a stop' };

const LEAST = 0.05;

/**
 * A thing with one of its two sides along an axis of the room elsewhere by so much, the other where it was; null if none of its own
 * edges lies along that axis.
 */
export function wider(thing: Thing & { at: Vector }, axis: 'x' | 'y', side: -1 | 1, by: number): Thing | null {
  const { at } = thing;
  const form = 'shape' in thing ? thing.shape : null;
  const moved = (grown: number): Vector => ({ ...at, [axis]: tidy(at[axis] + (side * grown) / 2) });
  const grownBy = (now: number): number => Math.max(LEAST - now, side * by);
  if (form !== null && form.kind !== 'box') {
    const grown = grownBy(2 * form.radius);
    return { ...thing, at: moved(grown), shape: { ...form, radius: tidy(form.radius + grown / 2) } } as Thing;
  }
  const size = form?.kind === 'box' ? form.size : 'size' in thing ? (thing.size as Vector) : null;
  const { cos, sin } = direction('heading' in thing ? thing.heading : 0);
  if (size === null || (cos !== 0 && sin !== 0)) return null;
  const own = (sin === 0) === (axis === 'x') ? 'x' : 'y';
  const grown = grownBy(size[own]);
  const sized = { ...size, [own]: tidy(size[own] + grown) };
  return { ...thing, at: moved(grown), ...(form === null ? { size: sized } : { shape: { ...form, size: sized } }) } as Thing;
}

/** A thing as much taller, its base where it was; null if it has no height of its own. */
function taller(thing: Thing, by: number): Thing | null {
  const grown = (height: number): number => Math.max(LEAST, tidy(height + by));
  if ('size' in thing) return { ...thing, size: { ...thing.size, z: grown(thing.size.z) } } as Thing;
  const form = 'shape' in thing ? thing.shape : 'body' in thing ? thing.body : null;
  if (form === null) return null;
  const key = 'shape' in thing ? 'shape' : 'body';
  if (form.kind === 'box') return { ...thing, [key]: { ...form, size: { ...form.size, z: grown(form.size.z) } } } as Thing;
  if (form.kind === 'pillar') return { ...thing, [key]: { ...form, height: grown(form.height) } } as Thing;
  return { ...thing, [key]: { ...form, radius: Math.max(LEAST, tidy(form.radius + by / 2)) } } as Thing;
}
