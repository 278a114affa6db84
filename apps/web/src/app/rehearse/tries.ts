import { Injectable, effect, inject, untracked } from '@angular/core';
import { patchState, signalState } from '@ngrx/signals';
import { LevelStore } from '../state/level-store';
import type { RehearsalView } from '../workers/rehearsal';

/** A way that was walked by hand and left for another, or ended. */
export interface Try {
  id: string;
  name: string;
  rehearsal: RehearsalView;
}

/** What was walked by hand in the open level: kept until another level is opened, wherever one looks meanwhile. */
@Injectable()
export class Tries {
  private readonly state = signalState<{ all: readonly Try[] }>({ all: [] });
  readonly all = this.state.all;
  private count = 0;

  constructor() {
    const { levelId } = inject(LevelStore);
    effect(() => {
      levelId();
      untracked(() => {
        this.count = 0;
        patchState(this.state, { all: [] });
      });
    });
  }

  /** Keeps what was walked; under the next number if it has no name. */
  setAside(rehearsal: RehearsalView, name = `try ${(this.count += 1)}`): void {
    patchState(this.state, ({ all }) => ({ all: [...all, { id: `try-${all.length}`, name, rehearsal: { ...rehearsal } }] }));
  }
}
