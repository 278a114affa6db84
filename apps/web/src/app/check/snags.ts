import { Injectable, computed, effect, inject, signal, untracked } from '@angular/core';
import type { Finding, Level } from '@nettlewick/core';
import { Store } from '@ngrx/store';
import { Keeper } from '../saving/keeper';
import { studioFeature } from '../state/studio.feature';
import { painted } from '../studio/painted';

const nothing: readonly Finding[] = [];

/** What is wrong with the open level before anybody walks, found beside the interface's thread after each edit. */
@Injectable()
export class Snags {
  private readonly keeper = inject(Keeper);
  private readonly level = inject(Store).selectSignal(studioFeature.selectLevel);
  private busy = false;
  private next: Level | null = null;

  /** Those of the level that was looked at last; null while none was. */
  readonly found = signal<Finding[] | null>(null);

  /** How many of them are more than remarks. */
  readonly grave = computed(() => (this.found() ?? []).filter(({ weight }) => weight !== 'remark').length);

  /** Those that a thing is in, by its id: found once for all. */
  private readonly by = computed(() => {
    const by = new Map<string, Finding[]>();
    for (const finding of this.found() ?? [])
      for (const id of [finding.thing, ...finding.also]) {
        const known = by.get(id);
        if (known === undefined) by.set(id, [finding]);
        else known.push(finding);
      }
    return by;
  });

  about(id: string): readonly Finding[] {
    return this.by().get(id) ?? nothing;
  }

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
      // The level is seen first, and looked through then.
      if (this.found() === null) {
        await painted();
        await new Promise((resolve) => setTimeout(resolve));
      }
      while (this.next !== null) {
        const asked: Level = this.next;
        this.next = null;
        const found = await this.keeper.findingsOf(asked);
        if (this.next === null) this.found.set(found);
      }
    } catch {
      // They are looked for again after the next edit.
    } finally {
      this.busy = false;
    }
  }
}
