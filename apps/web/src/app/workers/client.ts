import { wrap } from 'comlink';
import type { Remote } from 'comlink';
import type { Level } from '@nettlewick/core';
import { LevelReplicator } from './mirrored';
import type { ReplicaTarget } from './mirrored';

/** A worker broke, was ended, or lost step with the level: what was asked of it is never answered. */
export class WorkerGone extends Error {}

interface Running<T> {
  remote: Remote<T>;
  mirror: LevelReplicator;
  /** Rejects with a `WorkerGone` when the worker breaks or is ended. */
  gone: Promise<never>;
  end(why: string): void;
}

/**
 * A worker that has a copy of the open level and is asked about it. It is started by the first question, and started anew by the next
 * one after it broke or was ended. An error that a question throws in the worker rejects that question alone.
 */
export class WorkerClient<T extends object> {
  private running: Running<T> | null = null;

  constructor(private readonly start: () => Worker) {}

  /** Asks about a level, or, with null, about none. Rejects with what the question throws, or with a `WorkerGone`. */
  async ask<R>(level: Level | null, what: (remote: Remote<T>) => R | Promise<R>): Promise<Awaited<R>> {
    const running = (this.running ??= begin<T>(this.start()));
    const { remote, mirror, gone } = running;
    const brought = level === null ? null : mirror.bring(level).catch(outOfStep);
    // It is asked at once; if its copy could not follow, its answer is about no level.
    const answer = Promise.resolve(what(remote));
    answer.catch(() => undefined);
    try {
      await Promise.race([brought, gone]);
      return await Promise.race([answer, gone]);
    } catch (error) {
      if (error instanceof WorkerGone && this.running === running) this.end(error.message);
      throw error;
    }
  }

  /** Gives up what is under way: questions that are not answered yet reject with a `WorkerGone`. */
  end(why = 'It was ended.'): void {
    const { running } = this;
    this.running = null;
    running?.end(why);
  }
}

function outOfStep(error: unknown): never {
  throw new WorkerGone(`Its copy of the level could not follow: ${error instanceof Error ? error.message : String(error)}`);
}

function begin<T extends object>(worker: Worker): Running<T> {
  let leave: (why: WorkerGone) => void = () => undefined;
  const gone = new Promise<never>((_resolve, reject) => (leave = reject));
  // Those who asked hear of it; there may be none.
  gone.catch(() => undefined);
  worker.addEventListener('error', (event) => {
    event.preventDefault();
    leave(new WorkerGone(event.message));
  });
  const remote = wrap<T>(worker);
  const mirror = new LevelReplicator(remote as unknown as ReplicaTarget);
  const end = (why: string): void => {
    worker.terminate();
    leave(new WorkerGone(why));
  };
  return { remote, mirror, gone, end };
}
