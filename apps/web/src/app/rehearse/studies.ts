import type { Remote } from 'comlink';
import { DestroyRef, Injectable, computed, inject } from '@angular/core';
import { patchState, signalState } from '@ngrx/signals';
import { Ledger } from '@nettlewick/core';
import type { Covered, Dependence, Level, OrderSafety, Remedy, Route, Since, SpreadRun, Spreading } from '@nettlewick/core';
import { failureText } from '../workers/api-client';
import { LevelsApi } from '../saving/levels-api';
import { LevelStore } from '../state/level-store';
import { Editor } from '../state/editor';
import type { RehearsalSent } from '../workers/rehearsal';
import type { WorkerClient } from '../workers/client';
import { workerFor } from '../workers/start';
import type { Compared, CompareInput, AnalysisWorker } from '../workers/study';
import { RehearsalStore } from './rehearsal-store';

/** What of a walk hangs on the house rules, as it was found last, with the level for which it holds. */
interface Safety {
  level: Level;
  walk: string;
  found: OrderSafety;
}

/** The number of workers that share a search. */
const POOL = Math.max(1, Math.min(4, (navigator.hardwareConcurrency || 2) - 1));
/** The number of runs sent to a worker at a time, so that progress is visible and the search can be stopped. */
const CHUNK = 50;

/** What goes beyond one rehearsal is asked of a small pool of workers, which are started when they are first needed. */
@Injectable()
export class AnalysisStore {
  private readonly state = signalState<{ safety: Safety | null }>({ safety: null });
  readonly safety = this.state.safety;
  private readonly editor = inject(Editor);
  private readonly rehearser = inject(RehearsalStore);
  private readonly api = inject(LevelsApi);
  private readonly store = inject(LevelStore);
  private readonly workers: WorkerClient<AnalysisWorker>[] = [];

  constructor() {
    inject(DestroyRef).onDestroy(() => this.end());
  }

  /** What the entries that are shown hang on, as far as that was looked for in this walk of the level as it is. */
  readonly hangs = computed<ReadonlyMap<number, Dependence>>(() => {
    const found = new Map<number, Dependence>();
    const safety = this.safety();
    const shown = this.rehearser.result();
    if (safety === null || shown !== this.rehearser.ran() || shown?.walk !== safety.walk || safety.level !== this.editor.level())
      return found;
    for (const one of safety.found.dependences) for (const number of one.entries) if (!found.has(number)) found.set(number, one);
    return found;
  });

  compare(one: CompareInput, other: CompareInput): Promise<Compared> {
    return this.ask(0, (remote) => remote.compare(one, other));
  }

  async findOrderSafety(walk: string): Promise<OrderSafety> {
    const level = this.editor.level();
    const found = await this.ask(0, (remote) => remote.orderSafety(walk));
    patchState(this.state, { safety: { level, walk, found } });
    return found;
  }

  /** Runs a spread, in pieces, on all workers. `progress` hears how many runs are done; false ends it, and what is there is given. */
  async spread(
    level: Level,
    walk: string,
    by: Spreading,
    runs: number,
    progress: (done: number) => boolean,
  ): Promise<SpreadRun[]> {
    const pieces = Array.from({ length: Math.ceil(runs / CHUNK) }, (_, piece) =>
      Array.from({ length: Math.min(CHUNK, runs - piece * CHUNK) }, (_, i) => piece * CHUNK + i),
    );
    const found: SpreadRun[][] = pieces.map(() => []);
    let next = 0;
    let done = 0;
    let goesOn = true;
    const work = async (worker: number): Promise<void> => {
      for (let piece = next++; goesOn && piece < pieces.length; piece = next++) {
        found[piece] = await this.ask(worker, (remote) => remote.spread(walk, by, pieces[piece]!), level);
        done += pieces[piece]!.length;
        goesOn = progress(done) && goesOn;
      }
    };
    await Promise.all(Array.from({ length: Math.min(POOL, pieces.length) }, (_, worker) => work(worker)));
    return found.flat();
  }

  remedies(level: Level, walk: string, by: Spreading, what: string, seeds: readonly number[]): Promise<Remedy[]> {
    return this.ask(0, (remote) => remote.remedies(walk, by, what, seeds), level);
  }

  over(walk: string, texts: readonly string[]): Promise<Since[][]> {
    return this.ask(0, (remote) => remote.over(walk, texts));
  }

  trying(gap: Pick<Covered, 'kind' | 'thing' | 'part' | 'cause'>): Promise<Route[] | null> {
    return this.ask(0, (remote) => remote.trying(gap));
  }

  oneOf(walk: string, by: Spreading, seed: number): Promise<RehearsalSent> {
    return this.ask(0, (remote) => remote.oneOf(walk, by, seed));
  }

  async explain(text: string): Promise<ReturnType<AnalysisWorker['explain']>> {
    return this.ask(0, async (remote) => await remote.explain(text));
  }

  /** Shows the rehearsal of a walk as it was in a revision of the level. */
  async showRevision(revision: number, walk: string): Promise<void> {
    const levelId = this.store.levelId() ?? '';
    const now = this.store.revision();
    // What is open is that revision: nothing else is to be shown.
    if (revision === now) return;
    const answer = await this.api.openRevision(levelId, revision);
    if (!answer.ok) {
      this.editor.say(`Could not show revision ${revision}: ${failureText(answer)}`);
      return;
    }
    try {
      const { columns, ...sent } = await this.ask(0, (remote) => remote.ofLevel(answer.value.level, walk));
      this.rehearser.lookAt({
        name: `as it was in revision ${revision}`,
        rehearsal: { ...sent, ledger: Ledger.of(columns) },
      });
    } catch (error) {
      this.editor.say(error instanceof Error ? error.message : String(error));
    }
  }

  /** Ends whatever is under way. */
  end(): void {
    for (const client of this.workers.splice(0)) client.end();
  }

  /** Asks a worker about a level: the one that is open, unless what was begun on another goes on. */
  private async ask<R>(
    at: number,
    question: (remote: Remote<AnalysisWorker>) => R | Promise<R>,
    level = this.editor.level(),
  ): Promise<Awaited<R>> {
    while (this.workers.length <= at) this.workers.push(workerFor('study'));
    return this.workers[at]!.ask(level, question);
  }
}
