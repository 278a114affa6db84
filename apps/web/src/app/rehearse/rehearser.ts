import { DestroyRef, Injectable, computed, effect, inject, signal, untracked } from '@angular/core';
import type { Level, Rehearsed } from '@nettlewick/core';
import { Editor } from '../studio/editor';
import type { RehearsalTask } from './rehearsal.worker';
import { startWorker } from './start-worker';

type Reply = { task: number; rehearsal: Rehearsed } | { task: number; failure: string };

/** A rehearsal that takes longer than this is given up when the level changes, in milliseconds. */
const PATIENCE = 1000;

/** Runs the chosen walk through the level in a worker, again whenever the level changes. Only the newest run counts. */
@Injectable()
export class Rehearser {
  private readonly editor = inject(Editor);
  private worker: Worker | null = null;
  private running: { task: number; since: number } | null = null;
  private next: RehearsalTask | null = null;
  private tasks = 0;
  private readonly wanted = signal('');

  readonly result = signal<Rehearsed | null>(null);
  readonly failure = signal<string | null>(null);
  readonly busy = signal(false);
  readonly walk = computed(() => {
    const { walks } = this.editor.level();
    return walks.find((one) => one.id === this.wanted()) ?? walks[0] ?? null;
  });

  constructor() {
    effect(() => {
      const level = this.editor.level();
      const walk = this.walk();
      untracked(() => (walk === null ? this.result.set(null) : this.request(level, walk.id)));
    });
    inject(DestroyRef).onDestroy(() => this.worker?.terminate());
  }

  choose(walk: string): void {
    this.wanted.set(walk);
  }

  private request(level: Level, walk: string): void {
    performance.mark('nettlewick:rehearsal-asked');
    this.tasks += 1;
    this.next = { task: this.tasks, level, walk };
    this.busy.set(true);
    if (this.running !== null && performance.now() - this.running.since > PATIENCE) {
      this.worker?.terminate();
      this.worker = null;
      this.running = null;
    }
    if (this.running === null) this.send();
  }

  private send(): void {
    if (this.next === null) return;
    this.worker ??= this.start();
    this.running = { task: this.next.task, since: performance.now() };
    this.worker.postMessage(this.next);
    this.next = null;
  }

  private start(): Worker {
    const worker = startWorker();
    worker.addEventListener('message', ({ data }: MessageEvent<Reply>) => this.receive(data));
    worker.addEventListener('error', (event) => {
      event.preventDefault();
      this.worker = null;
      this.receive({ task: this.running?.task ?? 0, failure: `The rehearsal broke off: ${event.message}` });
    });
    return worker;
  }

  private receive(reply: Reply): void {
    if (this.running?.task !== reply.task) return;
    this.running = null;
    if (this.next !== null) {
      this.send();
      return;
    }
    this.busy.set(false);
    if ('rehearsal' in reply) this.result.set(reply.rehearsal);
    this.failure.set('failure' in reply ? reply.failure : null);
  }
}
