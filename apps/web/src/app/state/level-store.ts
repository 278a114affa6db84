import { Injectable, computed } from '@angular/core';
import { getState, patchState, signalStore, withState } from '@ngrx/signals';
import { nothingOpen, saveStateOf } from './level-state';
import type { LevelState } from './level-state';

/** The open level: the document with its history, the selection, and how it is saved. Each change of it is one of level-state. */
@Injectable({ providedIn: 'root' })
export class LevelStore extends signalStore({ protectedState: false }, withState(nothingOpen)) {
  readonly saveState = computed(() => saveStateOf({ saving: this.saving(), level: this.level(), sent: this.sent() }));
  readonly canUndo = computed(() => this.undo().length > 0);
  readonly canRedo = computed(() => this.redo().length > 0);

  change(by: (state: LevelState) => LevelState): void {
    patchState(this, by);
  }

  /** All of it as it is now; whoever asks within a computation hears of every change. */
  now(): LevelState {
    return getState(this);
  }
}
