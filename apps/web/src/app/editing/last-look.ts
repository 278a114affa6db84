import { Injectable, computed, inject } from '@angular/core';
import { patchState, signalState } from '@ngrx/signals';
import { secondsOf } from '@nettlewick/core';
import type { Moment } from '../board/figures';
import { Editor } from '../state/editor';
import { changingIn, lastUpTo, momentAt } from './moments';
import type { RehearsalView } from '../workers/rehearsal';

/** The rehearsal that was looked at last, and where: its moments can be drawn where nothing is rehearsed. */
@Injectable()
export class LastViewedMoment {
  private readonly state = signalState<{ looked: RehearsalView | null; tick: number }>({ looked: null, tick: 0 });
  readonly looked = this.state.looked;
  readonly tick = this.state.tick;
  private readonly editor = inject(Editor);

  /** The walk, how many ticks it took, and which second is shown; null if nothing was looked at, or its walk is gone. */
  readonly about = computed(() => {
    const looked = this.looked();
    const walk = this.editor.find(looked?.walk ?? '')?.thing;
    if (looked === null || walk === undefined) return null;
    return { walk: walk.name.trim(), ticks: looked.ticks, seconds: secondsOf(this.tick(), looked.rate) };
  });
  private readonly entries = computed(() => [...(this.looked()?.ledger ?? [])]);
  private readonly changing = computed(() => {
    const looked = this.looked();
    return looked === null
      ? new Set<string>()
      : changingIn(this.editor.level(), looked, this.entries(), (id) => this.editor.find(id)?.thing);
  });
  readonly moment = computed<Moment | null>(() => {
    const looked = this.looked();
    if (looked === null || this.about() === null) return null;
    return momentAt(looked, this.entries(), this.changing(), this.tick(), lastUpTo(this.entries(), this.tick()));
  });

  keep(rehearsal: RehearsalView | null, tick: number): void {
    if (rehearsal === null) return;
    patchState(this.state, { looked: rehearsal, tick });
  }

  seek(tick: number): void {
    patchState(this.state, { tick });
  }
}
