import { Injectable, effect, inject, signal, untracked } from '@angular/core';
import type { Level, Snag } from '@nettlewick/core';
import { Store } from '@ngrx/store';
import { Keeper } from '../saving/keeper';
import { studioFeature } from '../state/studio.feature';

/** What is wrong with the open level before anybody walks, found beside the interface's thread after each edit. */
@Injectable()
export class Snags {
  private readonly keeper = inject(Keeper);
  private readonly level = inject(Store).selectSignal(studioFeature.selectLevel);
  private busy = false;
  private next: Level | null = null;

  /** Those of the level that was looked at last; null while none was. */
  readonly found = signal<Snag[] | null>(null);

  constructor() {
    effect(() => {
      const level = this.level();
      if (level !== null) untracked(() => void this.look(level));
    });
  }

  /** One at a time: of what was asked while it was busy, only the newest counts. */
  private async look(level: Level): Promise<void> {
    this.next = level;
    if (this.busy) return;
    this.busy = true;
    try {
      while (this.next !== null) {
        const asked: Level = this.next;
        this.next = null;
        const found = await this.keeper.snagsOf(asked);
        if (this.next === null) this.found.set(found);
      }
    } catch {
      // They are looked for again after the next edit.
    } finally {
      this.busy = false;
    }
  }
}
