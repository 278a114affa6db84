import type { Level } from '@nettlewick/core';
import type { Remote } from 'comlink';
import { Mirrored } from './mirrored';
import type { Copying } from './mirrored';
import type { Started } from './started';

/** A worker that has a copy of the open level and is asked about it; begun anew should it ever break. */
export class WorkerClient<T extends object> {
  private running: { started: Started<T>; mirror: Mirrored } | null = null;

  constructor(private readonly start: () => Started<T>) {}

  /** Asks something about a level; about null for what needs none. Rejects if the worker breaks: the next that asks begins anew. */
  async ask<R>(level: Level | null, what: (remote: Remote<T>) => Promise<R>): Promise<R> {
    const running = (this.running ??= this.begin());
    if (level !== null) running.mirror.bring(level);
    try {
      return await Promise.race([what(running.started.remote), running.started.ended]);
    } catch (error) {
      if (this.running === running) this.running = null;
      running.started.end();
      throw error;
    }
  }

  private begin(): { started: Started<T>; mirror: Mirrored } {
    const started = this.start();
    return { started, mirror: new Mirrored(started.remote as unknown as Copying) };
  }
}
