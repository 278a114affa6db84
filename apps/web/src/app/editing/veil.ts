import { Injectable, computed, inject } from '@angular/core';
import { patchState, signalState } from '@ngrx/signals';
import { lookup } from '@nettlewick/core';
import type { Level } from '@nettlewick/core';
import { Editor } from '../state/editor';

/** What a board has in layers: the things of a room by what they are for. */
export const layers = ['zones', 'solids', 'fixtures', 'visitors'] as const;
export type Layer = (typeof layers)[number];

interface HiddenState {
  /** The layers that are not shown. */
  away: ReadonlySet<Layer>;
  /** The single things that are not shown, and those that are not taken by a press. */
  single: ReadonlySet<string>;
  locked: ReadonlySet<string>;
}
const nothingAway: HiddenState = { away: new Set(), single: new Set(), locked: new Set() };

/**
 * What is put out of the way while one draws: whole layers, and single things, are not shown; others are shown and not taken by a press. It is
 * for the one who draws, for as long as the level is open: the document knows nothing of it.
 */
@Injectable()
export class LayerVisibility {
  private readonly state = signalState(nothingAway);
  readonly away = this.state.away;
  readonly single = this.state.single;
  readonly locked = this.state.locked;
  private readonly editor = inject(Editor);

  /** All that is not shown: what is in a layer that is not, and what was hidden by itself. What is in hand is always shown. */
  readonly hidden = computed<ReadonlySet<string>>(() => {
    const away = this.away();
    const single = this.single();
    if (away.size === 0 && single.size === 0) return single;
    const level: Level = this.editor.level();
    const all = new Set(single);
    for (const layer of away) for (const { id } of level[layer]) all.add(id);
    for (const id of this.editor.selection()) all.delete(id);
    return all;
  });
  /** How many single things of this level are hidden, and locked. */
  readonly counts = computed(() => {
    const things = lookup(this.editor.level());
    const there = (some: ReadonlySet<string>): number => [...some].filter((id) => things.has(id)).length;
    return { hidden: there(this.single()), locked: there(this.locked()) };
  });

  /** What the button of the layers says; a half ring where something is put out of the way. */
  readonly label = computed(() => {
    const { hidden, locked } = this.counts();
    if (this.away().size + hidden > 0) return 'Layers ◐ (some hidden)';
    return locked > 0 ? 'Layers ◐ (some locked)' : 'Layers';
  });

  toggle(layer: Layer): void {
    const next = new Set(this.away());
    if (!next.delete(layer)) next.add(layer);
    patchState(this.state, { away: next });
  }

  /** Hides what is in hand, and lets go of it. */
  hide(): void {
    const ids = this.editor.selection();
    patchState(this.state, ({ single }) => ({ single: new Set([...single, ...ids]) }));
    this.editor.select();
  }

  /** Locks what is in hand, and lets go of it: a press goes to what lies under it. */
  lock(): void {
    const ids = this.editor.selection();
    patchState(this.state, ({ locked }) => ({ locked: new Set([...locked, ...ids]) }));
    this.editor.select();
  }

  /** Everything is shown, and can be taken. */
  lift(): void {
    patchState(this.state, nothingAway);
  }
}
