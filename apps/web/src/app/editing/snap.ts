import { Injectable } from '@angular/core';
import { patchState, signalState } from '@ngrx/signals';
import { writePreference, readPreference } from '../state/preferences';
import { tidy } from '@nettlewick/core';

/** The distances between the lines that points snap to, in metres; 0 for none. */
export const snapSteps = [0, 0.1, 0.25, 0.5, 1] as const;
const DEFAULT_STEP_M = 0.25;

const keptStep = (): number => snapSteps.find((step) => String(step) === readPreference('snap')) ?? DEFAULT_STEP_M;

/** The lines that what is drawn, and what is pressed on a plan, snaps to; this browser keeps how far apart they are. */
@Injectable()
export class Snap {
  private readonly state = signalState({ step: keptStep() });
  readonly step = this.state.step;
  use(step: number): void {
    patchState(this.state, { step });
    writePreference('snap', String(step));
  }

  /** A point on the lines nearest to it, to a tenth of a millimetre; `free` for one that stays where it is. */
  to({ x, y }: { x: number; y: number }, free = false): { x: number; y: number } {
    return { x: this.number(x, free), y: this.number(y, free) };
  }

  private number(metres: number, free: boolean): number {
    const step = this.step();
    return tidy(free || step === 0 ? metres : Math.round(metres / step) * step);
  }
}
