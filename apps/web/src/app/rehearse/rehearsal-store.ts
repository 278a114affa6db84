import type { Remote } from 'comlink';
import { DestroyRef, Injectable, computed, effect, inject, untracked } from '@angular/core';
import { patchState, signalState } from '@ngrx/signals';
import { Ledger } from '@nettlewick/core';
import type { Covered, Level, Matrix, Reason } from '@nettlewick/core';
import { Editor } from '../state/editor';
import type { AskedWhy, RehearsalView, RehearsalWorker } from '../workers/rehearsal';
import { workerFor } from '../workers/start';

interface Rehearsed {
  /** The walk that was chosen; empty for the first. */
  wanted: string;
  /** The latest run of the walk. */
  ran: RehearsalView | null;
  /** What is walked live at the moment, which is looked at in its place. */
  live: RehearsalView | null;
  /** Another rehearsal that is looked at in its place, and what it is called: a try, a run of a spread. */
  other: { name: string; rehearsal: RehearsalView } | null;
  failure: string | null;
  busy: boolean;
}
const nothingRehearsed: Rehearsed = { wanted: '', ran: null, live: null, other: null, failure: null, busy: false };

/** A rehearsal that takes longer than this is cancelled when the level changes, in milliseconds. */
const GIVE_UP_MS = 1000;

/** Runs the chosen walk through the level in a worker, again whenever the level changes. Only the newest run counts. */
@Injectable()
export class RehearsalStore {
  private readonly state = signalState(nothingRehearsed);
  readonly wanted = this.state.wanted;
  readonly ran = this.state.ran;
  readonly live = this.state.live;
  readonly other = this.state.other;
  readonly failure = this.state.failure;
  readonly busy = this.state.busy;
  private readonly editor = inject(Editor);
  private readonly client = workerFor('rehearsal');
  /** Since when it has been busy, in milliseconds; null if it is not. */
  private since: number | null = null;
  private next: { level: Level; walk: string } | null = null;

  /** What is looked at. */
  readonly result = computed(() => this.live() ?? this.other()?.rehearsal ?? this.ran());
  readonly walk = computed(() => {
    const { walks } = this.editor.level();
    return walks.find((one) => one.id === this.wanted()) ?? walks[0] ?? null;
  });

  constructor() {
    effect(() => {
      const level = this.editor.level();
      const walk = this.walk();
      untracked(() => this.lookAt(null));
      untracked(() => (walk === null ? patchState(this.state, { ran: null }) : this.request(level, walk.id)));
    });
    inject(DestroyRef).onDestroy(() => this.client.end());
  }

  choose(walk: string): void {
    patchState(this.state, { other: null, wanted: walk });
  }

  /** Looks at another rehearsal in place of the walk's; null for the walk's again. */
  lookAt(other: Rehearsed['other']): void {
    patchState(this.state, { other });
  }

  /** What is walked live is looked at; null when nothing is any more. */
  walkLive(live: RehearsalView | null): void {
    patchState(this.state, { live });
  }

  /** Why nothing happened at something in the latest rehearsal, or what did; null if it cannot be told now. */
  why(asked: AskedWhy): Promise<Reason[] | null> {
    const walk = this.walk();
    return this.answered((remote) => (walk === null ? Promise.resolve(null) : remote.why(walk.id, asked)));
  }

  /** What sets off against what acts, and what was tried, over all walks or one, by anybody or one; null if it cannot be told now. */
  overview(walk = '', by = ''): Promise<{ matrix: Matrix; covered: Covered[] } | null> {
    return this.answered((remote) => remote.overview(walk, by));
  }

  private async answered<T>(ask: (remote: Remote<RehearsalWorker>) => Promise<T>): Promise<T | null> {
    try {
      return (await this.client.ask(this.editor.level(), ask)) as T;
    } catch {
      return null;
    }
  }

  private request(level: Level, walk: string): void {
    performance.mark('nettlewick:rehearsal-asked');
    this.next = { level, walk };
    patchState(this.state, { busy: true });
    if (this.since === null) void this.run();
    // What is given up rejects, and the newest runs in its place.
    else if (performance.now() - this.since > GIVE_UP_MS) this.client.end();
  }

  private async run(): Promise<void> {
    while (this.next !== null) {
      const { level, walk } = this.next;
      this.next = null;
      this.since = performance.now();
      const reply = await this.ask(level, walk);
      this.since = null;
      // Another was asked for meanwhile: only the newest counts.
      if (this.next !== null) continue;
      patchState(this.state, {
        busy: false,
        failure: reply.failure,
        ...(reply.rehearsal === null ? {} : { ran: reply.rehearsal }),
      });
    }
  }

  private async ask(
    level: Level,
    walk: string,
  ): Promise<{ rehearsal: RehearsalView; failure: null } | { rehearsal: null; failure: string }> {
    try {
      const { columns, ...sent } = await this.client.ask(level, (remote) => remote.rehearse(walk));
      return { rehearsal: { ...sent, ledger: Ledger.of(columns) }, failure: null };
    } catch (error) {
      return { rehearsal: null, failure: `Rehearsal failed: ${error instanceof Error ? error.message : String(error)}` };
    }
  }
}
