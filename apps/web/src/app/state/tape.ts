import type { Vector } from '@nettlewick/core';
import { Injectable } from '@angular/core';
import { patchState, signalState } from '@ngrx/signals';
import { tidy } from '@nettlewick/core';

/** A tape between two points, in metres, and where it is drawn: on the plan, or in a section along one of the axes. */
export interface Stretch {
  from: Vector;
  to: Vector;
  on: 'plan' | 'x' | 'y';
}

/** The tape measure: what it measured last can be poured into any length that is typed. */
@Injectable()
export class Tape {
  private readonly state = signalState<{ stretch: Stretch | null }>({ stretch: null });
  readonly stretch = this.state.stretch;
  /** What is measured; null for nothing. */
  measure(stretch: Stretch | null): void {
    patchState(this.state, { stretch });
  }

  /** Its numbers in words: the length, and how much of it goes east, north and up, as far as that is seen. */
  numbers(): { label: string; value: number }[] {
    const stretch = this.stretch();
    if (stretch === null) return [];
    const dx = tidy(stretch.to.x - stretch.from.x);
    const dy = tidy(stretch.to.y - stretch.from.y);
    const dz = tidy(stretch.to.z - stretch.from.z);
    return [
      { label: 'length', value: Math.round(Math.hypot(dx, dy, dz) * 1000) / 1000 },
      ...(stretch.on === 'y' ? [] : [{ label: 'east', value: dx }]),
      ...(stretch.on === 'x' ? [] : [{ label: 'north', value: dy }]),
      ...(stretch.on === 'plan' ? [] : [{ label: 'up', value: dz }]),
    ];
  }
}
