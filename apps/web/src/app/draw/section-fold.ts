import { computed, signal } from '@angular/core';
import { writePreference, readPreference } from '../state/preferences';

/** The section takes at least this part of the sheet, in hundredths; whoever gives it more than the other gives it everything. */
const MIN_SHARE = 12;
const MAX_SHARE = 85;
const DEFAULT_SHARE = 34;

/** How plan and section share the sheet, as this browser keeps it. */
export class SectionFold {
  readonly isOpen;
  /** The part of the section in hundredths: all of it where the plan is folded away. */
  readonly share = signal(Number(readPreference('section-share') ?? DEFAULT_SHARE));
  readonly isAlone = computed(() => this.isOpen() && this.share() === 100);
  /** The rows of plan, fold and section. */
  readonly rows = computed(() => {
    if (this.isAlone()) return '1px 9px minmax(0, 1fr)';
    return this.isOpen() ? `minmax(0, 1fr) 9px minmax(0, ${this.share()}%)` : 'minmax(0, 1fr)';
  });

  /** `opens` says whether it lies open for whoever has not chosen. */
  constructor(opens: boolean) {
    const chosen = readPreference('section');
    this.isOpen = signal(chosen === null ? opens : chosen === 'open');
  }

  toggle(): void {
    this.isOpen.update((now) => !now);
    writePreference('section', this.isOpen() ? 'open' : 'shut');
  }

  give(share: number): void {
    const within = Math.round(Math.max(MIN_SHARE, share));
    this.share.set(within > MAX_SHARE ? 100 : within);
    writePreference('section-share', String(this.share()));
  }

  /** More of it or less, by so many hundredths. */
  step(by: number): void {
    this.give(this.share() === 100 && by < 0 ? MAX_SHARE : this.share() + by);
  }

  /** Folds the plan away, or out again. */
  alone(): void {
    const wanted = !this.isAlone();
    if (!this.isOpen()) this.toggle();
    this.give(wanted ? 100 : DEFAULT_SHARE);
  }

  /** Follows a hand that drags the line between the two. */
  follow(event: PointerEvent): void {
    if (event.buttons !== 1) return;
    const box = (event.currentTarget as HTMLElement).parentElement!.getBoundingClientRect();
    this.give(((box.bottom - event.clientY) / box.height) * 100);
  }
}
