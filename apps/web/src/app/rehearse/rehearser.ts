import { DestroyRef, Injectable, computed, effect, inject, untracked } from '@angular/core';
import { patchState, signalStore, withState } from '@ngrx/signals';
import { Ledger } from '@nettlewick/core';
import type { Covered, Level, Matrix, Reason } from '@nettlewick/core';
import { Editor } from '../state/editor';
import { Mirrored } from '../workers/mirrored';
import type { AskedWhy, RehearsalView, RehearsalRoom, RehearsalSent } from '../workers/rehearsal';
import { startRehearsalRoom } from '../workers/start';
import type { Started } from '../workers/started';

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

interface Running {
  room: Started<RehearsalRoom>;
  mirror: Mirrored;
  /** Since when it has been busy, in milliseconds; null if it is not. */
  since: number | null;
}

/** A rehearsal that takes longer than this is given up when the level changes, in milliseconds. */
const PATIENCE = 1000;

/** Runs the chosen walk through the level in a worker, again whenever the level changes. Only the newest run counts. */
@Injectable()
export class Rehearser extends signalStore({ protectedState: false }, withState(nothingRehearsed)) {
  private readonly editor = inject(Editor);
  private running: Running | null = null;
  private next: { level: Level; walk: string } | null = null;

  /** What is looked at. */
  readonly result = computed(() => this.live() ?? this.other()?.rehearsal ?? this.ran());
  readonly walk = computed(() => {
    const { walks } = this.editor.level();
    return walks.find((one) => one.id === this.wanted()) ?? walks[0] ?? null;
  });

  constructor() {
    super();
    effect(() => {
      const level = this.editor.level();
      const walk = this.walk();
      untracked(() => this.lookAt(null));
      untracked(() => (walk === null ? patchState(this, { ran: null }) : this.request(level, walk.id)));
    });
    inject(DestroyRef).onDestroy(() => this.giveUp());
  }

  choose(walk: string): void {
    patchState(this, { other: null, wanted: walk });
  }

  /** Looks at another rehearsal in place of the walk's; null for the walk's again. */
  lookAt(other: Rehearsed['other']): void {
    patchState(this, { other });
  }

  /** What is walked live is looked at; null when nothing is any more. */
  walkLive(live: RehearsalView | null): void {
    patchState(this, { live });
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

  private async answered<T>(ask: (remote: Started<RehearsalRoom>['remote']) => Promise<T>): Promise<T | null> {
    const { running } = this;
    if (running === null) return null;
    try {
      running.mirror.bring(this.editor.level());
      return await Promise.race([ask(running.room.remote), running.room.ended]);
    } catch {
      return null;
    }
  }

  private request(level: Level, walk: string): void {
    performance.mark('nettlewick:rehearsal-asked');
    this.next = { level, walk };
    patchState(this, { busy: true });
    const since = this.running?.since ?? null;
    if (since !== null && performance.now() - since > PATIENCE) this.giveUp();
    if ((this.running?.since ?? null) === null) void this.run();
  }

  private giveUp(): void {
    this.running?.room.end();
    this.running = null;
  }

  private async run(): Promise<void> {
    const running = (this.running ??= this.begin());
    while (this.next !== null) {
      const { level, walk } = this.next;
      this.next = null;
      running.since = performance.now();
      const reply = await this.ask(running, level, walk);
      running.since = null;
      // It was given up meanwhile: another runs in its place.
      if (this.running !== running && this.running !== null) return;
      if (this.next !== null && this.running === running) continue;
      patchState(this, { busy: false, failure: reply.failure, ...(reply.rehearsal === null ? {} : { ran: reply.rehearsal }) });
      if (this.running !== running) return;
    }
  }

  private async ask(
    running: Running,
    level: Level,
    walk: string,
  ): Promise<{ rehearsal: RehearsalView; failure: null } | { rehearsal: null; failure: string }> {
    try {
      running.mirror.bring(level);
      const { columns, ...sent }: RehearsalSent = await Promise.race([running.room.remote.rehearse(walk), running.room.ended]);
      return { rehearsal: { ...sent, ledger: Ledger.of(columns) }, failure: null };
    } catch (error) {
      if (this.running === running) this.giveUp();
      return { rehearsal: null, failure: `RehearsalView failed: ${error instanceof Error ? error.message : String(error)}` };
    }
  }

  private begin(): Running {
    const room = startRehearsalRoom();
    return { room, mirror: new Mirrored(room.remote), since: null };
  }
}
