import { DestroyRef, Injectable, computed, effect, inject, signal, untracked } from '@angular/core';
import type { Level } from '@nettlewick/core';
import { Store } from '@ngrx/store';
import { studioFeature } from '../state/studio.feature';
import type { Aftermath, AftermathRoom } from '../workers/aftermath';
import { Mirrored } from '../workers/mirrored';
import { startAftermathRoom } from '../workers/start';
import type { Started } from '../workers/started';

/** So long the level has to rest before all walks are run again, in milliseconds. */
const REST = 350;

/** Runs all walks in the background after every edit, and says what the edit changed in what fires. */
@Injectable()
export class Aftermaths {
  private readonly level = inject(Store).selectSignal(studioFeature.selectLevel);
  private running: { room: Started<AftermathRoom>; mirror: Mirrored } | null = null;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private busy = false;
  private looked: Level | null = null;

  readonly found = signal<Aftermath | null>(null);
  /** How many expectations are not met, over all walks. */
  readonly unmet = computed(() => (this.found()?.unmet ?? []).reduce((sum, { count }) => sum + count, 0));

  constructor() {
    effect(() => {
      const level = this.level();
      if (level !== null) untracked(() => this.ask());
    });
    inject(DestroyRef).onDestroy(() => {
      clearTimeout(this.timer);
      this.running?.room.end();
    });
  }

  /** What was said has been read. */
  dismiss(): void {
    this.found.update((found) => (found === null ? null : { ...found, changes: [] }));
  }

  private ask(): void {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.look(), REST);
  }

  private async look(): Promise<void> {
    const level = this.level();
    if (this.busy || level === null || level === this.looked) return;
    if (level.walks.length === 0) {
      this.found.set(null);
      return;
    }
    this.busy = true;
    this.looked = level;
    try {
      this.running ??= this.begin();
      this.running.mirror.bring(level);
      const { room } = this.running;
      this.found.set(await Promise.race([room.remote.look(), room.ended]));
    } catch {
      this.running?.room.end();
      this.running = null;
    } finally {
      this.busy = false;
    }
    if (this.level() !== level) this.ask();
  }

  private begin(): { room: Started<AftermathRoom>; mirror: Mirrored } {
    const room = startAftermathRoom();
    return { room, mirror: new Mirrored(room.remote) };
  }
}
