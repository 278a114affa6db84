import { Injectable, computed, effect, inject, untracked } from '@angular/core';
import { patchState, signalState } from '@ngrx/signals';
import { partedByAcceptance } from '@nettlewick/core';
import type { Finding, Level } from '@nettlewick/core';
import { LevelStore } from './level-store';
import { nextPaint } from '../controls/painted';
import { workerFor } from '../workers/start';

const nothing: readonly Finding[] = [];
/** The number of findings whose fixes are tried; more than Check lists. */
const MAX_TRIED = 600;

/** What is wrong with the open level before anybody walks, found beside the interface's thread after each edit. */
@Injectable()
export class FindingsStore {
  private readonly state = signalState<{ all: Finding[] | null; tried: number }>({ all: null, tried: 0 });
  private readonly client = workerFor('checking');
  private readonly trials = workerFor('proving');
  /** Counts the checks: what is found out for an older one is not taken, even if an undo has brought its level back. */
  private turn = 0;
  private readonly level = inject(LevelStore).level;

  private readonly parted = computed(() => {
    const [all, level] = [this.state.all(), this.level()];
    return all === null || level === null ? null : partedByAcceptance(level, all);
  });
  /** The findings that were not accepted; null until the level has been checked once. */
  readonly found = computed(() => this.parted()?.open ?? null);
  /** The accepted findings, each with its note. */
  readonly accepted = computed(() => this.parted()?.accepted ?? []);

  /** The findings whose fixes have been tried over the walks: only these fixes are offered. */
  private readonly tried = computed(() => new Set((this.state.all() ?? []).slice(0, this.state.tried())));

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

  /** Whether the fix of a finding has been tried over all walks. */
  isTried(finding: Finding): boolean {
    return this.tried().has(finding);
  }

  constructor() {
    effect(() => {
      const level = this.level();
      if (level !== null) untracked(() => void this.look(level));
    });
  }

  /** Of what is asked while it looks, only the newest is answered. */
  private async look(level: Level): Promise<void> {
    const turn = (this.turn += 1);
    try {
      // The level is seen first, and looked through then.
      if (this.state.all() === null) {
        await nextPaint();
        await new Promise((resolve) => setTimeout(resolve));
      }
      const all = await this.client.ask(level, (remote) => remote.findings());
      if (all === null || turn !== this.turn) return;
      patchState(this.state, { all, tried: 0 });
      await this.tryFixes(turn, level, all.slice(0, MAX_TRIED));
    } catch {
      // They are looked for again after the next edit.
    }
  }

  private async tryFixes(turn: number, level: Level, findings: readonly Finding[]): Promise<void> {
    if (findings.every(({ edit }) => edit === null)) return;
    await this.trials.ask(level, (remote) => remote.begin(findings));
    while (turn === this.turn) {
      const proven = await this.trials.ask(level, (remote) => remote.next());
      if (proven.length === 0 || turn !== this.turn) return;
      patchState(this.state, ({ all, tried }) => ({
        all: (all ?? []).toSpliced(tried, proven.length, ...proven),
        tried: tried + proven.length,
      }));
    }
  }
}
