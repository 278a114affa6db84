import { Injectable, computed, inject } from '@angular/core';
import { patchState, signalState } from '@ngrx/signals';
import { isMachine, motionOf, sweptBy } from '@nettlewick/core';
import type { Fixture, Point } from '@nettlewick/core';
import { momentOf, withAttached } from '../board/figures';
import type { Moment } from '../board/figures';
import { Editor } from '../state/editor';

/** The motion of what is in hand, looked at on the sheet without a rehearsal: the hundredth of a second of it that is shown. */
@Injectable()
export class MotionPreview {
  private readonly state = signalState<{ thing: string; at: number }>({ thing: '', at: 0 });
  readonly thing = this.state.thing;
  readonly at = this.state.at;
  private readonly editor = inject(Editor);

  /** What is in hand, if it moves: the seconds from each of its positions to the next. */
  readonly motion = computed<{ thing: Fixture; legs: number[] } | null>(() => {
    const [one, more] = this.editor.selected();
    if (one?.collection !== 'fixtures' || more !== undefined) return null;
    const thing = one.thing as Fixture;
    if (!isMachine(thing)) return null;
    const motion = motionOf(thing);
    return { thing, legs: motion.seconds(thing).slice(0, motion.positions(thing).length - 1) };
  });
  /** How long all of it takes, in hundredths of a second. */
  readonly last = computed(() => Math.round(100 * (this.motion()?.legs ?? []).reduce((sum, leg) => sum + leg, 0)));
  /** What is shown of it; 0 where it begins, and where another thing is in hand. */
  readonly now = computed(() => (this.motion()?.thing.id === this.thing() ? Math.min(this.at(), this.last()) : 0));
  /** The level as it is drawn meanwhile; null where it is drawn as it starts. */
  readonly moment = computed<Moment | null>(() => {
    const motion = this.motion();
    if (motion === null || this.now() === 0) return null;
    const { thing, legs } = motion;
    const level = this.editor.level();
    return momentOf(withAttached(level, new Set([thing.id])), new Map([[thing.id, clockAfter(legs, this.now() / 100)]]));
  });

  /** The space that it sweeps, and what it meets there. */
  readonly swept = computed(() => {
    const motion = this.motion();
    return motion === null ? null : sweptBy(this.editor.level(), motion.thing.id);
  });

  /** What of the ground of a room it takes up, as closed lines. */
  outlinesIn(room: string): Point[][] {
    if (this.motion()?.thing.room !== room) return [];
    return (this.swept()?.outlines ?? []).map((outline) => [...outline, outline[0]!]);
  }

  seek(at: number): void {
    patchState(this.state, { thing: this.motion()?.thing.id ?? '', at });
  }
}

/** Where the clock of a machine stands after so many seconds of a motion from its first position to its last. */
function clockAfter(legs: readonly number[], seconds: number): number {
  let left = seconds;
  for (const [before, leg] of legs.entries()) {
    if (left < leg) return before + left / leg;
    left -= leg;
  }
  return legs.length;
}
