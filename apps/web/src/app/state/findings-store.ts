import { Injectable, computed, effect, inject, untracked } from '@angular/core';
import { patchState, signalState } from '@ngrx/signals';
import type { Finding, Level } from '@nettlewick/core';
import { LevelStore } from './level-store';
import { nextPaint } from '../controls/painted';
import { workerFor } from '../workers/start';

const nothing: readonly Finding[] = [];

/** What is wrong with the open level before anybody walks, found beside the interface's thread after each edit. */
@Injectable()
export class FindingsStore {
  private readonly state = signalState<{ found: Finding[] | null }>({ found: null });
  /** Those of the level that was looked at last; null while none was. */
  readonly found = this.state.found;
  private readonly client = workerFor('checking');
  private readonly level = inject(LevelStore).level;

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

  /** Of what is asked while it looks, only the newest is answered. */
  private async look(level: Level): Promise<void> {
    try {
      // The level is seen first, and looked through then.
      if (this.found() === null) {
        await nextPaint();
        await new Promise((resolve) => setTimeout(resolve));
      }
      const found = await this.client.ask(level, (remote) => remote.findings());
      if (found !== null && level === this.level()) patchState(this.state, { found });
    } catch {
      // They are looked for again after the next edit.
    }
  }
}
