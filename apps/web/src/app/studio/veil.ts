import { Injectable, computed, inject, signal } from '@angular/core';
import { lookup } from '@nettlewick/core';
import type { Level } from '@nettlewick/core';
import { Editor } from './editor';

/** What a board has in layers: the things of a room by what they are for. */
export const layers = ['zones', 'solids', 'fixtures', 'visitors'] as const;
export type Layer = (typeof layers)[number];

/**
 * What is put out of the way while one draws: whole layers, and single things, are not shown; others are shown and not taken by a press. It is
 * for the one who draws, for as long as the level is open: the document knows nothing of it.
 */
@Injectable()
export class Veil {
  private readonly editor = inject(Editor);
  /** The layers that are not shown. */
  readonly away = signal<ReadonlySet<Layer>>(new Set());
  private readonly hiddenOnes = signal<ReadonlySet<string>>(new Set());
  private readonly lockedOnes = signal<ReadonlySet<string>>(new Set());

  /** All that is not shown: what is in a layer that is not, and what was hidden by itself. What is in hand is always shown. */
  readonly hidden = computed<ReadonlySet<string>>(() => {
    const away = this.away();
    const single = this.hiddenOnes();
    if (away.size === 0 && single.size === 0) return single;
    const level: Level = this.editor.level();
    const all = new Set(single);
    for (const layer of away) for (const { id } of level[layer]) all.add(id);
    for (const id of this.editor.selection()) all.delete(id);
    return all;
  });
  readonly locked = this.lockedOnes.asReadonly();
  /** How many single things of this level are hidden, and locked. */
  readonly counts = computed(() => {
    const things = lookup(this.editor.level());
    const there = (some: ReadonlySet<string>): number => [...some].filter((id) => things.has(id)).length;
    return { hidden: there(this.hiddenOnes()), locked: there(this.lockedOnes()) };
  });

  toggle(layer: Layer): void {
    this.away.update((now) => {
      const next = new Set(now);
      if (!next.delete(layer)) next.add(layer);
      return next;
    });
  }

  /** Hides what is in hand, and lets go of it. */
  hide(): void {
    const ids = this.editor.selection();
    this.hiddenOnes.update((now) => new Set([...now, ...ids]));
    this.editor.select();
  }

  /** Locks what is in hand, and lets go of it: a press goes to what lies under it. */
  lock(): void {
    const ids = this.editor.selection();
    this.lockedOnes.update((now) => new Set([...now, ...ids]));
    this.editor.select();
  }

  /** Everything is shown, and can be taken. */
  lift(): void {
    this.away.set(new Set());
    this.hiddenOnes.set(new Set());
    this.lockedOnes.set(new Set());
  }
}
