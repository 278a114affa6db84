import { DestroyRef, Injectable, computed, effect, inject, untracked } from '@angular/core';
import { patchState, signalState } from '@ngrx/signals';
import type { Level } from '@nettlewick/core';
import { LevelStore } from './level-store';
import { notePainted } from '../controls/painted';
import type { Aftermath } from '../workers/aftermath';
import { workerFor } from '../workers/start';

/** The time without edits before all walks are rerun where that is slow, in milliseconds. */
const REST = 350;
/** Walks that were run in less than this are run again at once, in milliseconds. */
const QUICK = 60;
/** An edit that follows another as soon as this goes on with it, in milliseconds. */
const GOES_ON = 900;

/** Runs all walks in the background after every edit, and says what the edit changed in what fires. */
@Injectable()
export class EditImpactStore {
  private readonly state = signalState<{ found: Aftermath | null }>({ found: null });
  readonly found = this.state.found;
  private readonly level = inject(LevelStore).level;
  private readonly client = workerFor('aftermath');
  private timer: ReturnType<typeof setTimeout> | undefined;
  private busy = false;
  private looked: Level | null = null;
  /** How long it took to run all walks at last, and when the last edit was, in milliseconds. */
  private took = Infinity;
  private editedAt = -Infinity;
  /** Whether something new has begun since all walks were run. */
  private begins = false;

  /** How many expectations are not met, over all walks. */
  readonly unmet = computed(() => (this.found()?.unmet ?? []).reduce((sum, { count }) => sum + count, 0));

  constructor() {
    effect(() => {
      const level = this.level();
      if (level === null) return;
      const now = performance.now();
      if (now - this.editedAt >= GOES_ON) this.begins = true;
      this.editedAt = now;
      untracked(() => this.ask());
    });
    inject(DestroyRef).onDestroy(() => {
      clearTimeout(this.timer);
      this.client.end();
    });
  }

  /** What was said has been read. */
  dismiss(): void {
    patchState(this.state, ({ found }) => ({ found: found === null ? null : { ...found, changes: [], more: 0 } }));
  }

  private ask(): void {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.look(), this.took < QUICK ? 0 : REST);
  }

  private async look(): Promise<void> {
    const level = this.level();
    if (this.busy || level === null || level === this.looked) return;
    if (level.walks.length === 0) {
      patchState(this.state, { found: null });
      return;
    }
    this.busy = true;
    this.looked = level;
    try {
      const from = performance.now();
      const goesOn = !this.begins;
      this.begins = false;
      const found = await this.client.ask(level, (remote) => remote.look(goesOn));
      patchState(this.state, { found });
      this.took = performance.now() - from;
      notePainted('walks');
    } catch {
      // They are run again after the next edit.
    } finally {
      this.busy = false;
    }
    if (this.level() !== level) this.ask();
  }
}
